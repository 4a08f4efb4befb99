/** The clock's library greets in the console unless it is asked not to; this comes before it. */
Object.assign(window, { TONE_SILENCE_LOGGING: true })
export {}

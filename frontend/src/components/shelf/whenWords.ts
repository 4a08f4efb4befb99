const DAY = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short' })
const YEAR = new Intl.DateTimeFormat('en-GB', { month: 'short', year: 'numeric' })
const midnight = (date: Date) => new Date(date.getFullYear(), date.getMonth(), date.getDate()).getTime()

/** When something was, as one would say it: today, yesterday, 3 days ago, 12 Mar, Mar 2024. */
export function whenWords(stamp: string, now: Date = new Date()): string {
  const date = new Date(stamp)
  const days = Math.round((midnight(now) - midnight(date)) / 86_400_000)
  if (days <= 0) return 'today'
  if (days === 1) return 'yesterday'
  if (days < 7) return `${days} days ago`
  return days < 300 ? DAY.format(date) : YEAR.format(date)
}

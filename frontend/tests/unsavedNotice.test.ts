// @vitest-environment happy-dom
import { createApp, h, nextTick } from 'vue'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'

import { Refused } from '@/api/client'
import { reportAnswer } from '@/api/connection'
import UnsavedNotice from '@/components/UnsavedNotice.vue'
import { createChangeQueue, dismiss, failures } from '@/composables/changeQueue'

const full = new Refused({ title: 'No room', status: 507, detail: 'The disk is full.', remedy: 'Make room.' })

describe('the notice of what is not saved', () => {
  let app: ReturnType<typeof createApp>
  const place = document.createElement('div')
  const text = () => place.textContent.replace(/\s+/g, ' ')
  const button = (name: string) => [...place.querySelectorAll('button')].find((one) => one.textContent === name)!

  beforeEach(() => {
    app = createApp({ render: () => h(UnsavedNotice) })
    app.mount(place)
  })
  afterEach(() => {
    app.unmount()
    failures.value.forEach(dismiss)
    reportAnswer(true)
  })

  it('is not there when all is well', () => expect(place.querySelector('[role=alert]')).toBeNull())

  it('tells of an outage once, and goes with the next answer', async () => {
    reportAnswer(false)
    reportAnswer(false)
    await nextTick()
    expect(place.querySelectorAll('p')).toHaveLength(1)
    expect(text()).toContain('Nailhead is not responding. What you see may be out of date.')
    reportAnswer(true)
    await nextTick()
    expect(place.querySelector('[role=alert]')).toBeNull()
  })

  it('names what was not saved, why, and sends it again', async () => {
    const queue = createChangeQueue()
    const send = vi.fn().mockRejectedValueOnce(full).mockResolvedValue(1)
    await queue.add({ label: 'Bar 3 on rung 4', send, done: () => undefined })
    await nextTick()
    expect(text()).toContain('Not saved: Bar 3 on rung 4. The disk is full. Make room.')
    button('Try again').click()
    await queue.idle()
    await nextTick()
    expect(send).toHaveBeenCalledTimes(2)
    expect(place.querySelector('[role=alert]')).toBeNull()
  })

  it('counts a change that failed several times once', async () => {
    const queue = createChangeQueue()
    const away = new Refused({ title: 'No answer', status: 503, detail: 'Busy.' })
    await Promise.all([1, 2, 3].map(() => queue.add({ label: 'Bar 1 up a rung', send: () => Promise.reject(away), done: () => undefined })))
    await nextTick()
    expect(text()).toContain('Not saved: Bar 1 up a rung (3 times).')
    button('Dismiss').click()
    await nextTick()
    expect(place.querySelector('[role=alert]')).toBeNull()
  })
})

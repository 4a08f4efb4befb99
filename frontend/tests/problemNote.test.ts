// @vitest-environment happy-dom
import { createApp, h, nextTick } from 'vue'
import { afterEach, expect, it } from 'vitest'

import { reportAnswer } from '@/api/connection'
import { UNREACHABLE } from '@/api/server'
import ProblemNote from '@/components/ProblemNote.vue'

afterEach(() => reportAnswer(true))

it('leaves an outage to the one notice, and says afterwards what was not done', async () => {
  reportAnswer(false)
  const place = document.createElement('div')
  const app = createApp({ render: () => h(ProblemNote, { problem: UNREACHABLE }) })
  app.mount(place)
  expect(place.querySelector('[role=alert]')).toBeNull()
  reportAnswer(true)
  await nextTick()
  expect(place.textContent).toContain('This was not done')
  app.unmount()
})

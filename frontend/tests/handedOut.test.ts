// @vitest-environment happy-dom
import { createApp, h, nextTick, reactive } from 'vue'
import { afterEach, describe, expect, it, vi } from 'vitest'

import HandedOutNote from '@/components/ladder/HandedOutNote.vue'
import { barWords, changeWords } from '@/components/ladder/changeWords'

describe('the note of what was handed out', () => {
  const place = document.createElement('div')
  const heard = { onKeep: vi.fn(), onRenew: vi.fn(), onShow: vi.fn() }
  let app: ReturnType<typeof createApp>
  const text = () => place.textContent.replace(/\s+/g, ' ')
  const press = async (name: string) => {
    const found = [...place.querySelectorAll('button')].find((one) => one.textContent.trim() === name)
    expect(found, name).toBeDefined()
    found!.click()
    await nextTick()
  }
  async function open(places: number[], numbers: number[], at: number) {
    const props = reactive({ handed: { date: '2026-11-28', how: 'PDF', places, numbers }, place: at })
    app = createApp({ render: () => h(HandedOutNote, { ...props, ...heard }) })
    app.mount(place)
    place.querySelector('button')!.click()
    await nextTick()
  }
  afterEach(() => {
    app.unmount()
    Object.values(heard).forEach((one) => one.mockReset())
  })

  it('names the bars, the day and how, and offers both for all of them', async () => {
    await open([2, 6], [2, 6], 0)
    expect(text()).toContain('Bars 2, 6 stay as handed out on')
    expect(text()).toContain('(PDF)')
    await press('Keep all')
    await press('Use all new bars')
    await press('Bar 6')
    expect(heard.onKeep).toHaveBeenCalledWith([2, 6])
    expect(heard.onRenew).toHaveBeenCalledWith([2, 6])
    expect(heard.onShow).toHaveBeenCalledWith(6)
  })

  it('offers both for the bar that is selected', async () => {
    await open([2, 6], [2, 6], 6)
    await press('Keep bar 6')
    await press('Use the new bar 6')
    expect(heard.onKeep).toHaveBeenCalledWith([6])
    expect(heard.onRenew).toHaveBeenCalledWith([6])
  })

  it('speaks of one bar as one', async () => {
    await open([2], [2], 2)
    expect(text()).toContain('Bar 2 stays as handed out on')
    await press('Keep it')
    await press('Use the new bar')
    expect(heard.onRenew).toHaveBeenCalledWith([2])
  })
})

describe('a change in words', () => {
  const frames = [0, 1, 2, 3].map((place) => ({ place, number: place })) as never
  it('names bars, stretches and the pickup', () => {
    expect([barWords([0]), barWords([4]), barWords([4, 3, 5]), barWords([1, 5])]).toEqual(['Pickup', 'Bar 4', 'Bars 3 to 5', 'Bars 1, 5'])
    expect(changeWords({ do: 'raise', places: [2], by: -1, second: false }, frames)).toBe('Bar 2 down a rung')
    expect(changeWords({ do: 'undo' }, frames)).toBe('Undo')
    expect(changeWords({ do: 'pattern', place: 3, rung: 2, pattern: 'x' }, frames)).toBe('Change in bar 3')
  })
})

import { describe, expect, it } from 'vitest'

import { whenWords } from '@/components/shelf/whenWords'
import { lengthWords, pullWords } from '@/composables/units'

describe('when a tune was worked on', () => {
  const now = new Date(2026, 2, 12, 9, 30)
  const at = (...parts: [number, number, number, number]) => whenWords(new Date(...parts).toISOString(), now)

  it('counts days by midnights, not by hours', () => {
    expect(at(2026, 2, 12, 0)).toBe('today')
    expect(at(2026, 2, 11, 23)).toBe('yesterday')
    expect(at(2026, 2, 6, 12)).toBe('6 days ago')
  })
  it('names the day within a year, then the month', () => {
    expect(at(2026, 0, 3, 8)).toBe('3 Jan')
    expect(at(2024, 6, 3, 8)).toBe('Jul 2024')
  })
  it('takes a clock that runs ahead for today', () => expect(at(2026, 2, 13, 1)).toBe('today'))
})

describe('units', () => {
  it('leaves metric figures as they come', () => {
    expect(lengthWords(667.4, 'metric')).toBe('667 mm')
    expect(pullWords(61.2, undefined)).toBe('61.2 N')
  })
  // 1 in is 25.4 mm and 1 lbf is 4.4482216 N by definition (ISO 80000-4).
  it('turns them into inches and pounds', () => {
    expect(lengthWords(647.7, 'imperial')).toBe('25.5 in')
    expect(pullWords(44.482216, 'imperial')).toBe('10.0 lb')
  })
})

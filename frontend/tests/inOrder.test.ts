import { describe, expect, it } from 'vitest'

import { useInOrder } from '@/composables/useInOrder'

const pause = () => new Promise((resolve) => setTimeout(resolve, 1))

describe('works in order', () => {
  it('begins each when the one before has ended', async () => {
    const inOrder = useInOrder()
    const seen: string[] = []
    const work = (name: string) => async () => {
      seen.push(`${name} begins`)
      await pause()
      seen.push(`${name} ends`)
      return name
    }
    expect(await Promise.all([inOrder(work('a')), inOrder(work('b'))])).toEqual(['a', 'b'])
    expect(seen).toEqual(['a begins', 'a ends', 'b begins', 'b ends'])
  })

  it('goes on behind one that failed, and tells only whoever asked for that', async () => {
    const inOrder = useInOrder()
    const failed = inOrder(() => Promise.reject(new TypeError('cut short')))
    const after = inOrder(() => Promise.resolve('done'))
    await expect(failed).rejects.toThrow('cut short')
    expect(await after).toBe('done')
  })
})

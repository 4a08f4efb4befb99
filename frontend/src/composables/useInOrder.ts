/** Begins a work when the ones before it have ended. */
export type InOrder = <T>(work: () => Promise<T>) => Promise<T>

/**
 * Works done one after the other, each beginning when the one before has ended. One that fails tells whoever asked for
 * it and holds up nothing that comes behind.
 */
export function useInOrder(): InOrder {
  let last: Promise<unknown> = Promise.resolve()
  return function inOrder(work) {
    const done = last.then(work)
    last = done.catch(() => undefined)
    return done
  }
}

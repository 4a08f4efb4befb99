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

const orders = new Map<number, InOrder>()

/** The one order of an arrangement's works, for every view of it: the sheet that is opened behind a change shows it. */
export function useArrangementOrder(setupId: () => number): InOrder {
  return (work) => {
    const id = setupId()
    if (!orders.has(id)) orders.set(id, useInOrder())
    return orders.get(id)!(work)
  }
}

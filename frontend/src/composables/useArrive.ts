import { useEventListener } from '@vueuse/core'
import { onMounted, ref, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'

import { useBringIn } from './useBringIn'

/** What came in and needs a look before it is kept: handed on to the place where a file is looked into. */
const handed = shallowRef<File | string | null>(null)

/** Gives what was handed on, now or later, to who looks into it. */
export function useHanded(take: (source: File | string) => void) {
  const give = () => {
    const source = handed.value
    handed.value = null
    if (source) take(source)
  }
  onMounted(() => {
    give()
    watch(handed, give)
  })
}

const FIELD = 'input, textarea, select, [contenteditable]'
const LOOKED_INTO = /\.(json|musicxml|xml|mxl|mid|midi)$/i

/**
 * A tune that is pasted or dropped anywhere on the page: a single one that can be read goes on the shelf and straight
 * to its setup; a book, a file that leaves something open, or one that cannot be read, is looked into first.
 */
export function useArrive() {
  const router = useRouter()
  const bench = useBringIn()
  const reading = ref(false)
  const over = ref(false)

  const lookInto = (source: File | string) => {
    handed.value = source
    return router.push({ name: 'bring-in' })
  }

  async function arrive(source: File | string) {
    if (reading.value) return
    if (typeof source !== 'string' && LOOKED_INTO.test(source.name)) return lookInto(source)
    reading.value = true
    try {
      await bench.open(source)
      const one = bench.tunes.value.length === 1 ? bench.readable.value[0] : undefined
      if (!one || one.on_shelf) return await lookInto(source)
      const done = await bench.bringIn()
      const id = done?.added[0]?.id
      return id === undefined ? await lookInto(source) : await router.push({ name: 'setup', params: { tuneId: id } })
    } finally {
      reading.value = false
    }
  }

  /** What is on the clipboard, where the browser lets it be read; else the place where it can be pasted by hand. */
  async function paste() {
    const text = await navigator.clipboard?.readText().catch(() => '')
    await (text?.trim() ? arrive(text) : lookInto(''))
  }

  useEventListener(window, 'paste', (event: ClipboardEvent) => {
    if (event.target instanceof Element && event.target.closest(FIELD)) return
    const file = event.clipboardData?.files[0]
    const text = event.clipboardData?.getData('text/plain').trim()
    if (file ?? text) void arrive(file ?? text!)
  })
  useEventListener(window, 'dragover', (event: DragEvent) => {
    event.preventDefault()
    over.value = true
  })
  useEventListener(window, 'dragleave', (event: DragEvent) => {
    if (!event.relatedTarget) over.value = false
  })
  useEventListener(window, 'drop', (event: DragEvent) => {
    event.preventDefault()
    over.value = false
    const source = event.dataTransfer?.files[0] ?? event.dataTransfer?.getData('text/plain').trim()
    if (source) void arrive(source)
  })

  return { reading, over, problem: bench.problem, paste, arrive }
}

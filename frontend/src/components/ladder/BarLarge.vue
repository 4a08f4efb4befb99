<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'

import type { Cell, CellDetail, Ladder } from '@/api/client'
import TabMarks from '../TabMarks.vue'

/**
 * The selected bar large. A place in it is picked by mouse or arrows; a typed number is a fret there. Until its notes have
 * come one by one, it is what the ladder has of it, and nothing can be picked.
 */
const props = defineProps<{
  detail: CellDetail | null
  /** The bar on the ladder, and how wide it is there. */
  cell: Cell | undefined
  width: number
  ladder: Ladder
  picked: { onset: string; string: number } | null
}>()
const emit = defineEmits<{
  pick: [onset: string, string: number]
  fret: [onset: string, string: number, fret: number]
  erase: [onset: string, string: number]
  leave: []
}>()

const ROOM = 306
const TWO_DIGITS_MS = 700
const wide = computed(() => props.detail?.width ?? props.width)
const scale = computed(() => Math.min(6.5, ROOM / wide.value))
const gap = computed(() => props.detail?.gap ?? 0)
const y = (string: number) => (string - 1) * gap.value
/** Every moment at which something begins or could. */
const moments = computed(() => {
  if (!props.detail) return []
  const known = new Map(props.detail.moments.map((one) => [one.onset, one.x]))
  for (const note of props.detail.notes) known.set(note.onset, note.x)
  return [...known].map(([onset, x]) => ({ onset, x })).sort((one, other) => one.x - other.x)
})
const cursor = computed(() => {
  const at = moments.value.find((one) => one.onset === props.picked?.onset)
  return at && props.picked ? { x: at.x, y: y(props.picked.string) } : null
})

const typed = ref({ digits: '', at: 0 })

const STEPS: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }
const edits = (name: string) => name in STEPS || /^(\d|Delete|Backspace)$/.test(name)

/** Keys that came before the notes: they are for this bar, and wait for it. */
let early: KeyboardEvent[] = []
watch(() => props.detail, async (there) => {
  if (!there) return
  for (const event of early.splice(0)) {
    edit(event)
    await nextTick()
  }
})

function key(event: KeyboardEvent) {
  if (event.key === 'Escape') emit('leave')
  else if (!edits(event.key)) return
  else if (props.detail) edit(event)
  else early.push(event)
  event.preventDefault()
  event.stopPropagation()
}

function edit(event: KeyboardEvent) {
  const list = moments.value
  if (!props.detail || !list.length) return
  const now = props.picked ?? { onset: list[0]!.onset, string: 1 }
  const at = list.findIndex((one) => one.onset === now.onset)
  const step = STEPS[event.key]
  if (step) {
    const next = list[Math.max(0, Math.min(list.length - 1, at + step[0]))]!
    emit('pick', next.onset, Math.max(1, Math.min(props.detail.strings, now.string + step[1])))
  } else if (/^\d$/.test(event.key)) {
    const soon = event.timeStamp - typed.value.at < TWO_DIGITS_MS
    typed.value = { digits: (soon ? typed.value.digits : '') + event.key, at: event.timeStamp }
    emit('fret', now.onset, now.string, Number(typed.value.digits))
  } else emit('erase', now.onset, now.string)
}
</script>

<template>
  <div
    class="large"
    tabindex="0"
    role="group"
    data-own-keys
    data-bar-editor
    aria-label="The bar note by note. Arrows move, a number sets the fret, Delete takes a note out, Escape goes back."
    :aria-busy="!detail"
    @keydown="key"
    @blur="early = []"
  >
    <svg
      :viewBox="`0 ${-ladder.cell_top} ${wide} ${ladder.cell_height}`"
      :width="wide * scale"
      :height="ladder.cell_height * scale"
      aria-hidden="true"
    >
      <TabMarks :marks="(detail ?? cell)?.marks ?? []" />
      <rect v-if="cursor" class="cursor" :x="cursor.x - 2" :y="cursor.y - 1.25" width="4" height="2.5" />
      <template v-for="moment in moments" :key="moment.onset">
        <rect
          v-for="string in detail?.strings ?? 0"
          :key="string"
          class="spot"
          :x="moment.x - 1.9"
          :y="y(string) - gap / 2"
          width="3.8"
          :height="gap"
          @click="emit('pick', moment.onset, string)"
        />
      </template>
    </svg>
  </div>
</template>

<style scoped>
.large {
  border: 1px solid var(--hairline);
  padding: 0.2rem 0;
  display: flex;
  justify-content: center;
  overflow-x: auto;
}
svg {
  display: block;
  overflow: visible;
}
.spot {
  fill: transparent;
  cursor: pointer;
}
.spot:hover {
  fill: color-mix(in srgb, var(--spruce) 14%, transparent);
}
.cursor {
  fill: none;
  stroke: var(--ink);
  stroke-width: 0.3;
}
</style>

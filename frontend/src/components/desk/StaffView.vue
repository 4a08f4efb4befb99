<script setup lang="ts">
import { useElementSize, watchDebounced } from '@vueuse/core'
import abcjs, { type TuneObject } from 'abcjs'
import { onMounted, ref, watch } from 'vue'

import type { CoreNote } from '@/api/client'
import { inkNotes } from './coreInk'

/** The tune on a staff, drawn as it is typed; the note at the cursor stands out, a click on one tells its place. */
const props = withDefaults(
  defineProps<{ text: string; marked: [number, number] | null; label: string; core?: CoreNote[] }>(),
  { core: () => [] },
)
const emit = defineEmits<{ pick: [start: number, end: number] }>()

const FORMAT = {
  titlefont: 'Zilla Slab 17',
  subtitlefont: 'Zilla Slab 13',
  composerfont: 'Atkinson Hyperlegible 12',
  infofont: 'Atkinson Hyperlegible 12',
  tempofont: 'Atkinson Hyperlegible 12',
  partsfont: 'Zilla Slab 14 bold',
  gchordfont: 'Atkinson Hyperlegible 13 bold',
  annotationfont: 'Atkinson Hyperlegible 11',
  repeatfont: 'Atkinson Hyperlegible 11',
  vocalfont: 'Atkinson Hyperlegible 12',
  tripletfont: 'Atkinson Hyperlegible 11',
}

const place = ref<HTMLElement | null>(null)
// The outer box is measured: the drawing sets the size of the inner one.
const room = ref<HTMLElement | null>(null)
const { width } = useElementSize(room)
// What the header says stands above the staff already; as a comment it is as long and is not drawn.
const headless = (text: string) => text.replace(/^[TRCOSNZBDHF]:/gm, '%:')
let drawn: TuneObject | undefined

function draw() {
  if (!place.value || width.value < 50) return
  ;[drawn] = abcjs.renderAbc(place.value, headless(props.text), {
    staffwidth: width.value - 26,
    scale: 0.88,
    paddingtop: 6,
    paddingbottom: 6,
    paddingleft: 12,
    paddingright: 12,
    add_classes: true,
    selectionColor: '#966a10',
    ariaLabel: 'Notes',
    format: FORMAT,
    clickListener: ({ startChar = -1, endChar = -1 }) => {
      if (startChar >= 0) emit('pick', startChar, endChar)
    },
  })
  mark()
  inkNotes(drawn, props.core)
}

function mark() {
  const engraver = drawn?.engraver as { rangeHighlight?: (start: number, end: number) => void } | undefined
  const [start, end] = props.marked ?? [-1, -1]
  engraver?.rangeHighlight?.(start, Math.max(end, start + 1))
}

onMounted(draw)
watchDebounced([() => props.text, width], draw, { debounce: 40 })
watch(() => props.marked, mark)
watch(() => props.core, () => inkNotes(drawn, props.core))
</script>

<template>
  <div ref="room" class="staff" tabindex="0" role="region" :aria-label="label">
    <div ref="place"></div>
  </div>
</template>

<style scoped>
.staff {
  background: var(--panel);
  border: 1px solid var(--hairline);
  overflow: auto;
  min-height: 0;
}
.staff :deep(.ink-bones) {
  stroke-width: 0.9px;
  stroke: currentColor;
}
.staff :deep(.ink-pairs) {
  opacity: 0.55;
}
.staff :deep(.ink-full) {
  opacity: 0.3;
}
.staff :deep(.ink-decided) {
  color: var(--madder);
}
</style>

<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import type { TabLine } from '@/api/types'

/** The tab line by line: bars to choose, what is chosen, and a cursor that moves with the sound. */
const props = defineProps<{
  lines: TabLine[]
  marked: Map<number, [number, number]>
  heard: { bar: number; time: number; silent: boolean } | null
  anchor: number
  veil: 'all' | 'rhythm' | 'hidden'
  pickable: boolean
}>()
const emit = defineEmits<{ pick: [bar: number, extend: boolean] }>()
const scroller = ref<HTMLElement | null>(null)

type Placed = TabLine['bars'][number]

/** Where a moment of a bar stands (mm), between the known ones in proportion. */
function placeOf(bar: Placed, time: number): number {
  const moments = bar.moments as [number, number][]
  const after = moments.findIndex(([at]) => at > time)
  if (after < 0) return bar.x + bar.width
  if (after === 0) return moments[0]![1]
  const [before, next] = [moments[after - 1]!, moments[after]!]
  return before[1] + ((time - before[0]) / (next[0] - before[0])) * (next[1] - before[1])
}

const lineOf = (bar: number) => props.lines.findIndex((line) => line.bars.some((one) => one.bar === bar))
const barOf = (line: TabLine, bar: number) => line.bars.find((one) => one.bar === bar)

/** The stretches of a line that are chosen. */
function chosen(line: TabLine) {
  return line.bars.flatMap((bar) => {
    const span = props.marked.get(bar.bar)
    if (!span) return []
    const from = span[0] ? placeOf(bar, span[0]) - 1.5 : bar.x
    const end = bar.moments[bar.moments.length - 1]![0]
    const to = span[1] < end ? placeOf(bar, span[1]) - 1.5 : bar.x + bar.width
    return [{ x: from, width: to - from }]
  })
}

const cursor = computed(() => {
  if (!props.heard) return null
  const line = lineOf(props.heard.bar)
  const bar = line >= 0 ? barOf(props.lines[line]!, props.heard.bar) : undefined
  return bar ? { line, x: placeOf(bar, props.heard.time) } : null
})

function show(line: number) {
  const box = scroller.value?.children[line]
  if (scroller.value && box instanceof HTMLElement) scroller.value.scrollTo({ top: box.offsetTop - scroller.value.offsetTop - 6 })
}
watch(() => cursor.value?.line, (line) => line !== undefined && show(line))
watch(() => props.anchor, (bar) => !props.heard && show(lineOf(bar)))
watch(() => props.lines, () => scroller.value?.scrollTo({ top: 0 }))
</script>

<template>
  <div ref="scroller" class="lines" :class="[veil, { waiting: heard?.silent }]" tabindex="0" role="region" aria-label="Tab">
    <div v-for="(line, at) in lines" :key="at" class="line" :style="{ aspectRatio: `${line.width} / ${line.height}` }">
      <svg class="under" :viewBox="`0 0 ${line.width} ${line.height}`" aria-hidden="true">
        <rect v-for="part in chosen(line)" :key="part.x" class="chosen" :x="part.x" :y="line.top - 4" :width="part.width" :height="line.bottom - line.top + 8" />
        <rect v-if="cursor?.line === at" class="cursor" :x="cursor.x - 1.6" width="3.2" :y="line.top - 6" :height="line.bottom - line.top + 16" rx="0.6" />
      </svg>
      <!-- eslint-disable-next-line vue/no-v-html -- drawn by our own server, every text in it escaped -->
      <div class="tab" v-html="line.svg"></div>
      <svg class="over" :viewBox="`0 0 ${line.width} ${line.height}`" aria-hidden="true">
        <template v-if="pickable">
          <rect
            v-for="bar in line.bars"
            :key="bar.bar"
            class="bar"
            :data-bar="bar.bar"
            :x="bar.x"
            :y="line.top - 6"
            :width="bar.width"
            :height="line.bottom - line.top + 16"
            @click="emit('pick', bar.bar, $event.shiftKey)"
          />
        </template>
      </svg>
    </div>
  </div>
</template>

<style scoped>
.lines {
  overflow-y: auto;
  background: var(--panel);
  border: 1px solid var(--hairline);
  padding: 0.4rem 0.9rem 2rem;
  flex: 1;
  min-height: 0;
}
.lines:focus-visible {
  outline: 1px solid var(--spruce);
  outline-offset: -1px;
}
/* What is out of sight is laid out when it comes into sight; its height is known. */
.line {
  position: relative;
  content-visibility: auto;
}
.line svg {
  display: block;
  width: 100%;
  height: auto;
}
.tab :deep(svg) {
  display: block;
  width: 100%;
  height: auto;
  position: relative;
}
.under,
.over {
  position: absolute;
  inset: 0;
}
.chosen {
  fill: var(--spruce-wash);
}
.bar {
  fill: transparent;
  cursor: pointer;
}
.bar:hover {
  fill: color-mix(in srgb, var(--spruce) 8%, transparent);
}
.cursor {
  fill: var(--cursor);
}
.rhythm .tab :deep(.notes),
.hidden .tab {
  visibility: hidden;
}
.waiting .cursor {
  fill: none;
  stroke: var(--spruce);
  stroke-width: 0.5;
}
@media print {
  .lines {
    display: none;
  }
}
</style>

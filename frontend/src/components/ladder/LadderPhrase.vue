<script setup lang="ts">
import { useIntersectionObserver } from '@vueuse/core'
import { computed, onBeforeUnmount, ref } from 'vue'

import type { BarFrame, Beside, Cell, Ladder, PathState, Phrase, Problem } from '@/api/client'
import TabMarks from '../TabMarks.vue'

/** One phrase: its bars side by side, its rungs above one another, the highest on top. */
const props = defineProps<{
  phrase: Phrase
  ladder: Ladder
  /** Pixels for a millimetre. */
  scale: number
  path: PathState
  second: boolean
  marked: boolean
  place: number
  rung: number
  stretch: number[]
  /** Places of the bars that move with the selected one. */
  together: number[]
  heard: number | null
  /** Why its notes did not come. */
  problem: Problem | null
  /** What another arrangement plays here. */
  beside: Beside | null
}>()
const emit = defineEmits<{
  select: [place: number, rung: number, extend: boolean]
  take: [place: number, rung: number]
  sight: [there: boolean]
  again: []
}>()

const frame = ref<HTMLElement | null>(null)
useIntersectionObserver(frame, ([entry]) => entry && emit('sight', entry.isIntersecting), { rootMargin: '400px' })
onBeforeUnmount(() => emit('sight', false))

const rungs = computed(() => [...props.ladder.rungs].reverse())
const grid = computed(() => ({ gridTemplateColumns: `6.3rem repeat(${props.phrase.bars.length}, max-content)` }))
const px = (mm: number) => `${mm * props.scale}px`
const onPath = (bar: BarFrame) => (props.second ? props.path.second : props.path.rungs)[bar.place]
const cellOf = (at: number, rung: number): Cell | undefined => props.phrase.columns?.[at]?.cells[rung - 1]
/** Radius of the halo behind a note that the rung below does not have, in mm. */
const HALO = 2.35

function label(bar: BarFrame, rung: number) {
  const cell = props.path.kept.find((one) => one.place === bar.place && one.rung === rung)
  const kept = cell ? `, ${cell.kind}` : ''
  return `Bar ${bar.number}, rung ${rung}, grade ${bar.grades[rung - 1]}${kept}`
}

function drag(event: PointerEvent, bar: BarFrame, rung: number) {
  if (event.buttons === 1) emit('select', bar.place, rung, true)
}
</script>

<template>
  <div ref="frame" class="phrase">
    <div class="row head" :style="grid">
      <span></span>
      <div v-for="(bar, at) in phrase.bars" :key="bar.place" class="bar-head" :class="{ heard: heard === bar.place }" :style="{ width: px(bar.width) }">
        <span v-if="bar.part" class="part">{{ bar.part }}</span>
        <span class="number" title="Bars with the same letter are equal">
          {{ bar.number }} <span class="letter">{{ bar.letter }}</span>
          <span v-if="path.locked.includes(bar.place)" class="state">locked</span>
          <span v-if="path.split.includes(bar.place)" class="state">alone</span>
        </span>
        <span v-if="bar.endings.length" class="ending">{{ bar.endings.join(', ') }}.</span>
        <svg
          :viewBox="`0 ${-ladder.head_height} ${bar.width} ${ladder.head_height - 3.4}`"
          :width="px(bar.width)"
          :height="px(ladder.head_height - 3.4)"
          aria-hidden="true"
        >
          <TabMarks v-if="phrase.columns" :marks="phrase.columns[at]!.head" />
        </svg>
      </div>
    </div>
    <p v-if="problem" class="trouble" role="alert">
      These bars did not come: {{ problem.detail }}
      <button type="button" class="word-button link" @click="emit('again')">Ask again</button>
    </p>
    <div v-for="one in rungs" :key="one.number" class="row" :style="grid">
      <div class="rung-name">
        <span><span class="rung-number">{{ one.number }}</span> {{ one.name }}</span>
        <span class="plays" :title="one.plays">{{ one.plays }}</span>
      </div>
      <button
        v-for="(bar, at) in phrase.bars"
        :key="bar.place"
        type="button"
        data-cell
        class="cell"
        :class="{
          'on-path': onPath(bar) === one.number,
          selected: place === bar.place && rung === one.number,
          stretched: stretch.length > 1 && stretch.includes(bar.place),
          together: rung === one.number && place !== bar.place && together.includes(bar.place),
        }"
        :data-place="bar.place"
        :data-rung="one.number"
        :tabindex="place === bar.place && rung === one.number ? 0 : -1"
        :aria-pressed="onPath(bar) === one.number"
        :aria-label="label(bar, one.number)"
        :style="{ width: px(bar.width), height: px(ladder.cell_height) }"
        @pointerdown="emit('select', bar.place, one.number, $event.shiftKey)"
        @pointerenter="drag($event, bar, one.number)"
        @dblclick="emit('take', bar.place, one.number)"
      >
        <svg
          v-if="cellOf(at, one.number)"
          :viewBox="`0 ${-ladder.cell_top} ${bar.width} ${ladder.cell_height}`"
          :width="px(bar.width)"
          :height="px(ladder.cell_height)"
          aria-hidden="true"
        >
          <template v-if="marked">
            <circle v-for="([x, y], n) in cellOf(at, one.number)!.fresh" :key="n" class="halo" :cx="x" :cy="y" :r="HALO" />
          </template>
          <TabMarks :marks="cellOf(at, one.number)!.marks" />
        </svg>
        <span v-if="cellOf(at, one.number)?.kept" class="flag" :class="cellOf(at, one.number)!.kept.split(' ')" :title="cellOf(at, one.number)!.said || cellOf(at, one.number)!.kept"></span>
        <span class="grade">{{ bar.grades[one.number - 1] }}</span>
      </button>
    </div>
    <div v-if="beside" class="row beside" :style="grid">
      <div class="rung-name"><span><span class="rung-number">beside</span> {{ beside.name }}</span></div>
      <div v-for="(one, at) in beside.cells" :key="one.place" class="cell" :style="{ width: px(phrase.bars[at]!.width) }">
        <span class="on-rung">rung {{ one.rung }}, grade {{ one.grade }}</span>
        <svg :viewBox="`0 ${-beside.top} ${phrase.bars[at]!.width} ${beside.height}`" :width="px(phrase.bars[at]!.width)" :height="px(beside.height)" role="img" :aria-label="`Bar ${phrase.bars[at]!.number} on rung ${one.rung} beside`">
          <TabMarks :marks="one.marks" />
        </svg>
      </div>
    </div>
  </div>
</template>

<style scoped>
.trouble {
  color: var(--madder);
  font-size: 0.9rem;
  margin: 0.2rem 0;
  padding-left: 0.75rem;
}
.phrase {
  background: var(--panel);
  border: 1px solid var(--hairline);
  padding: 0.25rem 0.6rem 0.15rem 0;
  width: max-content;
  min-width: 100%;
  user-select: none;
}
.row {
  display: grid;
  align-items: stretch;
}
.beside {
  border-top: 1px dashed var(--ink-soft);
}
.bar-head {
  position: relative;
  display: flex;
  flex-direction: column;
}
.bar-head.heard {
  box-shadow: inset 0 3px 0 var(--dusk);
}
.number,
.part,
.ending {
  position: absolute;
  top: 0;
  font-size: 0.75rem;
  color: var(--ink-soft);
}
.number {
  left: 2px;
}
.letter {
  font-family: var(--title-face);
  font-style: italic;
}
.state {
  color: var(--ink);
  border-bottom: 1px solid var(--ink);
  margin-left: 0.2rem;
  line-height: 1;
}
.part {
  left: -1.3rem;
  top: -0.2rem;
  font-family: var(--title-face);
  font-weight: 600;
  font-size: 1.2rem;
  color: var(--ink);
}
.ending {
  left: 2.4rem;
  border-top: 1.5px solid var(--ink);
  border-left: 1.5px solid var(--ink);
  padding: 0 0.3rem;
  color: var(--ink);
}
.bar-head svg {
  margin-top: 0.85rem;
  overflow: visible;
}
.plays {
  font-family: var(--text-face);
  font-weight: 400;
  font-size: 0.72rem;
  color: var(--ink-soft);
  line-height: 1.15;
}
.rung-name {
  display: flex;
  flex-direction: column;
  justify-content: center;
  padding-left: 0.4rem;
  font-family: var(--title-face);
  font-weight: 500;
  font-size: 0.9rem;
  line-height: 1.05;
}
.rung-number {
  font-size: 0.75rem;
  color: var(--ink-soft);
}
.cell {
  position: relative;
  padding: 0;
  border: 0;
  background: none;
  cursor: pointer;
  font: inherit;
  color: inherit;
  touch-action: pan-y;
}
.cell svg {
  display: block;
  overflow: visible;
}
.halo {
  fill: var(--spruce-wash);
  stroke: var(--spruce);
  stroke-width: 0.18;
  stroke-dasharray: 0.7 0.5;
}
.cell.on-path {
  --cell-paper: var(--brass-wash);
  background: var(--brass-wash);
  box-shadow: inset 0 4px 0 var(--brass);
}
.cell:hover {
  --cell-paper: var(--spruce-wash);
  background: var(--spruce-wash);
}
.cell.stretched.on-path {
  box-shadow:
    inset 0 4px 0 var(--brass),
    inset 0 -4px 0 var(--brass);
}
.cell.together {
  outline: 1.5px dashed var(--ink-soft);
  outline-offset: -2px;
}
.cell.selected {
  outline: 2.5px solid var(--ink);
  outline-offset: -2px;
  z-index: 1;
}
.grade {
  position: absolute;
  right: 3px;
  bottom: 1px;
  font-size: 0.66rem;
  line-height: 1.1;
  color: var(--ink-soft);
}
/* A folded corner: full for a hand edit, open for another way, half for a lock, blue for a bar as handed out. */
.flag {
  position: absolute;
  left: 0;
  top: 0;
  width: 11px;
  height: 11px;
  background: var(--ink);
  clip-path: polygon(0 0, 100% 0, 0 100%);
}
.flag.alternative {
  clip-path: polygon(0 0, 100% 0, 82% 18%, 16% 18%, 16% 84%, 0 100%);
}
.flag.handed {
  background: var(--dusk);
}
.flag.locked {
  height: 5px;
  clip-path: none;
}
.on-rung {
  display: block;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  font-size: 0.7rem;
  line-height: 1.2;
  padding-left: 3px;
  color: var(--ink-soft);
}
</style>

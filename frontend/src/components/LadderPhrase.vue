<script setup lang="ts">
import type { Ladder } from '@/api/client'
import TabMarks from './TabMarks.vue'

/** One phrase: its bars side by side, its rungs above one another, the highest on top. */
const props = defineProps<{
  phrase: Ladder['phrases'][number]
  ladder: Ladder
  /** Pixels for a millimetre. */
  scale: number
  path: number[]
  place: number
  rung: number
  /** Places of the bars that move with the selected one. */
  together: number[]
}>()
const emit = defineEmits<{ select: [place: number, rung: number]; take: [place: number, rung: number] }>()

const rungs = () => [...props.ladder.rungs].reverse()
const px = (mm: number) => `${mm * props.scale}px`
</script>

<template>
  <div class="phrase">
    <div class="row head" :style="{ gridTemplateColumns: `7rem repeat(${phrase.columns.length}, max-content)` }">
      <span></span>
      <div v-for="column in phrase.columns" :key="column.place" class="bar-head" :style="{ width: px(column.width) }">
        <span v-if="column.part" class="part">{{ column.part }}</span>
        <span class="number" title="Bars with the same letter are equal">
          {{ column.number }} <span class="letter">{{ column.letter }}</span>
        </span>
        <span v-if="column.endings.length" class="ending">{{ column.endings.join(', ') }}.</span>
        <svg
          :viewBox="`0 ${-ladder.head_height} ${column.width} ${ladder.head_height - 3.4}`"
          :width="px(column.width)"
          :height="px(ladder.head_height - 3.4)"
          aria-hidden="true"
        >
          <TabMarks :marks="column.head" />
        </svg>
      </div>
    </div>
    <div
      v-for="one in rungs()"
      :key="one.number"
      class="row"
      :style="{ gridTemplateColumns: `7rem repeat(${phrase.columns.length}, max-content)` }"
    >
      <div class="rung-name">
        <span class="rung-number">{{ one.number }}</span> {{ one.name }}
      </div>
      <button
        v-for="column in phrase.columns"
        :key="column.place"
        type="button"
        data-cell
        class="cell"
        :class="{
          'on-path': path[column.place] === one.number,
          selected: place === column.place && rung === one.number,
          together: rung === one.number && place !== column.place && together.includes(column.place),
        }"
        :data-place="column.place"
        :data-rung="one.number"
        :tabindex="place === column.place && rung === one.number ? 0 : -1"
        :aria-pressed="path[column.place] === one.number"
        :aria-label="`Bar ${column.number}, rung ${one.number}, grade ${column.cells[one.number - 1]?.grade}`"
        :style="{ width: px(column.width), height: px(ladder.cell_height) }"
        @click="emit('select', column.place, one.number)"
        @dblclick="emit('take', column.place, one.number)"
      >
        <svg
          :viewBox="`0 ${-ladder.cell_top} ${column.width} ${ladder.cell_height}`"
          :width="px(column.width)"
          :height="px(ladder.cell_height)"
          aria-hidden="true"
        >
          <TabMarks :marks="column.cells[one.number - 1]?.marks ?? []" />
        </svg>
        <span class="grade">{{ column.cells[one.number - 1]?.grade }}</span>
      </button>
    </div>
  </div>
</template>

<style scoped>
.phrase {
  background: var(--panel);
  border: 1px solid var(--hairline);
  padding: 0.4rem 0.9rem 0.3rem 0;
}
.row {
  display: grid;
  align-items: stretch;
}
.bar-head {
  position: relative;
  display: flex;
  flex-direction: column;
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
.part {
  left: -1.3rem;
  top: -0.3rem;
  font-family: var(--title-face);
  font-weight: 600;
  font-size: 1.25rem;
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
  margin-top: 0.9rem;
  overflow: visible;
}
.rung-name {
  display: flex;
  flex-direction: column;
  justify-content: center;
  padding-left: 0.9rem;
  font-family: var(--title-face);
  font-weight: 500;
  line-height: 1.1;
}
.rung-number {
  font-size: 0.8rem;
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
}
.cell svg {
  display: block;
  overflow: visible;
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
  right: 5px;
  bottom: 2px;
  font-size: 0.72rem;
  color: var(--ink-soft);
}
</style>

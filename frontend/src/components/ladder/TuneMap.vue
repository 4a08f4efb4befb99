<script setup lang="ts">
import type { BarFrame, PathState } from '@/api/client'

/** The whole tune in one strip: every bar with its letter, its rung on the path, and its grade as shade and number. */
const props = defineProps<{
  bars: BarFrame[]
  path: PathState
  second: boolean
  place: number
  stretch: number[]
  heard: number | null
}>()
const emit = defineEmits<{ select: [place: number, extend: boolean] }>()

const rungs = () => (props.second ? props.path.second : props.path.rungs)
const rungOf = (bar: BarFrame) => rungs()[bar.place] ?? 1
const gradeOf = (bar: BarFrame) => bar.grades[rungOf(bar) - 1] ?? 1
const kept = (bar: BarFrame) => props.path.kept.find((one) => one.place === bar.place && one.rung === rungOf(bar) && one.kind !== 'locked')
/** Eight steps from paper to spruce; the number says the same. */
const shade = (grade: number) => `color-mix(in srgb, var(--spruce) ${(grade - 1) * 7}%, var(--panel))`

/** A finger holds on to what it touched first; let go, it reaches the bars that it is drawn over. */
function press(event: PointerEvent, bar: BarFrame) {
  const target = event.target as Element
  if (target.hasPointerCapture(event.pointerId)) target.releasePointerCapture(event.pointerId)
  emit('select', bar.place, event.shiftKey)
}
function drag(event: PointerEvent, bar: BarFrame) {
  if (event.buttons === 1) emit('select', bar.place, true)
}
</script>

<template>
  <nav class="map" aria-label="The whole tune">
    <template v-for="bar in bars" :key="bar.place">
      <span v-if="bar.part" class="part" aria-hidden="true">{{ bar.part }}</span>
      <button
        type="button"
        class="bar"
        tabindex="-1"
        :class="{ here: bar.place === place, stretch: stretch.length > 1 && stretch.includes(bar.place), heard: bar.place === heard }"
        :style="{ background: shade(gradeOf(bar)) }"
        :title="`Bar ${bar.number}, ${bar.letter}: rung ${rungOf(bar)}, grade ${gradeOf(bar)}${kept(bar) ? ', ' + kept(bar)!.said : ''}`"
        :aria-label="`Bar ${bar.number}, form ${bar.letter}, rung ${rungOf(bar)}, grade ${gradeOf(bar)}`"
        :aria-current="bar.place === place"
        @pointerdown="press($event, bar)"
        @pointerenter="drag($event, bar)"
      >
        <span class="letter">{{ bar.letter }}<b v-if="path.locked.includes(bar.place)" class="lock" aria-hidden="true">▪</b></span>
        <span class="rung">{{ rungOf(bar) }}<b v-if="kept(bar)" aria-hidden="true">*</b></span>
        <span class="grade">{{ gradeOf(bar) }}</span>
      </button>
    </template>
  </nav>
</template>

<style scoped>
.map {
  display: flex;
  align-items: stretch;
  gap: 2px;
  overflow-x: auto;
  padding: 2px;
  user-select: none;
}
.part {
  align-self: center;
  font-family: var(--title-face);
  font-weight: 600;
  padding: 0 0.15rem 0 0.35rem;
}
.bar {
  all: unset;
  box-sizing: border-box;
  cursor: pointer;
  flex: 1 0 1.45rem;
  max-width: 3.4rem;
  display: grid;
  grid-template-columns: 1fr auto;
  padding: 0.1rem 0.25rem;
  border: 1px solid var(--hairline);
  line-height: 1.15;
  font-size: 0.75rem;
  touch-action: none;
}
.letter {
  font-family: var(--title-face);
  font-style: italic;
}
.grade {
  grid-column: 2;
  text-align: right;
}
.rung {
  grid-row: span 1;
  font-weight: 700;
  color: var(--brass-deep);
  background: var(--panel);
  padding: 0 0.15rem;
  text-align: center;
}
.letter {
  grid-column: 1 / 3;
}
.lock {
  font-style: normal;
}
.bar:hover {
  border-color: var(--ink);
}
.stretch {
  border-bottom: 3px solid var(--brass);
}
.here {
  outline: 2px solid var(--ink);
}
@media (pointer: coarse) {
  .map {
    flex-wrap: wrap;
    overflow: visible;
  }
  .bar {
    align-content: center;
  }
}
.heard {
  box-shadow: inset 0 3px 0 var(--dusk);
}
</style>

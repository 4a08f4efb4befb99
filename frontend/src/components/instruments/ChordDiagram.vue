<script setup lang="ts">
import { computed } from 'vue'

import type { Shape } from '@/api/client'

/** One way to hold a chord: bass string on the left (for a left hand on the right), fingers in the dots, × left out. */
const props = defineProps<{ shape: Shape; name: string; leftHanded: boolean }>()

const GAP = 15
const ROW = 17
const TOP = 22
const SIDE = 32
const ROWS = 4

const strings = computed(() => props.shape.strings.filter((one) => !one.drone))
const most = computed(() => Math.max(...strings.value.map((one) => one.number)))
/** Shapes near the nut show the nut; others begin at their lowest fret. */
const first = computed(() => (props.shape.highest <= ROWS ? 1 : props.shape.lowest))
const rows = computed(() => Math.max(ROWS, props.shape.highest - first.value + 1))
const across = (number: number) => SIDE + (props.leftHanded ? number - 1 : most.value - number) * GAP
const down = (fret: number) => TOP + (fret - first.value + 0.5) * ROW
const width = computed(() => 2 * SIDE + (most.value - 1) * GAP)
const bottom = computed(() => TOP + rows.value * ROW)
const label = computed(() => strings.value.find((one) => one.fret === props.shape.lowest)?.name ?? '')
const told = computed(() =>
  [...strings.value].reverse().map((one) => (one.fret === null ? `string ${one.number} left out` : one.fret === 0 ? `string ${one.number} open` : `string ${one.number} fret ${one.name} finger ${one.finger}`)).join(', '),
)
</script>

<template>
  <svg class="chord-diagram" :viewBox="`0 0 ${width} ${bottom + 16}`" :width="width" :height="bottom + 16" role="img" :aria-label="`${name}: ${told}`">
    <line v-for="row in rows + 1" :key="`f${row}`" :x1="SIDE" :x2="width - SIDE" :y1="TOP + (row - 1) * ROW" :y2="TOP + (row - 1) * ROW" :class="row === 1 && first === 1 ? 'nut' : 'fret'" />
    <text v-if="first > 1" :x="leftHanded ? width - 2 : 2" :y="down(shape.lowest) + 4" class="at" :text-anchor="leftHanded ? 'end' : 'start'">{{ label }}</text>
    <g v-for="one in strings" :key="one.number">
      <line :x1="across(one.number)" :x2="across(one.number)" :y1="TOP" :y2="bottom" class="string" />
      <text v-if="one.fret === null" :x="across(one.number)" :y="TOP - 6" class="over">×</text>
      <circle v-else-if="one.fret === 0" :cx="across(one.number)" :cy="TOP - 9" r="4" class="ring" />
      <text :x="across(one.number)" :y="bottom + 12" class="note">{{ one.pitch }}</text>
    </g>
    <line
      v-for="barre in shape.barres"
      :key="`b${barre.finger}`"
      :x1="across(barre.first)"
      :x2="across(barre.last)"
      :y1="down(barre.fret)"
      :y2="down(barre.fret)"
      class="barre"
    />
    <g v-for="one in strings.filter((each) => each.fret)" :key="`d${one.number}`">
      <circle :cx="across(one.number)" :cy="down(one.fret ?? 0)" r="6.5" class="dot" />
      <text :x="across(one.number)" :y="down(one.fret ?? 0) + 3.6" class="finger">{{ one.finger }}</text>
    </g>
  </svg>
</template>

<style scoped>
.nut {
  stroke: var(--ink);
  stroke-width: 4;
}
.fret,
.string {
  stroke: var(--string);
  stroke-width: 1;
}
.ring {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.3;
}
.dot {
  fill: var(--spruce);
}
.barre {
  stroke: var(--spruce);
  stroke-width: 9;
  stroke-linecap: round;
}
text {
  font-family: var(--text-face);
}
.over,
.note,
.finger {
  text-anchor: middle;
}
.over {
  font-size: 13px;
  fill: var(--ink);
}
.note {
  font-size: 10px;
  fill: var(--ink-soft);
}
.at {
  font-size: 11px;
  font-weight: 700;
  fill: var(--ink);
}
.finger {
  font-size: 10px;
  font-weight: 700;
  fill: var(--on-spruce);
}
</style>

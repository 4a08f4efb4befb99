<script setup lang="ts">
import { computed } from 'vue'

import type { HeardPitch } from '@/api/client'

/** How far beside its pitch a string was heard: half a semitone to either side, further off at the edge. */
const props = defineProps<{ heard: HeardPitch | null }>()

const WIDE = 420
const MIDDLE = WIDE / 2
const EDGE = 50
const PER_CENT = (MIDDLE - 20) / EDGE
const off = computed(() => props.heard?.off_cents ?? 0)
const x = computed(() => MIDDLE + Math.max(-EDGE, Math.min(EDGE, off.value)) * PER_CENT)
const LABELLED = [-50, -20, 0, 20, 50]
const marks = [-50, -40, -30, -20, -10, 0, 10, 20, 30, 40, 50]
</script>

<template>
  <svg :viewBox="`0 0 ${WIDE} 74`" role="img" :aria-label="heard ? `${off.toFixed(1)} cents beside ${heard.pitch}` : 'nothing heard yet'">
    <rect :x="MIDDLE - 4 * PER_CENT" y="10" :width="8 * PER_CENT" height="34" class="good" />
    <g v-for="mark in marks" :key="mark">
      <line :x1="MIDDLE + mark * PER_CENT" :x2="MIDDLE + mark * PER_CENT" :y1="mark % 50 === 0 ? 10 : 22" y2="44" class="mark" />
      <text v-if="LABELLED.includes(mark)" :x="MIDDLE + mark * PER_CENT" y="60">{{ mark > 0 ? `+${mark}` : mark < 0 ? `−${-mark}` : mark }}</text>
    </g>
    <g v-if="heard" class="needle">
      <line :x1="x" :x2="x" y1="6" y2="44" />
      <path :d="`M ${x - 7} 2 h 14 l -7 9 z`" />
    </g>
  </svg>
</template>

<style scoped>
svg {
  width: 100%;
  max-width: 420px;
}
.good {
  fill: var(--spruce-wash);
}
.mark {
  stroke: var(--ink-soft);
}
.needle line {
  stroke: var(--ink);
  stroke-width: 3;
}
.needle path {
  fill: var(--ink);
}
text {
  font-family: var(--text-face);
  font-size: 11px;
  fill: var(--ink-soft);
  text-anchor: middle;
}
</style>

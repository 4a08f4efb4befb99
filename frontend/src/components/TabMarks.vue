<script setup lang="ts">
import type { Mark } from '@/api/client'

/** Paints the marks of a layout as SVG shapes, in millimetres; stands inside an svg element. */
defineProps<{ marks: Mark[] }>()

const anchors: Record<string, 'start' | 'middle' | 'end'> = { start: 'start', middle: 'middle', end: 'end' }
</script>

<template>
  <template v-for="(mark, index) in marks" :key="index">
    <line
      v-if="mark.kind === 'line'"
      :x1="mark.x1"
      :y1="mark.y1"
      :x2="mark.x2"
      :y2="mark.y2"
      :stroke-width="mark.width"
      :class="`stroke-${mark.ink}`"
    />
    <circle
      v-else-if="mark.kind === 'disc'"
      :cx="mark.x"
      :cy="mark.y"
      :r="mark.radius"
      :stroke-width="mark.width"
      :class="[`fill-${mark.fill}`, mark.width ? `stroke-${mark.ink}` : '']"
    />
    <path
      v-else-if="mark.kind === 'path'"
      :d="mark.d"
      :stroke-width="mark.width"
      :class="mark.width ? [`stroke-${mark.ink}`, 'open'] : `fill-${mark.ink}`"
    />
    <text
      v-else
      :x="mark.x"
      :y="mark.y"
      :font-size="mark.size"
      :text-anchor="anchors[mark.anchor] ?? 'middle'"
      :class="[`fill-${mark.ink}`, mark.face, { bold: mark.bold }]"
    >{{ mark.text }}</text>
  </template>
</template>

<style scoped>
.open {
  fill: none;
  stroke-linecap: round;
}
.text {
  font-family: var(--text-face);
}
.title {
  font-family: var(--title-face);
}
.bold {
  font-weight: 700;
}
.title.bold {
  font-weight: 600;
}
.stroke-ink { stroke: var(--ink); }
.stroke-faint { stroke: var(--ink-soft); }
.stroke-string { stroke: var(--string); }
.stroke-melody { stroke: var(--brass-deep); }
.stroke-chord { stroke: var(--spruce); }
.stroke-hand { stroke: var(--dusk); }
.stroke-trouble { stroke: var(--madder); }
.fill-ink { fill: var(--ink); }
.fill-faint { fill: var(--ink-soft); }
.fill-string { fill: var(--string); }
.fill-melody { fill: var(--brass-deep); }
.fill-on-melody { fill: #ffffff; }
.fill-chord { fill: var(--spruce); }
.fill-paper { fill: var(--cell-paper, #ffffff); }
.fill-hand { fill: var(--dusk); }
.fill-trouble { fill: var(--madder); }
</style>

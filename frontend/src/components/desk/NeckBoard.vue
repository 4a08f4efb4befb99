<script setup lang="ts">
import { computed, ref } from 'vue'

import type { Board } from '@/api/client'

/** A neck to play notes on: string 1 on top, a short string from where it begins. Arrows move, Enter plays. */
const props = defineProps<{ board: Board; frets: number }>()
const emit = defineEmits<{ play: [string: number, fret: number] }>()

const WIDTH = 46
const HEIGHT = 25
const OPEN = 40
const at = ref({ string: 0, fret: 0 })

const rows = computed(() =>
  props.board.strings.map((string, row) => ({
    ...string,
    y: 16 + row * HEIGHT,
    places: string.names
      .map((name, index) => ({ name, fret: index ? string.first_fret + index : 0, column: string.first_fret + index }))
      .filter((place) => place.column <= props.frets),
  })),
)
const width = computed(() => OPEN + props.frets * WIDTH + 8)
const height = computed(() => 16 + props.board.strings.length * HEIGHT)
const xOf = (column: number) => (column ? OPEN + (column - 0.5) * WIDTH : OPEN / 2)
const neck = ref<SVGElement | null>(null)

function move(strings: number, frets: number) {
  const string = Math.max(0, Math.min(rows.value.length - 1, at.value.string + strings))
  const last = (rows.value[string]?.places.length ?? 1) - 1
  at.value = { string, fret: Math.max(0, Math.min(last, at.value.fret + frets)) }
  neck.value?.querySelector<SVGElement>(`[data-at="${string}-${at.value.fret}"]`)?.focus()
}

const MOVES: Record<string, [number, number]> = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] }

function press(event: KeyboardEvent, string: number, fret: number) {
  const step = MOVES[event.key]
  if (!step && event.key !== 'Enter' && event.key !== ' ') return
  event.preventDefault()
  event.stopPropagation()
  if (step) move(...step)
  else emit('play', string, fret)
}
</script>

<template>
  <svg ref="neck" class="neck" :viewBox="`0 0 ${width} ${height}`" :style="{ maxWidth: `${width}px` }" role="group" :aria-label="`Neck, ${board.tuning}`">
    <line v-for="fret in frets + 1" :key="fret" :x1="OPEN + (fret - 1) * WIDTH" :x2="OPEN + (fret - 1) * WIDTH" y1="16" :y2="height - HEIGHT" class="fret" :class="{ nut: fret === 1 }" />
    <text v-for="fret in frets" :key="`n${fret}`" :x="xOf(fret)" y="8" class="figure">{{ fret }}</text>
    <template v-for="(row, index) in rows" :key="row.number">
      <line :x1="row.first_fret ? xOf(row.first_fret) : OPEN / 2" :x2="width - 8" :y1="row.y" :y2="row.y" class="string" />
      <g
        v-for="(place, column) in row.places"
        :key="place.column"
        role="button"
        :data-at="`${index}-${column}`"
        :tabindex="at.string === index && at.fret === column ? 0 : -1"
        :aria-label="`String ${row.number}, ${place.fret ? `fret ${place.fret}` : 'open'}: ${place.name}`"
        @click="emit('play', row.number, place.fret)"
        @focus="at = { string: index, fret: column }"
        @keydown="press($event, row.number, place.fret)"
      >
        <rect :x="xOf(place.column) - (column ? WIDTH : OPEN) / 2 + 1" :y="row.y - HEIGHT / 2" :width="(column ? WIDTH : OPEN) - 2" :height="HEIGHT" class="touch" />
        <text :x="xOf(place.column)" :y="row.y + 4" class="name" :class="{ open: !column }">{{ place.name }}</text>
      </g>
    </template>
  </svg>
</template>

<style scoped>
.neck {
  width: 100%;
  display: block;
}
.fret {
  stroke: var(--hairline);
}
.nut {
  stroke: var(--ink);
  stroke-width: 3;
}
.string {
  stroke: var(--string);
}
.figure {
  font: 9px var(--text-face);
  text-anchor: middle;
  fill: var(--ink-soft);
}
.name {
  font: 10.5px var(--text-face);
  text-anchor: middle;
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--panel);
  stroke-width: 4px;
}
.open {
  font-weight: 700;
}
.touch {
  fill: transparent;
}
g[role='button'] {
  cursor: pointer;
}
g[role='button']:hover .touch,
g[role='button']:focus .touch {
  fill: var(--spruce-wash);
}
g[role='button']:hover .name,
g[role='button']:focus .name {
  stroke: var(--spruce-wash);
}
g[role='button']:focus-visible {
  outline: 2px solid var(--spruce);
}
</style>

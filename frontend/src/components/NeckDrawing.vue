<script setup lang="ts">
import { computed } from 'vue'

import type { NeckLines, NeckMark } from '@/components/neckMarks'

/** A neck to scale: string 1 on top, fret lines where they are, capo and hook, and what stands on it. Mirrored for the left hand. */
const props = withDefaults(defineProps<{ neck: NeckLines; marks: NeckMark[]; what: string; length?: number }>(), { length: 1080 })

const LEFT = 46
const width = computed(() => LEFT + props.length + 16)
/** On a short neck the upper frets are too close for large marks. */
const radius = computed(() => (props.length < 800 ? 8.5 : 10))
const GAP = 26
const TOP = 20
const along = (share: number) => LEFT + share * props.length
const x = (place: number) => (props.neck.left_handed ? width.value - place : place)
const y = (string: number) => TOP + (string - 1) * GAP
const bottom = computed(() => y(props.neck.strings.length))
const height = computed(() => bottom.value + 26)
const starts = (string: number) => props.neck.starts[string - 1] ?? 0
const offset = (string: number, copy: number) => (copy - 1 - ((props.neck.courses[string - 1] ?? 1) - 1) / 2) * 3
/** An open string's mark stands behind the nut, the capo, or the peg of a short string. */
const markX = (mark: NeckMark) => x(mark.open ? along(Math.max(mark.at, starts(mark.string))) - (mark.at > 0 && mark.at === props.neck.capo ? 19 : 13) : along(mark.at))
</script>

<template>
  <svg class="neck-drawing" :viewBox="`0 0 ${width} ${height}`" role="img" :aria-label="`Neck to scale, strings ${neck.strings.join(' ')}, with ${what}`">
    <line :x1="x(LEFT)" :x2="x(LEFT)" :y1="TOP - 5" :y2="bottom + 5" class="nut" />
    <g v-for="(fret, index) in neck.frets" :key="index">
      <line :x1="x(along(fret.at))" :x2="x(along(fret.at))" :y1="TOP - 5" :y2="bottom + 5" class="fret" />
      <text :x="x(along(fret.at) - 2)" :y="height - 4" class="name" :text-anchor="neck.left_handed ? 'start' : 'end'">{{ fret.name }}</text>
    </g>
    <line v-if="neck.capo !== null" :x1="x(along(neck.capo) - 4)" :x2="x(along(neck.capo) - 4)" :y1="TOP - 9" :y2="bottom + 9" class="capo"><title>capo</title></line>
    <g v-for="(name, index) in neck.strings" :key="`s${index}`">
      <line
        v-for="copy in neck.courses[index]"
        :key="copy"
        :x1="x(starts(index + 1) ? along(starts(index + 1)) : LEFT)"
        :x2="x(LEFT + length + 10)"
        :y1="y(index + 1) + offset(index + 1, copy)"
        :y2="y(index + 1) + offset(index + 1, copy)"
        class="string"
      />
      <circle v-if="starts(index + 1)" :cx="x(along(starts(index + 1)))" :cy="y(index + 1)" r="3" class="peg" />
      <text :x="x(starts(index + 1) ? along(starts(index + 1)) - 30 : 12)" :y="y(index + 1) + 4" class="open">{{ name }}</text>
    </g>
    <path v-if="neck.hook !== null" :d="`M ${x(along(neck.hook) - 4)} ${bottom + 7} v -12 q 0 -4 ${neck.left_handed ? -5 : 5} -4`" class="hook"><title>hook of the short string</title></path>
    <g v-for="(mark, index) in marks" :key="index">
      <title>{{ mark.said }}</title>
      <circle :cx="markX(mark)" :cy="y(mark.string)" :r="radius" :class="mark.kind" />
      <text :x="markX(mark)" :y="y(mark.string) + 4" :class="['text', `on-${mark.kind}`]">{{ mark.text }}</text>
    </g>
  </svg>
</template>

<style scoped>
.neck-drawing {
  width: 100%;
  display: block;
  background: var(--panel);
  border: 1px solid var(--hairline);
}
.nut {
  stroke: var(--ink);
  stroke-width: 4;
}
.fret {
  stroke: var(--string);
}
.capo {
  stroke: var(--ink);
  stroke-width: 7;
  stroke-linecap: round;
}
.string {
  stroke: var(--ink-soft);
  stroke-width: 1;
}
text {
  font-family: var(--text-face);
}
.text,
.open {
  text-anchor: middle;
}
.name {
  font-size: 11px;
  fill: var(--ink-soft);
}
.peg {
  fill: var(--ink-soft);
}
.hook {
  fill: none;
  stroke: var(--ink);
  stroke-width: 3;
  stroke-linecap: round;
}
.open {
  font-size: 12px;
  font-weight: 700;
  fill: var(--ink);
}
.played {
  fill: var(--brass-deep);
}
.on-played {
  font-size: 10px;
  font-weight: 700;
  fill: var(--on-brass);
}
.elsewhere {
  fill: var(--panel);
  stroke: var(--ink-soft);
}
.on-elsewhere {
  font-size: 10px;
  fill: var(--ink);
}
.chord {
  fill: var(--spruce);
}
.on-chord {
  font-size: 11px;
  font-weight: 700;
  fill: var(--on-brass);
}
</style>

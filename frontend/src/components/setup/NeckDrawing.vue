<script setup lang="ts">
import { computed } from 'vue'

import type { Neck } from '@/api/client'

/** The neck to scale: string 1 on top, fret lines where they are, the tune's notes on it; those of the bare melody filled. */
const props = defineProps<{ neck: Neck }>()

const LEFT = 46
const LENGTH = 1080
const GAP = 26
const TOP = 20
const x = (share: number) => LEFT + share * LENGTH
const y = (string: number) => TOP + (string - 1) * GAP
const height = computed(() => TOP + (props.neck.strings.length - 1) * GAP + 26)
const isShort = (string: number) => (props.neck.starts[string - 1] ?? 0) > 0
/** Where an open string's note stands: left of the nut, of the capo, or of a short string's own beginning. */
const openX = (at: number) => x(at) - 13
</script>

<template>
  <svg class="neck-drawing" :viewBox="`0 0 ${LEFT + LENGTH + 16} ${height}`" role="img" :aria-label="`Neck to scale, strings ${neck.strings.join(' ')}, with the notes of the tune`">
    <line :x1="LEFT" :x2="LEFT" :y1="TOP - 5" :y2="y(neck.strings.length) + 5" class="nut" />
    <g v-for="(fret, index) in neck.frets" :key="index">
      <line :x1="x(fret.at)" :x2="x(fret.at)" :y1="TOP - 5" :y2="y(neck.strings.length) + 5" class="fret" />
      <text :x="x(fret.at) - 2" :y="height - 4" class="name">{{ fret.name }}</text>
    </g>
    <line v-if="neck.capo !== null" :x1="x(neck.capo) - 4" :x2="x(neck.capo) - 4" :y1="TOP - 9" :y2="y(neck.strings.length) + 9" class="capo" />
    <g v-for="(name, index) in neck.strings" :key="`s${index}`">
      <line
        v-for="copy in neck.courses[index]"
        :key="copy"
        :x1="isShort(index + 1) ? x(neck.starts[index] ?? 0) : LEFT"
        :x2="LEFT + LENGTH + 10"
        :y1="y(index + 1) + (copy - 1 - ((neck.courses[index] ?? 1) - 1) / 2) * 3"
        :y2="y(index + 1) + (copy - 1 - ((neck.courses[index] ?? 1) - 1) / 2) * 3"
        class="string"
      />
      <text :x="isShort(index + 1) ? x(neck.starts[index] ?? 0) - 12 : 12" :y="y(index + 1) + 4" class="open">{{ name }}</text>
    </g>
    <g v-for="note in neck.notes" :key="`${note.string}-${note.at}`">
      <title>{{ note.pitch }}, string {{ note.string }} fret {{ note.fret }}{{ note.usual ? `, played ${note.count} times` : ', the same note elsewhere' }}</title>
      <circle :cx="note.fret === '0' ? openX(note.at) : x(note.at)" :cy="y(note.string)" r="10" :class="note.usual ? 'head' : 'elsewhere'" />
      <text :x="note.fret === '0' ? openX(note.at) : x(note.at)" :y="y(note.string) + 4" :class="note.usual ? 'on-head' : 'on-paper'">{{ note.pitch }}</text>
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
  text-anchor: middle;
}
.name {
  font-size: 11px;
  fill: var(--ink-soft);
  text-anchor: end;
}
.open {
  font-size: 12px;
  font-weight: 700;
  fill: var(--ink);
}
.head {
  fill: var(--brass-deep);
}
.on-head {
  font-size: 10px;
  font-weight: 700;
  fill: #ffffff;
}
.elsewhere {
  fill: var(--panel);
  stroke: var(--ink-soft);
}
.on-paper {
  font-size: 10px;
  fill: var(--ink);
}
</style>

<script setup lang="ts">
import { computed } from 'vue'

import type { BarRow, DeskReading } from '@/api/client'
import { barLines } from './barLines'

/** Every bar by phrase: its letter, whether it is new, and its length where that does not add up. */
const props = defineProps<{ reading: DeskReading; bar: number }>()
const emit = defineEmits<{ pick: [place: number] }>()

const lines = computed(() => barLines(props.reading))
const anyUpbeat = computed(() => lines.value.some((line) => line.upbeat))
const said = (one: BarRow) =>
  [
    `Bar ${one.number}, letter ${one.letter}`,
    one.new ? 'new' : `the same as bar ${one.first}`,
    one.missing ? `holds ${one.length} where ${one.needed} belong` : '',
  ]
    .filter(Boolean)
    .join(', ')
</script>

<template>
  <div class="bar-map">
    <ul class="told">
      <li v-for="sentence in reading.sentences" :key="sentence">{{ sentence }}</li>
    </ul>
    <div class="lines">
      <div v-for="line in lines" :key="line.start" class="line" :class="{ upbeats: anyUpbeat }" :style="{ '--bars': line.bars.length }">
        <span class="phrase" :title="`Phrase ${line.letter}`">{{ line.letter }}</span>
        <span v-if="anyUpbeat && !line.upbeat"></span>
        <button
          v-for="one in line.upbeat ? [line.upbeat, ...line.bars] : line.bars"
          :key="one.place"
          type="button"
          :class="{ met: !one.new, wrong: one.missing, here: one.place === bar }"
          :aria-label="said(one)"
          @click="emit('pick', one.place)"
        >
          <span class="number">{{ one.number }}</span>
          <span class="letter">{{ one.letter }}</span>
          <span v-if="one.missing" class="length">{{ one.length }} of {{ one.needed }}</span>
          <span v-else-if="!one.new" class="same">= {{ one.first }}</span>
          <span v-else-if="one.length !== one.needed" class="same">{{ one.length }}</span>
        </button>
      </div>
    </div>
  </div>
</template>

<style scoped>
.bar-map {
  display: grid;
  grid-template-columns: 19rem minmax(0, 1fr);
  gap: 1.25rem;
}
.told {
  margin: 0;
  padding-left: 1.1rem;
  font-size: 0.95rem;
}
.lines {
  display: flex;
  flex-direction: column;
  gap: 4px;
}
.line {
  display: grid;
  grid-template-columns: 1.6rem repeat(max(var(--bars), 4), minmax(0, 1fr));
  gap: 3px;
}
.line.upbeats {
  grid-template-columns: 1.6rem 5.6rem repeat(max(var(--bars), 4), minmax(0, 1fr));
}
.phrase {
  font-family: var(--title-face);
  font-weight: 600;
  align-self: center;
  color: var(--ink-soft);
}
button {
  display: flex;
  align-items: baseline;
  gap: 0.5rem;
  padding: 0.25rem 0.5rem;
  border: 1px solid var(--ink-soft);
  background: var(--panel);
  font: inherit;
  color: var(--ink);
  cursor: pointer;
  white-space: nowrap;
  overflow: hidden;
}
button:hover,
.here {
  background: var(--spruce-wash);
}
.met {
  border-color: var(--hairline);
  background: var(--paper);
}
.number {
  font-size: 0.75rem;
  color: var(--ink-soft);
}
.letter {
  font-family: var(--title-face);
  font-weight: 600;
}
.met .letter {
  font-weight: 500;
  color: var(--ink-soft);
}
.same {
  font-size: 0.8rem;
  color: var(--ink-soft);
}
.wrong {
  border: 2px dashed var(--madder);
}
.length {
  font-size: 0.8rem;
  font-weight: 700;
  color: var(--madder);
}
</style>

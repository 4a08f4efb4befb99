<script setup lang="ts">
import { computed } from 'vue'

import type { Room } from '@/api/types'
import { PERCENT, type Mix } from '@/practice/useSounding'
import { REACHES, type Reach } from '@/practice/useStretch'

/** Playing: what, how fast, round and round or once, counted in or not. */
const props = defineProps<{
  room: Room
  playing: boolean
  ready: boolean
  percent: number
  again: boolean
  reach: Reach | null
  countIn: Mix['countIn']
  veil: string
}>()
const emit = defineEmits<{
  play: []
  percent: [percent: number]
  again: [again: boolean]
  take: [reach: Reach]
  countIn: [how: Mix['countIn']]
  veil: []
}>()

const COUNT_INS: [Mix['countIn'], string][] = [
  ['first', 'Count in once'],
  ['every', 'Count in every time'],
  ['none', 'No count-in'],
]
const VEILS: Record<string, string> = { all: 'Tab shown', rhythm: 'Rhythm only', hidden: 'By ear' }
const bpm = computed(() => Math.round((props.room.bpm * props.percent) / 100))
const value = (event: Event) => (event.target as HTMLInputElement | HTMLSelectElement).value
</script>

<template>
  <div class="play-bar plain-fields" role="toolbar" aria-label="Play">
    <button type="button" class="play" :disabled="!ready" @click="emit('play')">{{ playing ? 'Stop' : 'Play' }}</button>
    <div class="group" role="group" aria-label="How much">
      <button v-for="[how, words] in REACHES" :key="how" type="button" class="choice" :aria-pressed="reach === how" @click="emit('take', how)">{{ words }}</button>
      <button type="button" class="choice" :aria-pressed="reach === 'turns'" title="Each phrase is heard, then yours to play" @click="emit('take', 'turns')">By turns</button>
    </div>
    <label class="group">
      <span class="quiet">Tempo</span>
      <input type="range" :min="PERCENT.slowest" :max="PERCENT.fastest" :step="PERCENT.step" :value="percent" aria-label="Tempo in percent" @input="emit('percent', Number(value($event)))" />
      <strong class="tempo">{{ percent }} %</strong>
      <span class="quiet bpm">{{ bpm }} a minute</span>
    </label>
    <label class="group">
      <input type="checkbox" :checked="again" @change="emit('again', ($event.target as HTMLInputElement).checked)" />
      Loop
    </label>
    <select :value="countIn" aria-label="Count-in" @change="emit('countIn', value($event) as Mix['countIn'])">
      <option v-for="[how, words] in COUNT_INS" :key="how" :value="how">{{ words }}</option>
    </select>
    <button type="button" class="choice" :aria-pressed="veil !== 'all'" title="Hum it, find it, then see it" @click="emit('veil')">{{ VEILS[veil] }}</button>
  </div>
</template>

<style scoped>
.play-bar {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.35rem 0.8rem;
  font-size: 0.9rem;
}
.group {
  display: flex;
  align-items: center;
  gap: 0.35rem;
  white-space: nowrap;
}
.play {
  font: inherit;
  font-weight: 700;
  min-width: 4.6rem;
  padding: 0.4rem 0.9rem;
  border: 0;
  border-radius: 2px;
  background: var(--spruce);
  color: var(--on-spruce);
  cursor: pointer;
}
.play:disabled {
  background: var(--ink-soft);
  cursor: default;
}
.tempo {
  min-width: 3.2rem;
}
.bpm {
  min-width: 5.6rem;
}
input[type='range'] {
  width: 8rem;
}
</style>

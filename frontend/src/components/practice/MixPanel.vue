<script setup lang="ts">
import { ref } from 'vue'

import { FADERS, type Fader, type Mix } from '@/practice/useSounding'

/** Levels and switches of what is heard, who keeps company, swing, and a sound file of it. */
defineProps<{ mix: Mix; company: string; companies: string[]; writing: boolean; ready: boolean }>()
const emit = defineEmits<{ level: [name: Fader, level: number]; mute: [name: Fader]; set: [change: Partial<Mix>]; write: [rounds: number] }>()
const rounds = ref(4)
const value = (event: Event) => (event.target as HTMLInputElement | HTMLSelectElement).value

/** Often wanted together: what is on, the others are off. */
const SETS: [string, Fader[]][] = [
  ['Everything', ['melody', 'others', 'company', 'count']],
  ['Without melody', ['others', 'company', 'count']],
  ['Melody alone', ['melody']],
  ['Backing alone', ['company']],
]
const setOf = (names: Fader[]) => Object.fromEntries(FADERS.map(([name]) => [name, names.includes(name)])) as Mix['on']
const most = (event: Event) => Math.max(1, Math.min(100, Math.round(Number(value(event))) || 1))
</script>

<template>
  <section class="panel plain-fields" aria-label="Mix">
    <div v-for="[name, words] in FADERS" :key="name" class="fader">
      <label class="switch"><input type="checkbox" :checked="mix.on[name]" @change="emit('mute', name)" />{{ words }}</label>
      <input type="range" min="0" max="100" step="5" :value="mix.level[name]" :aria-label="`Level: ${words}`" @input="emit('level', name, Number(value($event)))" />
    </div>
    <div class="sets">
      <button v-for="[words, names] in SETS" :key="words" type="button" class="choice" @click="emit('set', { on: setOf(names) })">{{ words }}</button>
    </div>
    <label class="row">
      <span>Backing by</span>
      <select :value="company" @change="emit('set', { company: value($event) })">
        <option v-for="one in companies" :key="one">{{ one }}</option>
      </select>
    </label>
    <label class="row">
      <span>Swing</span>
      <select :value="mix.swing" @change="emit('set', { swing: Number(value($event)) })">
        <option :value="0">even</option>
        <option :value="0.5">some</option>
        <option :value="1">triplet</option>
      </select>
    </label>
    <div class="row">
      <span>As a sound file</span>
      <label class="times"><input type="number" min="1" max="100" :value="rounds" aria-label="Times" @change="rounds = most($event)" /> times</label>
      <button type="button" class="choice" :disabled="writing || !ready" @click="emit('write', rounds)">{{ writing ? 'Writing …' : 'Keep' }}</button>
    </div>
    <p class="quiet small">What is heard now, at this tempo, as WAV.</p>
  </section>
</template>

<style scoped>
.fader {
  display: grid;
  grid-template-columns: 8rem 1fr;
  align-items: center;
  gap: 0.5rem;
}
.switch {
  display: flex;
  gap: 0.4rem;
  align-items: center;
}
.sets {
  display: flex;
  flex-wrap: wrap;
  gap: 0.3rem;
}
.row {
  display: flex;
  align-items: center;
  gap: 0.5rem;
}
.row > span:first-child {
  width: 7.5rem;
}
.times {
  white-space: nowrap;
}
input[type='number'] {
  width: 3.2rem;
}
</style>

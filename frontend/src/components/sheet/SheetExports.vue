<script setup lang="ts">
import { computed, ref } from 'vue'

import { api, type Sheet } from '@/api/client'

/** Everything that leaves the house, and the hand-out of several rungs. */
const props = defineProps<{ setupId: number; sheet: Sheet }>()

const FILES = [
  ['pdf', 'PDF'],
  ['svg', 'SVG'],
  ['png', 'PNG'],
  ['musicxml', 'MusicXML'],
  ['midi', 'MIDI'],
  ['wav', 'WAV'],
  ['abc', 'ABC'],
  ['text', 'Text tab'],
  ['json', 'JSON'],
] as const
const tempo = ref<number | null>(null)
const page = ref(1)
const rungs = ref<number[]>([2, 4, 5].filter((rung) => props.sheet.rungs.includes(rung)))
const phrase = ref(1)

function address(name: string) {
  const how: Record<string, number> = {}
  if ((name === 'midi' || name === 'wav') && tempo.value) how.tempo = tempo.value
  if (name === 'svg' || name === 'png') how.page = page.value
  return api.exportAddress(props.setupId, name, how)
}
const handout = computed(() => api.handoutAddress(props.setupId, rungs.value, [phrase.value]))
</script>

<template>
  <section class="side-box plain-fields" aria-label="Files">
    <h2>Take along</h2>
    <p class="files"><a v-for="[name, label] in FILES" :key="name" :href="address(name)" download>{{ label }}</a></p>
    <label v-if="sheet.pages.length > 1">
      Page of SVG and PNG
      <select v-model.number="page">
        <option v-for="at in sheet.pages.length" :key="at" :value="at">{{ at }}</option>
      </select>
    </label>
    <audio controls preload="none" :src="`${address('wav')}#${sheet.revision}`" aria-label="Hear what is on the sheet"></audio>
    <label>
      Tempo of MIDI and WAV
      <input v-model.number="tempo" type="number" min="20" max="400" placeholder="own" />
    </label>
  </section>
  <section v-if="sheet.rungs.length > 1" class="side-box plain-fields" aria-label="Hand-out">
    <h2>Hand-out</h2>
    <p class="quiet">Several rungs of a phrase under one another.</p>
    <fieldset>
      <legend>Rungs</legend>
      <label v-for="rung in sheet.rungs" :key="rung"><input v-model="rungs" type="checkbox" :value="rung" />{{ rung }}</label>
    </fieldset>
    <label>
      Phrase
      <select v-model.number="phrase">
        <option v-for="at in sheet.phrases" :key="at" :value="at">{{ at }}</option>
      </select>
    </label>
    <a v-if="rungs.length" :href="handout" download>Hand-out as PDF</a>
    <p v-else class="quiet">Choose a rung.</p>
  </section>
</template>

<style scoped>
audio {
  width: 100%;
}
.files {
  display: flex;
  flex-wrap: wrap;
  gap: 0.25rem 0.9rem;
}
label {
  display: flex;
  align-items: center;
  gap: 0.4rem;
}
fieldset {
  border: 0;
  margin: 0;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 0.2rem 0.7rem;
}
legend {
  float: left;
  padding: 0 0.6rem 0 0;
}
input[type='number'] {
  width: 4.2rem;
}
input[type='checkbox'] {
  margin: 0;
}
</style>

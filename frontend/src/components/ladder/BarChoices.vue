<script setup lang="ts">
import { computed } from 'vue'

import type { CellChoices } from '@/api/client'

/** The pattern to use in the bar, and the shape to hold for each of its chords; worked out when opened. */
const props = defineProps<{ choices: CellChoices | null; open: boolean; busy: boolean }>()
const emit = defineEmits<{ open: [open: boolean]; pattern: [name: string]; shape: [onset: string, frets: string] }>()

const chords = computed(() => {
  const byOnset = new Map<string, { chord: string; onset: string; shapes: CellChoices['shapes'] }>()
  for (const shape of props.choices?.shapes ?? []) {
    const known = byOnset.get(shape.onset) ?? { chord: shape.chord, onset: shape.onset, shapes: [] }
    byOnset.set(shape.onset, { ...known, shapes: [...known.shapes, shape] })
  }
  return [...byOnset.values()]
})
const value = (event: Event) => (event.target as HTMLSelectElement).value
</script>

<template>
  <div class="choices plain-fields">
    <button type="button" class="word-button link" :aria-expanded="open" @click="emit('open', !open)">Pattern and chord shapes</button>
    <p v-if="open && busy && !choices" class="quiet">Looking …</p>
    <div v-else-if="open && choices" class="fields">
      <label v-if="choices.patterns.length">
        Pattern
        <select :value="choices.playing[0] ?? ''" @change="emit('pattern', value($event))">
          <option v-if="!choices.patterns.includes(choices.playing[0] ?? '')" :value="choices.playing[0] ?? ''">
            {{ choices.playing.join(', ') || 'the melody alone' }}
          </option>
          <option v-for="name in choices.patterns" :key="name" :value="name">{{ name }}</option>
        </select>
      </label>
      <label v-for="chord in chords" :key="chord.onset">
        {{ chord.chord }} held as
        <select :value="chord.shapes.find((one) => one.used)?.frets ?? ''" @change="emit('shape', chord.onset, value($event))">
          <option v-if="!chord.shapes.some((one) => one.used)" value="">nothing</option>
          <option v-for="shape in chord.shapes" :key="shape.frets" :value="shape.frets">{{ shape.frets }}</option>
        </select>
      </label>
      <p v-if="!choices.patterns.length && !chords.length" class="quiet">There is no other here.</p>
    </div>
  </div>
</template>

<style scoped>
.choices .fields {
  display: flex;
  flex-wrap: wrap;
  gap: 0.3rem 0.8rem;
  margin-top: 0.3rem;
}
label {
  display: flex;
  gap: 0.3rem;
  align-items: center;
}
select {
  max-width: 11rem;
}
</style>

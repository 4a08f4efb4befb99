<script setup lang="ts">
import { computed } from 'vue'

import type { CellDetail } from '@/api/client'

/** The pattern to use in the bar, and the shape to hold for each of its chords. */
const props = defineProps<{ detail: CellDetail }>()
const emit = defineEmits<{ pattern: [name: string]; shape: [onset: string, frets: string] }>()

const chords = computed(() => {
  const byOnset = new Map<string, { chord: string; onset: string; shapes: CellDetail['shapes'] }>()
  for (const shape of props.detail.shapes) {
    const known = byOnset.get(shape.onset) ?? { chord: shape.chord, onset: shape.onset, shapes: [] }
    byOnset.set(shape.onset, { ...known, shapes: [...known.shapes, shape] })
  }
  return [...byOnset.values()]
})
const value = (event: Event) => (event.target as HTMLSelectElement).value
</script>

<template>
  <div v-if="detail.patterns.length || chords.length" class="choices plain-fields">
    <label v-if="detail.patterns.length">
      Pattern
      <select :value="detail.playing[0] ?? ''" @change="emit('pattern', value($event))">
        <option v-if="!detail.patterns.includes(detail.playing[0] ?? '')" :value="detail.playing[0] ?? ''">
          {{ detail.playing.join(', ') || 'the melody alone' }}
        </option>
        <option v-for="name in detail.patterns" :key="name" :value="name">{{ name }}</option>
      </select>
    </label>
    <label v-for="chord in chords" :key="chord.onset">
      {{ chord.chord }} held as
      <select :value="chord.shapes.find((one) => one.used)?.frets ?? ''" @change="emit('shape', chord.onset, value($event))">
        <option v-if="!chord.shapes.some((one) => one.used)" value="">nothing</option>
        <option v-for="shape in chord.shapes" :key="shape.frets" :value="shape.frets">{{ shape.frets }}</option>
      </select>
    </label>
  </div>
</template>

<style scoped>
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 0.3rem 0.8rem;
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

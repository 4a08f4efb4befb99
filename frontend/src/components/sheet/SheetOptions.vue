<script setup lang="ts">
import { computed } from 'vue'

import type { Sheet, SheetWish } from '@/api/client'

/** What the sheet shows: choices of words and things to print or leave out. `optional` where notes may be left out. */
const { optional } = defineProps<{ options: Sheet['options']; optional: boolean }>()
const emit = defineEmits<{ show: [wish: SheetWish] }>()

const CHOICES = [
  ['part', 'Part'],
  ['paper', 'Paper'],
  ['size', 'Size'],
  ['colours', 'Ink'],
  ['chords', 'Chords'],
  ['feel', 'Eighths'],
  ['staff', 'Staff above'],
  ['names', 'Note names'],
  ['letters', 'Note letters'],
] as const
const THINGS = [
  ['fingers', 'Left-hand fingers'],
  ['hands', 'Right hand'],
  ['words', 'Words'],
  ['diagrams', 'Chord diagrams'],
  ['kick_off', 'Kick-off'],
  ['second', 'Second time'],
  ['ending', 'Ending'],
  ['fillers', 'Notes that may be left out'],
  ['key', 'Key to the signs'],
  ['upside_down', 'String 1 at the bottom'],
] as const
const things = computed(() => THINGS.filter(([name]) => optional || name !== 'fillers'))
const value = (event: Event) => (event.target as HTMLSelectElement).value
const checked = (event: Event) => (event.target as HTMLInputElement).checked
</script>

<template>
  <section class="side-box plain-fields" aria-label="What the sheet shows">
    <h2>On the sheet</h2>
    <label v-for="[name, label] in CHOICES" :key="name" class="choice">
      <span>{{ label }}</span>
      <select :value="options[name]" @change="emit('show', { [name]: value($event) })">
        <option v-for="way in options.ways[name]" :key="way" :value="way">{{ way }}</option>
      </select>
    </label>
    <label v-for="[name, label] in things" :key="name">
      <input type="checkbox" :checked="options[name]" @change="emit('show', { [name]: checked($event) })" />
      {{ label }}
    </label>
  </section>
</template>

<style scoped>
label {
  display: flex;
  align-items: center;
  gap: 0.4rem;
}
.choice {
  justify-content: space-between;
}
input[type='checkbox'] {
  margin: 0;
}
</style>

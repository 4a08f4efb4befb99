<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'

import type { HandedOut } from '@/api/client'
import { barWords } from './changeWords'

/** Bars that stand as they were handed out, though a newer Nailhead would play them otherwise. */
const props = defineProps<{ handed: HandedOut; place: number }>()
const emit = defineEmits<{ keep: [places: number[]]; renew: [places: number[]]; show: [place: number] }>()

const open = ref(false)
const day = computed(() => new Date(`${props.handed.date}T12:00:00`).toLocaleDateString(undefined, { day: 'numeric', month: 'long', year: 'numeric' }))
const one = computed(() => props.handed.numbers.length === 1)
/** The selected bar, where it is one of them. */
const here = computed(() => {
  const at = props.handed.places.indexOf(props.place)
  return at < 0 ? null : { place: props.place, number: props.handed.numbers[at]! }
})
</script>

<template>
  <div class="handed">
    <button type="button" class="word-button line" :aria-expanded="open" @click="open = !open">
      {{ barWords(handed.numbers) }} {{ one ? 'stays' : 'stay' }} as handed out on {{ day }} ({{ handed.how }}). This version of Nailhead plays
      {{ one ? 'it' : 'them' }} differently.
    </button>
    <div v-if="open" class="choices">
      <span class="bars">
        <button v-for="(number, at) in handed.numbers" :key="number" type="button" class="word-button link" @click="emit('show', handed.places[at]!)">
          {{ barWords([number]) }}
        </button>
      </span>
      <template v-if="here && !one">
        <Button :label="`Keep ${barWords([here.number]).toLowerCase()}`" size="small" severity="secondary" @click="emit('keep', [here.place])" />
        <Button :label="`Use the new ${barWords([here.number]).toLowerCase()}`" size="small" severity="secondary" @click="emit('renew', [here.place])" />
      </template>
      <Button :label="one ? 'Keep it' : 'Keep all'" size="small" severity="secondary" @click="emit('keep', handed.places)" />
      <Button :label="one ? 'Use the new bar' : 'Use all new bars'" size="small" severity="secondary" @click="emit('renew', handed.places)" />
    </div>
  </div>
</template>

<style scoped>
.handed {
  border-left: 4px solid var(--dusk);
  background: var(--panel);
  padding: 0.25rem 0.75rem;
  font-size: 0.875rem;
}
.line {
  text-align: left;
}
.choices {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.4rem 0.6rem;
  padding: 0.3rem 0;
}
.bars {
  display: flex;
  flex-wrap: wrap;
  gap: 0.2rem 0.7rem;
}
</style>

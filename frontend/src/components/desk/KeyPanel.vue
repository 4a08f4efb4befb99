<script setup lang="ts">
import Button from 'primevue/button'
import Select from 'primevue/select'
import { computed, ref } from 'vue'

import type { DeskChange, DeskReading } from '@/api/client'

/** Key and metre: what the melody speaks for, another key or octave, the same tune in another metre. */
const props = defineProps<{ reading: DeskReading }>()
const emit = defineEmits<{ change: [change: DeskChange] }>()

const TONICS = ['C', 'Db', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B']
const pretty = (name: string) => name.replace('#', '♯').replace('b', '♭')
const WAYS = [
  { label: 'the nearer way', value: 'near' },
  { label: 'upwards', value: 'up' },
  { label: 'downwards', value: 'down' },
]
const METRES = ['4/4', '2/2', 'C|', '2/4', '3/4', '3/8', '6/8', '6/4', '12/8']
const tonic = ref('')
const way = ref('near')
const metre = ref('')
const keys = TONICS.map((name) => ({ label: pretty(name), value: name }))
const guesses = computed(() => props.reading.key_guesses.filter((guess) => !props.reading.key.startsWith(guess.name)))

function move() {
  if (tonic.value) emit('change', { kind: 'to_key', tonic: tonic.value, upwards: way.value === 'near' ? null : way.value === 'up' })
}
</script>

<template>
  <div class="key-panel">
    <section class="tool" aria-labelledby="key-title">
      <h3 id="key-title">Key: {{ reading.key }}</h3>
      <p v-if="reading.key_warning" class="warn">{{ reading.key_warning }}</p>
      <p v-else class="quiet">The melody agrees with it.</p>
      <p class="quiet">If another name is right, the notes stay and the signature changes:</p>
      <div class="tool-row">
        <Button
          v-for="guess in guesses"
          :key="guess.name"
          :label="guess.name"
          size="small"
          severity="secondary"
          :title="`fit ${guess.score.toFixed(2)}`"
          @click="emit('change', { kind: 'rename_key', key: guess.abc })"
        />
      </div>
    </section>
    <section class="tool" aria-labelledby="move-title">
      <h3 id="move-title">Move the tune</h3>
      <form class="tool-row" @submit.prevent="move">
        <span id="to-key">to</span>
        <Select v-model="tonic" :options="keys" option-label="label" option-value="value" size="small" placeholder="key" aria-labelledby="to-key" />
        <Select v-model="way" :options="WAYS" option-label="label" option-value="value" size="small" aria-label="Which way" />
        <Button type="submit" label="Move" size="small" :disabled="!tonic" />
      </form>
      <div class="tool-row">
        <Button label="Octave down" size="small" severity="secondary" @click="emit('change', { kind: 'transpose', semitones: -12 })" />
        <Button label="Octave up" size="small" severity="secondary" @click="emit('change', { kind: 'transpose', semitones: 12 })" />
      </div>
      <p class="quiet">Range {{ reading.lowest }} to {{ reading.highest }}. Chords move along, numbers stay.</p>
    </section>
    <section class="tool" aria-labelledby="metre-title">
      <h3 id="metre-title">Metre: {{ reading.metre }}</h3>
      <form class="tool-row" @submit.prevent="metre && emit('change', { kind: 'metre', metre })">
        <span id="to-metre">Write it in</span>
        <Select v-model="metre" :options="METRES" size="small" placeholder="metre" aria-labelledby="to-metre" />
        <Button type="submit" label="Write" size="small" :disabled="!metre" />
      </form>
      <p class="quiet">4/4, 2/2 and 2/4 with halved notes are the same tune; it sounds as before.</p>
      <p class="quiet">
        Saz accidentals count commas: B♭² is <code>_24/53B</code>, F♯³ is <code>^36/53F</code> (twelve 53rds of a
        semitone a comma).
      </p>
    </section>
  </div>
</template>

<style scoped>
.key-panel {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 1.5rem;
  font-size: 0.9rem;
}
.warn {
  border-left: 4px solid var(--madder);
  background: var(--madder-wash);
  padding: 0.3rem 0.6rem;
}
</style>

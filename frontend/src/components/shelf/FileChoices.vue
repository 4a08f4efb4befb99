<script setup lang="ts">
import Select from 'primevue/select'
import { computed } from 'vue'

import type { PreviewChoices } from '@/api/client'
import type { FileChoices } from '@/composables/useBringIn'

/** What a score or a MIDI file leaves open; a guess is named as one until somebody decides. */
const props = defineProps<{ left: PreviewChoices; choices: FileChoices }>()
const emit = defineEmits<{ decide: [change: Partial<FileChoices>] }>()

const GRIDS = ['1/8', '1/16', '1/32'].flatMap((value) => [
  { label: `${value} and triplets`, value: `${value} t` },
  { label: value, value },
])
const METRES = ['4/4', '2/2', '2/4', '3/4', '6/8', '9/8', '12/8', '5/8', '7/8', '2+2+2+3/8', '10/8']
const PICKUPS = ['0', '1/8', '1/4', '3/8', '1/2', '5/8', '3/4', '7/8']
const TONICS = ['C', 'Db', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B']
const MODES = { '': 'major', m: 'minor', dor: 'dorian', mix: 'mixolydian' }

const guessed = (name: string) => props.left.guessed.includes(name)
const withOwn = (values: string[], own: string) => (values.includes(own) ? values : [own, ...values])
const parts = computed(() => props.left.parts.map((name, index) => ({ label: name || `Part ${index + 1}`, value: index })))
const tracks = computed(() =>
  props.left.tracks.map((track) => ({
    label: `${track.index + 1} ${track.name || (track.drums ? 'drums' : 'track')}: ${track.notes} notes, ${track.lowest}–${track.highest}`,
    value: track.index,
  })),
)
const keys = computed(() => {
  const all = TONICS.flatMap((tonic) => Object.entries(MODES).map(([mode, name]) => ({ value: tonic + mode, label: `${tonic.replace('#', '♯').replace('b', '♭')} ${name}` })))
  return all.some((key) => key.value === props.left.key) ? all : [{ value: props.left.key, label: props.left.key }, ...all]
})
const grid = computed(() => props.left.grid + (props.left.triplets ? ' t' : ''))

function setGrid(value: string) {
  const [step = '', triplets] = value.split(' ')
  emit('decide', { grid: step, triplets: triplets === 't' })
}
</script>

<template>
  <div class="choices">
    <label v-if="parts.length > 1">
      <span id="part-name">Part</span>
      <Select :model-value="left.part" :options="parts" option-label="label" option-value="value" size="small" aria-labelledby="part-name" @update:model-value="emit('decide', { part: String($event) })" />
    </label>
    <template v-if="tracks.length">
      <label>
        <span id="track-name">Track <em v-if="guessed('track')">guessed</em></span>
        <Select :model-value="left.track" :options="tracks" option-label="label" option-value="value" size="small" aria-labelledby="track-name" @update:model-value="emit('decide', { track: String($event) })" />
      </label>
      <label>
        <span id="grid-name">Shortest note <em v-if="guessed('grid')">guessed</em></span>
        <Select :model-value="grid" :options="GRIDS" option-label="label" option-value="value" size="small" aria-labelledby="grid-name" @update:model-value="setGrid" />
      </label>
      <label>
        <span id="metre-name">Metre <em v-if="guessed('metre')">guessed</em></span>
        <Select :model-value="left.metre" :options="withOwn(METRES, left.metre)" size="small" aria-labelledby="metre-name" @update:model-value="emit('decide', { metre: $event, pickup: '' })" />
      </label>
      <label>
        <span id="pickup-name">Pickup <em v-if="guessed('pickup')">guessed</em></span>
        <Select :model-value="left.pickup" :options="withOwn(PICKUPS, left.pickup)" size="small" aria-labelledby="pickup-name" @update:model-value="emit('decide', { pickup: $event })" />
      </label>
      <label>
        <span id="key-name">Key <em v-if="guessed('key')">guessed</em></span>
        <Select :model-value="left.key" :options="keys" option-label="label" option-value="value" size="small" aria-labelledby="key-name" @update:model-value="emit('decide', { key: $event })" />
      </label>
      <label class="tick">
        <input type="checkbox" :checked="left.repeats" @change="emit('decide', { repeats: ($event.target as HTMLInputElement).checked })" />
        Write once what is played twice
      </label>
    </template>
  </div>
</template>

<style scoped>
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 0.6rem 0.9rem;
}
label {
  display: flex;
  flex-direction: column;
  gap: 0.15rem;
  font-size: 0.875rem;
}
.tick {
  flex-direction: row;
  align-items: center;
  align-self: end;
  gap: 0.4rem;
  padding-bottom: 0.4rem;
}
em {
  color: var(--madder);
}
</style>

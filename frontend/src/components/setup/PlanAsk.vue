<script setup lang="ts">
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed } from 'vue'

import type { Instrument } from '@/api/client'
import { OWN_VOICE, UNBOUND, VOICES, WEIGHTS, type Wanted } from '@/composables/usePlans'

/** What is decided first: the instrument and the way of playing, where it sounds, and what else the ways must keep to. */
const props = defineProps<{ instruments: Instrument[]; instrument: Instrument; idiom: string; wanted: Wanted }>()
const emit = defineEmits<{ instrument: [id: string]; idiom: [id: string]; change: [wish: Partial<Wanted>] }>()

const KEYS = ['C', 'Db', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B']
const pretty = (name: string) => name.replace('#', '♯').replace('b', '♭')
const keys = [
  { label: "the tune's own key", value: 'own' },
  { label: 'any key', value: 'any' },
  ...KEYS.map((key) => ({ label: pretty(key), value: key })),
]
const voices = VOICES.map((voice, value) => ({ label: voice.label, value }))
const tunings = computed(() => [
  { label: 'not said', value: 'none' },
  ...props.instrument.tunings.map((row) => ({ label: row.name === row.id ? row.name : `${row.name} · ${row.id}`, value: row.id })),
])
const limits = computed(() => [
  { label: 'any', value: UNBOUND },
  ...props.instrument.capos.map((fret) => ({ label: fret ? `up to ${fret}` : 'none', value: fret })),
])
const downs = computed(() => [
  { label: 'as far as usual', value: UNBOUND },
  { label: 'no', value: 0 },
  ...Array.from({ length: -(props.instrument.whole[0] ?? 0) }, (_, at) => ({ label: `up to ${at + 1} semitone${at ? 's' : ''}`, value: at + 1 })),
])

function only(tuning: string, on: boolean) {
  const others = props.wanted.tunings.filter((one) => one !== tuning)
  emit('change', { tunings: on ? [...others, tuning] : others })
}
const weigh = (name: string, event: Event) =>
  emit('change', { weights: { ...props.wanted.weights, [name]: Number((event.target as HTMLInputElement).value) } })
const checked = (event: Event) => (event.target as HTMLInputElement).checked
</script>

<template>
  <section class="ask" aria-label="What is wanted">
    <div class="fields">
      <label class="wide">
        <span id="instrument-name">Instrument</span>
        <Select :model-value="instrument.id" label-id="instrument" aria-labelledby="instrument-name" :options="instruments" option-label="name" option-value="id" @update:model-value="emit('instrument', $event)" />
      </label>
      <label>
        <span id="idiom-name">Way of playing</span>
        <Select :model-value="idiom" label-id="idiom" aria-labelledby="idiom-name" :options="instrument.idioms" option-label="name" option-value="id" @update:model-value="emit('idiom', $event)" />
      </label>
      <label>
        <span id="plan-key">Sounds in</span>
        <Select :model-value="wanted.key || 'own'" :options="keys" option-label="label" option-value="value" aria-labelledby="plan-key" @update:model-value="emit('change', { key: $event === 'own' ? '' : $event })" />
      </label>
      <label>
        <span id="plan-voice">Singer</span>
        <Select :model-value="wanted.voice" :options="voices" option-label="label" option-value="value" aria-labelledby="plan-voice" @update:model-value="emit('change', { voice: $event })" />
      </label>
      <template v-if="wanted.voice === OWN_VOICE">
        <label>Lowest note<InputText :model-value="wanted.low" class="pitch" placeholder="A3" @update:model-value="emit('change', { low: $event ?? '' })" /></label>
        <label>Highest note<InputText :model-value="wanted.high" class="pitch" placeholder="D5" @update:model-value="emit('change', { high: $event ?? '' })" /></label>
      </template>
    </div>
    <details class="more">
      <summary>What matters more, and limits</summary>
      <div class="fields">
        <label>
          <span id="plan-current">It is tuned to</span>
          <Select :model-value="wanted.current || 'none'" :options="tunings" option-label="label" option-value="value" size="small" aria-labelledby="plan-current" @update:model-value="emit('change', { current: $event === 'none' ? '' : $event })" />
        </label>
        <label class="tick"><input type="checkbox" :checked="wanted.mayRetune" :disabled="!wanted.current" @change="emit('change', { mayRetune: checked($event) })" /> may retune</label>
        <label v-if="instrument.highest_capo">
          <span id="plan-capo">Highest capo</span>
          <Select :model-value="wanted.highestCapo" :options="limits" option-label="label" option-value="value" size="small" aria-labelledby="plan-capo" @update:model-value="emit('change', { highestCapo: $event })" />
        </label>
        <label v-if="!instrument.relative">
          <span id="plan-down">Tune it all down</span>
          <Select :model-value="wanted.mostDown" :options="downs" option-label="label" option-value="value" size="small" aria-labelledby="plan-down" @update:model-value="emit('change', { mostDown: $event })" />
        </label>
      </div>
      <fieldset>
        <legend class="quiet">What matters more</legend>
        <label v-for="name in WEIGHTS" :key="name" class="tick">
          <span>{{ name }}</span>
          <input type="range" min="0" max="12" step="1" :value="wanted.weights[name]" @input="weigh(name, $event)" />
        </label>
      </fieldset>
      <fieldset>
        <legend class="quiet">Only these tunings</legend>
        <label v-for="row in instrument.tunings" :key="row.id" class="tick">
          <input type="checkbox" :checked="wanted.tunings.includes(row.id)" @change="only(row.id, checked($event))" /> {{ row.name }}
        </label>
      </fieldset>
    </details>
  </section>
</template>

<style scoped>
.ask {
  display: flex;
  flex-direction: column;
  gap: 0.4rem;
}
.fields {
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem 0.9rem;
  align-items: flex-end;
}
label {
  display: flex;
  flex-direction: column;
  font-size: 0.875rem;
}
.wide {
  min-width: 13rem;
}
.tick {
  flex-direction: row;
  gap: 0.4rem;
  align-items: center;
}
.fields .tick {
  padding-bottom: 0.4rem;
}
fieldset {
  border: 0;
  padding: 0;
  margin: 0.5rem 0 0;
  display: flex;
  flex-wrap: wrap;
  gap: 0.2rem 1rem;
}
input[type='range'] {
  width: 6rem;
}
input {
  accent-color: var(--spruce);
}
.more summary {
  cursor: pointer;
  color: var(--spruce);
  font-size: 0.9rem;
  width: fit-content;
}
.more[open] summary {
  margin-bottom: 0.4rem;
}
.pitch {
  width: 5rem;
}
</style>

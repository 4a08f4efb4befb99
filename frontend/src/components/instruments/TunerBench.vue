<script setup lang="ts">
import Button from 'primevue/button'
import Select from 'primevue/select'
import { computed, ref, toRef, watch } from 'vue'

import type { Instrument, TunerString } from '@/api/client'
import ProblemNote from '@/components/ProblemNote.vue'
import { MOST_CENTS, useTuner } from '@/composables/useTuner'
import TunerDial from './TunerDial.vue'

/** Retuning rehearsed string by string, with tones to tune by; a recording can be dropped on it. */
const props = defineProps<{ instrument: Instrument; tuning?: string }>()

const goal = ref('')
const current = ref('')
watch(
  () => props.instrument.id,
  () => {
    goal.value = props.tuning ?? props.instrument.tunings[0]!.id
    current.value = props.instrument.tunings[0]!.id
  },
  { immediate: true },
)
const tunings = computed(() => props.instrument.tunings.map((row) => ({ label: row.name === row.id ? row.name : `${row.name} · ${row.id}`, value: row.id })))
const { tuner, problem, heard, heardProblem, source, string, chosen, off, turn, measure, play } = useTuner(toRef(() => props.instrument.id), goal, current)

const dropping = ref(false)
function dropped(event: DragEvent) {
  dropping.value = false
  const file = event.dataTransfer?.files[0]
  if (file) void measure(file)
}
function opened(event: Event) {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (file) void measure(file)
}
const way = (one: TunerString) => (one.semitones === 0 ? 'stays' : `${one.semitones > 0 ? 'up' : 'down'} ${Math.abs(one.semitones)}`)
const percent = (one: TunerString) => `${one.tension_percent < 0 ? '−' : '+'}${Math.abs(one.tension_percent)} %`
function pull(one: TunerString): string {
  if (one.tension_n === null || one.before_n === null) return one.semitones ? percent(one) : ''
  return one.semitones ? `${Math.round(one.before_n)} → ${Math.round(one.tension_n)} N, ${percent(one)}` : `${Math.round(one.tension_n)} N`
}
</script>

<template>
  <section class="tuner" aria-label="Tuner" @dragover.prevent="dropping = true" @dragleave="dropping = false" @drop.prevent="dropped">
    <div class="ask">
      <label><span id="tuner-from">It is tuned to</span><Select v-model="current" :options="tunings" option-label="label" option-value="value" size="small" aria-labelledby="tuner-from" /></label>
      <label><span id="tuner-goal">Tune it to</span><Select v-model="goal" :options="tunings" option-label="label" option-value="value" size="small" aria-labelledby="tuner-goal" /></label>
    </div>
    <ProblemNote v-if="problem" :problem="problem" />
    <div v-else-if="tuner" class="bench">
      <table>
        <caption class="quiet">Strings of {{ tuner.tuning }}, from the bass</caption>
        <thead>
          <tr><th scope="col">String</th><th scope="col">From</th><th scope="col">To</th><th scope="col">Peg</th><th scope="col">Pull</th><th scope="col"><span class="hidden">Choose</span></th></tr>
        </thead>
        <tbody>
          <tr v-for="one in tuner.strings" :key="one.number" :class="{ chosen: one.number === string }" @click="string = one.number">
            <th scope="row">{{ one.number }}</th>
            <td>{{ one.from_pitch }}</td>
            <td><strong>{{ one.pitch }}</strong> <span class="quiet hertz">{{ one.hertz.toFixed(1) }} Hz</span></td>
            <td>{{ way(one) }}</td>
            <td>{{ pull(one) }}</td>
            <td><Button label="Tune" size="small" :severity="one.number === string ? undefined : 'secondary'" :aria-pressed="one.number === string" @click.stop="string = one.number" /></td>
          </tr>
        </tbody>
      </table>
      <div v-if="chosen" class="dial">
        <h2>String {{ chosen.number }} to {{ chosen.pitch }}</h2>
        <TunerDial :heard="heard" />
        <p class="said" role="status">{{ heard ? heard.said : 'Turn the peg or play the string.' }}</p>
        <p v-if="heard" class="quiet">
          {{ source === 'recording' ? 'The recording' : 'The string' }} sounds at {{ heard.hertz.toFixed(2) }} Hz, {{ Math.abs(heard.off_cents).toFixed(1) }} cents
          {{ heard.off_cents < 0 ? 'below' : 'above' }} {{ heard.pitch }}.
        </p>
        <ProblemNote v-if="heardProblem" :problem="heardProblem" />
        <label class="peg">
          Peg
          <input type="range" :min="-MOST_CENTS" :max="MOST_CENTS" step="1" :value="off" aria-label="Peg, in cents beside the goal" @input="turn(Number(($event.target as HTMLInputElement).value))" />
        </label>
        <div class="tool-row">
          <Button label="−10" size="small" severity="secondary" aria-label="Ten cents down" @click="turn(off - 10)" />
          <Button label="−1" size="small" severity="secondary" aria-label="A cent down" @click="turn(off - 1)" />
          <Button label="+1" size="small" severity="secondary" aria-label="A cent up" @click="turn(off + 1)" />
          <Button label="+10" size="small" severity="secondary" aria-label="Ten cents up" @click="turn(off + 10)" />
          <Button label="Play the string" size="small" severity="secondary" @click="play(off)" />
          <Button label="Hear the goal" size="small" @click="play(0)" />
        </div>
        <p v-if="chosen.caution" class="caution">{{ chosen.caution }}</p>
        <p v-for="caution in tuner.cautions" :key="caution" class="quiet small">{{ caution }}</p>
        <label class="drop" :class="{ dropping }">
          Drop a recording of one string here (WAV), or
          <input type="file" accept="audio/*,.wav,.flac,.ogg" aria-label="A recording of one string" @change="opened" />
        </label>
        <p class="quiet small">The microphone is simulated: it hears the string as its peg stands, so that a retuning can be rehearsed with no instrument at hand.</p>
      </div>
    </div>
  </section>
</template>

<style scoped>
.tuner,
.dial {
  display: flex;
  flex-direction: column;
  gap: 0.6rem;
}
.ask {
  display: flex;
  gap: 0.9rem;
}
.ask label {
  display: flex;
  flex-direction: column;
  font-size: 0.875rem;
}
.bench {
  display: grid;
  grid-template-columns: minmax(0, 6fr) minmax(0, 5fr);
  gap: 1.5rem;
  align-items: start;
}
caption {
  text-align: left;
  padding-bottom: 0.3rem;
}
table {
  border-collapse: collapse;
  background: var(--panel);
  border: 1px solid var(--hairline);
  width: 100%;
}
th,
td {
  text-align: left;
  padding: 0.25rem 0.6rem;
  border-bottom: 1px solid var(--hairline);
  font-size: 0.9rem;
  white-space: nowrap;
}
tbody th {
  font-family: var(--title-face);
  font-size: 1.15rem;
}
tbody tr {
  cursor: pointer;
}
.chosen {
  background: var(--spruce-wash);
}
.dial {
  background: var(--panel);
  border: 1px solid var(--hairline);
  padding: 0.9rem 1.1rem;
}
.said {
  font-weight: 700;
}
.peg {
  display: flex;
  gap: 0.6rem;
  align-items: center;
}
.peg input {
  flex: 1;
  accent-color: var(--spruce);
}
.caution {
  border-left: 4px solid var(--madder);
  background: var(--madder-wash);
  padding: 0.35rem 0.7rem;
  font-size: 0.9rem;
}
.hertz {
  font-size: 0.8rem;
}
.drop input::file-selector-button {
  font: inherit;
  padding: 0.15rem 0.6rem;
  border: 1px solid var(--string);
  background: var(--panel);
  color: var(--ink);
}
.drop input {
  max-width: 100%;
}
.drop {
  border: 1px dashed var(--string);
  padding: 0.5rem 0.7rem;
  font-size: 0.9rem;
}
.dropping {
  background: var(--spruce-wash);
}
.small {
  font-size: 0.85rem;
}
.hidden {
  position: absolute;
  clip-path: inset(50%);
  width: 1px;
  height: 1px;
  overflow: hidden;
}
</style>

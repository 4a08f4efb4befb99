<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref, toRef, watch } from 'vue'

import type { Instrument, Plan, SetupAnswer } from '@/api/client'
import ProblemNote from '@/components/ProblemNote.vue'
import { OWN_VOICE, UNBOUND, usePlans, VOICES, WEIGHTS } from '@/composables/usePlans'

/** Ways to play the tune on an instrument, best first, each with its reasons and its price. */
const props = defineProps<{ tuneId: number; instrument: Instrument; idiom: string; picked: SetupAnswer | null }>()
const emit = defineEmits<{ pick: [setup: SetupAnswer]; chords: [names: string[]] }>()

const { wanted, plans, problem, reason, explain } = usePlans(
  toRef(props, 'tuneId'),
  computed(() => props.instrument.id),
  toRef(props, 'idiom'),
)

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
const expected = ref({ tuning: '', capo: 0 })
watch(
  () => props.instrument.id,
  () => {
    Object.assign(wanted, { current: '', tunings: [], highestCapo: UNBOUND, mostDown: UNBOUND })
    expected.value = { tuning: '', capo: 0 }
    reason.answer.value = null
  },
)

const same = (plan: Plan) =>
  props.picked &&
  plan.setup.tuning === props.picked.tuning &&
  plan.setup.capo === props.picked.capo &&
  plan.setup.sounding_key === props.picked.sounding_key
const capos = computed(() => props.instrument.capos.map((fret) => ({ label: fret ? `capo ${fret}` : 'no capo', value: fret })))
/** The chords of the tune in the shapes of what is picked, for the neck. */
watch(
  [plans, () => props.picked],
  () => {
    const plan = plans.value?.find((one) => same(one)) ?? plans.value?.[0]
    emit('chords', plan?.shapes.map((one) => one.shape_name) ?? [])
  },
  { immediate: true },
)
const limits = computed(() => [{ label: 'any', value: UNBOUND }, ...capos.value.map((one) => ({ label: one.value ? `up to ${one.label.replace('capo ', '')}` : 'none', value: one.value }))])
const downs = computed(() => [
  { label: 'as far as usual', value: UNBOUND },
  { label: 'no', value: 0 },
  ...Array.from({ length: -(props.instrument.whole[0] ?? 0) }, (_, at) => ({ label: `up to ${at + 1} semitone${at ? 's' : ''}`, value: at + 1 })),
])
const shapesOf = (plan: Plan) => plan.shapes.map((one) => `${one.shape_name} ${one.frets}`).join(', ')
</script>

<template>
  <section class="plans" aria-labelledby="plans-title">
    <h2 id="plans-title">Ways to play it</h2>
    <div class="ask">
      <label
        ><span id="plan-key">Sounds in</span>
        <Select :model-value="wanted.key || 'own'" :options="keys" option-label="label" option-value="value" size="small" aria-labelledby="plan-key" @update:model-value="wanted.key = $event === 'own' ? '' : $event"
      /></label>
      <label
        ><span id="plan-voice">Singer</span>
        <Select v-model="wanted.voice" :options="voices" option-label="label" option-value="value" size="small" aria-labelledby="plan-voice"
      /></label>
      <label
        ><span id="plan-current">It is tuned to</span>
        <Select :model-value="wanted.current || 'none'" :options="tunings" option-label="label" option-value="value" size="small" aria-labelledby="plan-current" @update:model-value="wanted.current = $event === 'none' ? '' : $event"
      /></label>
      <label class="tick"><input v-model="wanted.mayRetune" type="checkbox" :disabled="!wanted.current" /> may retune</label>
      <template v-if="wanted.voice === OWN_VOICE">
        <label>Lowest note<InputText v-model="wanted.low" size="small" class="pitch" placeholder="A3" /></label>
        <label>Highest note<InputText v-model="wanted.high" size="small" class="pitch" placeholder="D5" /></label>
      </template>
    </div>
    <fieldset class="weights">
      <legend class="quiet">What matters more</legend>
      <label v-for="name in WEIGHTS" :key="name">
        <span>{{ name }}</span>
        <input v-model.number="wanted.weights[name]" type="range" min="0" max="12" step="1" />
      </label>
    </fieldset>
    <details class="more">
      <summary>Limits: tunings, capo, tuning it all down</summary>
      <div class="ask">
        <label v-if="instrument.highest_capo"
          ><span id="plan-capo">Highest capo</span>
          <Select v-model="wanted.highestCapo" :options="limits" option-label="label" option-value="value" size="small" aria-labelledby="plan-capo"
        /></label>
        <label v-if="!instrument.relative"
          ><span id="plan-down">Tune it all down</span>
          <Select v-model="wanted.mostDown" :options="downs" option-label="label" option-value="value" size="small" aria-labelledby="plan-down"
        /></label>
        <fieldset class="only">
          <legend>Only these tunings</legend>
          <label v-for="row in instrument.tunings" :key="row.id"><input v-model="wanted.tunings" type="checkbox" :value="row.id" /> {{ row.name }}</label>
        </fieldset>
      </div>
    </details>
    <ProblemNote v-if="problem" :problem="problem" />
    <ol v-else-if="plans" class="list">
      <li v-for="plan in plans" :key="`${plan.setup.tuning}${plan.setup.capo}${plan.setup.sounding_key}${plan.cost}`" :class="{ picked: same(plan) }">
        <button type="button" @click="emit('pick', plan.setup)">
          <span class="what">
            <strong>{{ plan.tuning_name }}</strong><template v-if="plan.setup.capo">, capo {{ plan.setup.capo }}</template
            ><template v-if="plan.setup.fifth">, fifth string {{ pretty(plan.setup.fifth.replace(/[0-9]/, '')) }}</template>
          </span>
          <span class="keys">plays {{ plan.setup.shape_key }}, sounds {{ plan.setup.sounding_key }}</span>
          <span class="cost" :aria-label="`cost ${plan.cost}`">{{ plan.cost }}</span>
          <span class="terms">
            <span v-for="term in plan.terms" :key="term.name" :title="`${term.name}: ${term.points}`">{{ term.sentence }} <b>+{{ term.points }}</b></span>
          </span>
          <span v-if="plan.shapes.length" class="retune">Frets {{ plan.setup.lowest_fret }} to {{ plan.setup.highest_fret }}. Shapes: {{ shapesOf(plan) }}.</span>
          <span v-if="plan.retunings.length" class="retune">
            <template v-for="change in plan.retunings" :key="change.string"
              >String {{ change.string }} {{ change.semitones > 0 ? 'up' : 'down' }} {{ Math.abs(change.semitones) }} to {{ change.pitch }} ({{
                change.tension_percent > 0 ? '+' : '−'
              }}{{ Math.abs(change.tension_percent) }} % tension<template v-if="change.tension_n !== null && change.before_n !== null">, {{ change.before_n }} → {{ change.tension_n }} N</template>).
            </template>
          </span>
          <span v-for="change in plan.retunings.filter((one) => one.caution)" :key="`c${change.string}`" class="retune caution">{{ change.caution }}</span>
        </button>
      </li>
    </ol>
    <form class="why" @submit.prevent="expected.tuning && explain(expected.tuning, expected.capo)">
      <span id="why-name">Why not</span>
      <Select v-model="expected.tuning" :options="tunings.slice(1)" option-label="label" option-value="value" size="small" placeholder="tuning" aria-label="Expected tuning" />
      <Select v-if="instrument.highest_capo" v-model="expected.capo" :options="capos" option-label="label" option-value="value" size="small" aria-label="Expected capo" />
      <Button type="submit" label="?" size="small" severity="secondary" aria-label="Why not?" :disabled="!expected.tuning" />
      <span v-if="reason.answer.value" role="status">{{ reason.answer.value.said }}</span>
      <ProblemNote v-if="reason.problem.value" :problem="reason.problem.value" />
    </form>
  </section>
</template>

<style scoped>
.plans {
  display: flex;
  flex-direction: column;
  gap: 0.6rem;
}
.ask {
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem 0.9rem;
  align-items: flex-end;
}
.ask label {
  display: flex;
  flex-direction: column;
  font-size: 0.875rem;
}
.ask .tick {
  flex-direction: row;
  gap: 0.4rem;
  align-items: center;
  padding-bottom: 0.4rem;
}
.weights {
  display: flex;
  flex-wrap: wrap;
  gap: 0.2rem 1rem;
  border: 0;
  margin: 0;
  padding: 0;
  font-size: 0.875rem;
}
.weights label {
  display: flex;
  align-items: center;
  gap: 0.4rem;
}
.weights input {
  width: 5rem;
  accent-color: var(--spruce);
}
.list {
  list-style: none;
  margin: 0;
  padding: 0;
  background: var(--panel);
  border: 1px solid var(--hairline);
}
.list li + li {
  border-top: 1px solid var(--hairline);
}
.list button {
  width: 100%;
  display: grid;
  grid-template-columns: 1fr auto auto;
  gap: 0.1rem 0.9rem;
  align-items: baseline;
  padding: 0.4rem 0.75rem;
  border: 0;
  background: none;
  font: inherit;
  color: var(--ink);
  text-align: left;
  cursor: pointer;
}
.list button:hover,
.picked {
  background: var(--spruce-wash);
}
.picked button {
  box-shadow: inset 4px 0 0 var(--spruce);
}
.what strong {
  font-family: var(--title-face);
  font-size: 1.1rem;
}
.keys {
  font-size: 0.9rem;
}
.cost {
  font-weight: 700;
  min-width: 2rem;
  text-align: right;
}
.terms {
  grid-column: 1 / -1;
  display: flex;
  flex-wrap: wrap;
  gap: 0 0.9rem;
  font-size: 0.8rem;
  color: var(--ink-soft);
}
.terms b {
  color: var(--ink);
}
.retune {
  grid-column: 1 / -1;
  font-size: 0.8rem;
}
.caution {
  border-left: 4px solid var(--madder);
  background: var(--madder-wash);
  padding: 0.15rem 0.5rem;
}
.more summary {
  cursor: pointer;
  color: var(--spruce);
  font-size: 0.9rem;
}
.more[open] summary {
  margin-bottom: 0.4rem;
}
.only {
  border: 0;
  padding: 0;
  margin: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 0.1rem 0.8rem;
  font-size: 0.875rem;
}
.only label {
  flex-direction: row;
  gap: 0.3rem;
}
.pitch {
  width: 5rem;
}
.why {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.5rem;
  font-size: 0.9rem;
}
</style>

<script setup lang="ts">
import Button from 'primevue/button'
import Select from 'primevue/select'
import { computed } from 'vue'

import type { Instrument, Problem, SetupAnswer } from '@/api/client'
import ProblemNote from '@/components/ProblemNote.vue'
import { LEFT_OPEN, type Chosen } from '@/composables/useSetup'
import { joinTuning, movedLabel, splitTuning } from './movedTuning'

/** What the picked setup gives, and its tuning, capo and fifth string chosen by hand. */
const props = defineProps<{
  chosen: Chosen
  instrument: Instrument
  answer: SetupAnswer | null
  problem: Problem | null
  busy: boolean
}>()
const emit = defineEmits<{ keep: [setup: SetupAnswer]; change: [field: 'tuning' | 'capo' | 'fifth', value: string] }>()

const CHOOSE = { label: 'choose for me', value: LEFT_OPEN }
const pretty = (name: string) => name.replace('#', '♯').replace('b', '♭')

const tunings = computed(() => [
  CHOOSE,
  ...props.instrument.tunings.map((row) => ({ label: row.name === row.id ? row.name : `${row.name} · ${row.id}`, value: row.id })),
])
const tuned = computed(() => (props.chosen.tuning === LEFT_OPEN ? { base: LEFT_OPEN, moved: 0 } : splitTuning(props.chosen.tuning)))
const moves = computed(() => {
  const [low = 0, high = 0] = props.instrument.whole
  return Array.from({ length: high - low + 1 }, (_, at) => high - at).map((moved) => ({ label: movedLabel(moved, props.instrument.relative), value: moved }))
})
const capos = computed(() => [
  CHOOSE,
  ...props.instrument.capos.map((fret) => ({
    label: fret ? `fret ${fret}` : 'no capo',
    value: String(fret),
  })),
])
const fifths = computed(() => [
  { label: 'tonic or fifth of the key', value: LEFT_OPEN },
  ...props.instrument.drone_choices.map((name) => ({ label: pretty(name), value: name })),
])
const described = computed(() => props.answer?.tuning_label ?? '')
const remarks = computed(() => props.answer?.remarks.filter((text) => !/^(Chosen|Plays)/.test(text)) ?? [])
</script>

<template>
  <section class="setup" aria-label="The picked setup">
    <ProblemNote v-if="problem" :problem="problem" />
    <div v-else-if="answer" class="answer" aria-live="polite">
      <dl class="keys">
        <div>
          <dt>The hands play</dt>
          <dd>{{ answer.shape_key }}</dd>
        </div>
        <div>
          <dt>It sounds</dt>
          <dd>{{ answer.sounding_key }}</dd>
        </div>
      </dl>
      <p>
        {{ described }}<template v-if="instrument.highest_capo">, {{ answer.capo ? `capo ${answer.capo}` : 'no capo' }}</template><template v-if="answer.fifth">,
          fifth string at {{ pretty(answer.fifth) }}<template v-if="answer.hook_fret"> (hook at fret {{ answer.hook_fret }})</template></template>.
        <span class="quiet">Frets {{ answer.lowest_fret }} to {{ answer.highest_fret }}, {{ Math.round(answer.open_share * 100) }} % of the notes on open strings.</span>
      </p>
      <ul v-if="remarks.length" class="quiet remarks">
        <li v-for="remark in remarks" :key="remark">{{ remark }}</li>
      </ul>
      <p v-for="caution in answer.cautions" :key="caution" class="caution">{{ caution }}</p>
    </div>
    <details class="by-hand">
      <summary>Choose by hand</summary>
      <div class="fields">
        <span id="tuning-name">Tuning</span>
        <Select :model-value="tuned.base" label-id="tuning" aria-labelledby="tuning-name" :options="tunings" option-label="label" option-value="value" size="small" @update:model-value="emit('change', 'tuning', $event)" />
        <template v-if="tuned.base !== LEFT_OPEN && moves.length > 1">
          <span id="moved-name">{{ instrument.relative ? 'It sounds' : 'All strings' }}</span>
          <Select :model-value="tuned.moved" label-id="moved" aria-labelledby="moved-name" :options="moves" option-label="label" option-value="value" size="small" @update:model-value="emit('change', 'tuning', joinTuning(tuned.base, $event))" />
        </template>
        <template v-if="instrument.highest_capo">
          <span id="capo-name">Capo</span>
          <Select :model-value="chosen.capo" label-id="capo" aria-labelledby="capo-name" :options="capos" option-label="label" option-value="value" size="small" @update:model-value="emit('change', 'capo', $event)" />
        </template>
        <template v-if="instrument.drone_choices.length">
          <span id="fifth-name">Fifth string</span>
          <Select :model-value="chosen.fifth" label-id="fifth" aria-labelledby="fifth-name" :options="fifths" option-label="label" option-value="value" size="small" @update:model-value="emit('change', 'fifth', $event)" />
        </template>
      </div>
      <Button label="Set up so" severity="secondary" :disabled="!answer || !!problem || busy" @click="answer && emit('keep', answer)" />
    </details>
  </section>
</template>

<style scoped>
.setup,
.answer {
  display: flex;
  flex-direction: column;
  gap: 0.5rem;
}
.setup {
  background: var(--panel);
  border: 1px solid var(--hairline);
  padding: 0.8rem 1rem 0.9rem;
  font-size: 0.94rem;
}
.fields {
  display: grid;
  grid-template-columns: 6.5rem 1fr;
  gap: 0.4rem 0.75rem;
  align-items: center;
  margin: 0.5rem 0 0.7rem;
}
.keys {
  display: grid;
  grid-template-columns: 1fr 1fr;
  margin: 0;
}
dt {
  color: var(--ink-soft);
  font-size: 0.875rem;
}
dd {
  margin: 0;
  font-family: var(--title-face);
  font-weight: 600;
  font-size: 1.4rem;
  line-height: 1.2;
}
.remarks {
  margin: 0;
  padding-left: 1.1rem;
}
.caution {
  border-left: 4px solid var(--madder);
  background: var(--madder-wash);
  padding: 0.45rem 0.7rem;
  font-size: 0.9rem;
}
summary {
  cursor: pointer;
  color: var(--spruce);
  width: fit-content;
}
</style>

<script setup lang="ts">
import Button from 'primevue/button'
import Select from 'primevue/select'
import { computed } from 'vue'

import type { Instrument, SetupAnswer, SetupWish } from '@/api/client'
import ProblemNote from '@/components/ProblemNote.vue'
import { LEFT_OPEN } from '@/composables/useSetup'
import { joinTuning, movedLabel, splitTuning } from './movedTuning'
import type { Problem } from '@/api/client'

/** The setup as chosen, by the list or by hand, and what it gives. */
const props = defineProps<{
  chosen: { instrument: string; idiom: string; tuning: string; capo: string; fifth: string; key: string }
  instruments: Instrument[]
  instrument: Instrument | undefined
  answer: SetupAnswer | null
  problem: Problem | null
  busy: boolean
}>()
const emit = defineEmits<{ keep: [wish: SetupWish]; instrument: [id: string]; change: [field: string, value: string] }>()

const CHOOSE = { label: 'choose for me', value: LEFT_OPEN }
const KEYS = ['C', 'Db', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B']
const pretty = (name: string) => name.replace('#', '♯').replace('b', '♭')

const tunings = computed(() => [
  CHOOSE,
  ...(props.instrument?.tunings ?? []).map((row) => ({ label: row.name === row.id ? row.name : `${row.name} · ${row.id}`, value: row.id })),
])
const tuned = computed(() => (props.chosen.tuning === LEFT_OPEN ? { base: LEFT_OPEN, moved: 0 } : splitTuning(props.chosen.tuning)))
const moves = computed(() => {
  const [low = 0, high = 0] = props.instrument?.whole ?? []
  return Array.from({ length: high - low + 1 }, (_, at) => high - at).map((moved) => ({ label: movedLabel(moved, props.instrument?.relative ?? false), value: moved }))
})
const capos = computed(() => [
  CHOOSE,
  ...(props.instrument?.capos ?? [0]).map((fret) => ({
    label: fret ? `fret ${fret}` : 'no capo',
    value: String(fret),
  })),
])
const fifths = computed(() => [
  { label: 'tonic or fifth of the key', value: LEFT_OPEN },
  ...(props.instrument?.drone_choices ?? []).map((name) => ({ label: pretty(name), value: name })),
])
const keys = [{ label: "the tune's own", value: LEFT_OPEN }, ...KEYS.map((key) => ({ label: pretty(key), value: key }))]
const described = computed(() => props.answer?.tuning_label ?? '')

/** Keeps what is on screen, so that a later default cannot change it. */
function keep() {
  if (!props.answer) return
  const { instrument: name, idiom, tuning, capo, fifth, sounding_tonic: key } = props.answer
  emit('keep', { instrument: name, idiom, tuning, capo, fifth, key })
}
</script>

<template>
  <section class="setup" aria-labelledby="setup-title">
    <h2 id="setup-title">Set up</h2>
    <div class="fields">
      <span id="instrument-name">Instrument</span>
      <Select :model-value="chosen.instrument" label-id="instrument" aria-labelledby="instrument-name" :options="instruments" option-label="name" option-value="id" @update:model-value="emit('instrument', $event)" />
      <span id="idiom-name">Way of playing</span>
      <Select :model-value="chosen.idiom" label-id="idiom" aria-labelledby="idiom-name" :options="instrument?.idioms ?? []" option-label="name" option-value="id" @update:model-value="emit('change', 'idiom', $event)" />
      <span id="sounding-name">Sounding key</span>
      <Select :model-value="chosen.key" @update:model-value="emit('change', 'key', $event)" label-id="sounding" aria-labelledby="sounding-name" :options="keys" option-label="label" option-value="value" />
      <span id="tuning-name">Tuning</span>
      <Select :model-value="tuned.base" @update:model-value="emit('change', 'tuning', $event)" label-id="tuning" aria-labelledby="tuning-name" :options="tunings" option-label="label" option-value="value" />
      <template v-if="tuned.base !== LEFT_OPEN && moves.length > 1">
        <span id="moved-name">{{ instrument?.relative ? 'It sounds' : 'All strings' }}</span>
        <Select :model-value="tuned.moved" label-id="moved" aria-labelledby="moved-name" :options="moves" option-label="label" option-value="value" @update:model-value="emit('change', 'tuning', joinTuning(tuned.base, $event))" />
      </template>
      <span v-if="instrument?.highest_capo" id="capo-name">Capo</span>
      <Select v-if="instrument?.highest_capo" :model-value="chosen.capo" @update:model-value="emit('change', 'capo', $event)" label-id="capo" aria-labelledby="capo-name" :options="capos" option-label="label" option-value="value" />
      <span v-if="instrument?.drone_choices.length" id="fifth-name">Fifth string</span>
      <Select v-if="instrument?.drone_choices.length" :model-value="chosen.fifth" @update:model-value="emit('change', 'fifth', $event)" label-id="fifth" aria-labelledby="fifth-name" :options="fifths" option-label="label" option-value="value" />
    </div>
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
        {{ described }}<template v-if="instrument?.highest_capo">, {{ answer.capo ? `capo ${answer.capo}` : 'no capo' }}</template><template v-if="answer.fifth">,
          fifth string at {{ pretty(answer.fifth) }}<template v-if="answer.hook_fret"> (hook at fret {{ answer.hook_fret }})</template></template>.
      </p>
      <p class="quiet">
        Frets {{ answer.lowest_fret }} to {{ answer.highest_fret }}, {{ Math.round(answer.open_share * 100) }} % of the
        notes on open strings.
      </p>
      <ul v-if="answer.remarks.length" class="quiet remarks">
        <li v-for="remark in answer.remarks.filter((text) => !/^(Chosen|Plays)/.test(text))" :key="remark">{{ remark }}</li>
      </ul>
      <p v-for="caution in answer.cautions" :key="caution" class="caution">{{ caution }}</p>
    </div>
    <div>
      <Button label="Set up" :disabled="!answer || !!problem || busy" @click="keep" />
    </div>
  </section>
</template>

<style scoped>
.setup {
  display: flex;
  flex-direction: column;
  gap: 0.9rem;
  background: var(--panel);
  border: 1px solid var(--hairline);
  padding: 1.1rem 1.25rem 1.25rem;
}
.fields {
  display: grid;
  grid-template-columns: 8rem 1fr;
  gap: 0.5rem 0.75rem;
  align-items: center;
}
.answer {
  display: flex;
  flex-direction: column;
  gap: 0.5rem;
  border-top: 1px solid var(--hairline);
  padding-top: 0.9rem;
}
.keys {
  display: grid;
  grid-template-columns: 1fr 1fr;
  margin: 0;
}
dt {
  color: var(--ink-soft);
  font-size: 0.9rem;
}
dd {
  margin: 0;
  font-family: var(--title-face);
  font-weight: 600;
  font-size: 1.5rem;
}
.remarks {
  margin: 0;
  padding-left: 1.1rem;
}
.caution {
  border-left: 4px solid var(--madder);
  background: var(--madder-wash);
  padding: 0.45rem 0.7rem;
  font-size: 0.925rem;
}
</style>

<script setup lang="ts">
import Button from 'primevue/button'
import Select from 'primevue/select'
import { computed, toRef } from 'vue'

import type { SetupWish } from '@/api/client'
import { LEFT_OPEN, useSetup } from '@/composables/useSetup'
import ProblemNote from './ProblemNote.vue'

const props = defineProps<{ tuneId: number; busy: boolean }>()
const emit = defineEmits<{ keep: [wish: SetupWish] }>()

const { chosen, instrument, answer, problem } = useSetup(toRef(props, 'tuneId'))

const CHOOSE = { label: 'choose for me', value: LEFT_OPEN }
const KEYS = ['C', 'Db', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B']
const pretty = (name: string) => name.replace('#', '♯').replace('b', '♭')

const tunings = computed(() => [
  CHOOSE,
  ...(instrument.value?.tunings ?? []).map((row) => ({ label: `${row.name} · ${row.id}`, value: row.id })),
])
const capos = computed(() => [
  CHOOSE,
  ...Array.from({ length: (instrument.value?.highest_capo ?? 0) + 1 }, (_, fret) => ({
    label: fret ? `fret ${fret}` : 'no capo',
    value: String(fret),
  })),
])
const fifths = computed(() => [
  { label: 'tonic or fifth of the key', value: LEFT_OPEN },
  ...(instrument.value?.drone_choices ?? []).map((name) => ({ label: pretty(name), value: name })),
])
const keys = [{ label: "the tune's own", value: LEFT_OPEN }, ...KEYS.map((key) => ({ label: pretty(key), value: key }))]

/** Keeps what is on screen, so that a later default cannot change it. */
function keep() {
  if (!answer.value) return
  const { instrument: name, idiom, tuning, capo, fifth, sounding_tonic: key } = answer.value
  emit('keep', { instrument: name, idiom, tuning, capo, fifth, key })
}
</script>

<template>
  <section class="setup" aria-labelledby="setup-title">
    <h2 id="setup-title">Set up</h2>
    <div class="fields">
      <span>Instrument</span>
      <span class="fixed">{{ instrument?.name ?? '…' }}, clawhammer</span>
      <span id="sounding-name">Sounding key</span>
      <Select v-model="chosen.key" label-id="sounding" aria-labelledby="sounding-name" :options="keys" option-label="label" option-value="value" />
      <span id="tuning-name">Tuning</span>
      <Select v-model="chosen.tuning" label-id="tuning" aria-labelledby="tuning-name" :options="tunings" option-label="label" option-value="value" />
      <span id="capo-name">Capo</span>
      <Select v-model="chosen.capo" label-id="capo" aria-labelledby="capo-name" :options="capos" option-label="label" option-value="value" />
      <span id="fifth-name">Fifth string</span>
      <Select v-model="chosen.fifth" label-id="fifth" aria-labelledby="fifth-name" :options="fifths" option-label="label" option-value="value" />
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
        {{ instrument?.tunings.find((row) => row.id === answer?.tuning)?.name }} ({{ answer.tuning }}),
        {{ answer.capo ? `capo ${answer.capo}` : 'no capo' }}<template v-if="answer.fifth">,
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
.fixed {
  padding: 0.35rem 0;
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

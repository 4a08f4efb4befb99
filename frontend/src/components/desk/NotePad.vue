<script setup lang="ts">
import { useStorage } from '@vueuse/core'
import Button from 'primevue/button'
import Select from 'primevue/select'
import SelectButton from 'primevue/selectbutton'
import { computed, onMounted, reactive, watch } from 'vue'

import { api, type Board, type DeskEntry, type Instrument } from '@/api/client'
import { useAsked } from '@/composables/useAsked'
import NeckBoard from './NeckBoard.vue'
import { LENGTHS, NOTE_KEYS, START, noteEntry, type NoteState } from './noteKeys'

/** Notes for those who do not write ABC: by letter keys, or on a neck. What is entered goes in at the cursor. */
const emit = defineEmits<{ enter: [entry: DeskEntry]; undo: [] }>()

const FRETS = 12
const state = reactive<NoteState>({ ...START })
const instruments = useAsked<Instrument[]>()
const board = useAsked<Board>()
const tuning = useStorage('nailhead-neck', '')

const ACCIDENTALS = [
  { label: '♭', value: -1 },
  { label: '♮', value: 0 },
  { label: '♯', value: 1 },
]
const COMMAS = Array.from({ length: 17 }, (_, index) => index - 8).map((value) => ({
  label: value ? `${value > 0 ? '♯' : '♭'}${Math.abs(value)} commas` : 'no commas',
  value,
}))
const necks = computed(() =>
  (instruments.answer.value ?? []).flatMap((one) =>
    one.tunings.map((row) => ({ label: `${one.name}, ${row.name}`, value: `${one.id} ${row.id}`, instrument: one.id, tuning: row.id })),
  ),
)
const neck = computed(() => necks.value.find((one) => one.value === tuning.value) ?? necks.value[0])

onMounted(() => instruments.ask(api.instruments))
watch(neck, (chosen) => chosen && board.ask(() => api.board(chosen.instrument, chosen.tuning, 0)))

function once(entry: DeskEntry) {
  emit('enter', entry)
  Object.assign(state, { alter: null, commas: 0, octave: 0 })
}

const letter = (step: string) => once(noteEntry(state, { step, alter: state.commas ? (state.alter ?? 0) : state.alter }))
const rest = () => once(noteEntry(state, {}))
const fret = (string: number, at: number) =>
  neck.value && once(noteEntry(state, { string, fret: at, instrument: neck.value.instrument, tuning: neck.value.tuning }))

const SIGNS: Record<string, number> = { '+': 1, _: -1, '=': 0 }
const ACTIONS: Record<string, () => void> = {
  z: rest,
  '.': () => (state.dotted = !state.dotted),
  t: () => (state.triplet = !state.triplet),
  "'": () => emit('enter', { kind: 'octave', by: 1 }),
  ',': () => emit('enter', { kind: 'octave', by: -1 }),
  '-': () => emit('enter', { kind: 'tie' }),
  '|': () => emit('enter', { kind: 'bar' }),
  Backspace: () => emit('undo'),
}

function press(event: KeyboardEvent) {
  if (event.ctrlKey || event.metaKey || event.altKey) return
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key
  const length = LENGTHS.find((one) => one.key === key)
  if (/^[a-g]$/.test(key)) letter(key.toUpperCase())
  else if (length) state.length = length.value
  else if (key in SIGNS) state.alter = SIGNS[key]!
  else if (key in ACTIONS) ACTIONS[key]!()
  else return
  event.preventDefault()
}
</script>

<template>
  <div class="pad">
    <div class="choices">
      <SelectButton v-model="state.length" :options="[...LENGTHS]" option-label="label" option-value="value" :allow-empty="false" size="small" aria-label="Length" />
      <Button label="Dotted" size="small" :severity="state.dotted ? undefined : 'secondary'" :aria-pressed="state.dotted" @click="state.dotted = !state.dotted" />
      <Button label="Triplet" size="small" :severity="state.triplet ? undefined : 'secondary'" :aria-pressed="state.triplet" @click="state.triplet = !state.triplet" />
      <SelectButton v-model="state.alter" :options="ACCIDENTALS" option-label="label" option-value="value" size="small" aria-label="Sign of the next note" />
      <Select v-model="state.commas" :options="COMMAS" option-label="label" option-value="value" size="small" aria-label="Commas of the next note" />
      <span class="gap"></span>
      <Button label="Rest" size="small" severity="secondary" @click="rest" />
      <Button label="Tie" size="small" severity="secondary" @click="emit('enter', { kind: 'tie' })" />
      <Button label="Bar line" size="small" severity="secondary" @click="emit('enter', { kind: 'bar' })" />
      <Button label="Octave up" size="small" severity="secondary" @click="emit('enter', { kind: 'octave', by: 1 })" />
      <Button label="down" size="small" severity="secondary" aria-label="Octave down" @click="emit('enter', { kind: 'octave', by: -1 })" />
    </div>
    <div class="places">
      <div class="keys" tabindex="0" role="group" aria-label="Keys for notes: click here, then type letters" @keydown="press">
        <p class="off">Click here, then type letters.</p>
        <p class="on">The keys write notes at the cursor.</p>
        <dl>
          <template v-for="[key, what] in NOTE_KEYS" :key="key">
            <dt>{{ key }}</dt>
            <dd>{{ what }}</dd>
          </template>
        </dl>
      </div>
      <div class="neck">
        <Select v-if="neck" :model-value="neck.value" :options="necks" option-label="label" option-value="value" size="small" aria-label="Neck to play on" @update:model-value="tuning = $event" />
        <NeckBoard v-if="board.answer.value" :board="board.answer.value" :frets="FRETS" @play="fret" />
      </div>
    </div>
  </div>
</template>

<style scoped>
.pad {
  display: flex;
  flex-direction: column;
  gap: 0.6rem;
}
.choices {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.4rem;
}
.gap {
  flex: 1;
}
.places {
  display: grid;
  grid-template-columns: 21rem minmax(0, 1fr);
  gap: 1.25rem;
}
.keys {
  border: 1px dashed var(--string);
  background: var(--paper);
  padding: 0.5rem 0.75rem;
  font-size: 0.875rem;
  cursor: pointer;
}
.keys:focus {
  border: 1px solid var(--spruce);
  background: var(--spruce-wash);
  outline: 2px solid var(--spruce);
}
.keys .on,
.keys:focus .off {
  display: none;
}
.keys:focus .on {
  display: block;
}
.keys p {
  font-weight: 700;
}
dl {
  display: grid;
  grid-template-columns: auto 1fr auto 1fr;
  gap: 0.1rem 0.6rem;
  margin: 0.4rem 0 0;
}
dt {
  font-weight: 700;
  white-space: nowrap;
}
dd {
  margin: 0;
  color: var(--ink-soft);
}
.neck {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 0.3rem;
}
</style>

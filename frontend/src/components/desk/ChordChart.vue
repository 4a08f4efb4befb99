<script setup lang="ts">
import Button from 'primevue/button'
import SelectButton from 'primevue/selectbutton'
import { computed, ref, watch } from 'vue'

import { api, type BarRow, type DeskReading, type Proposal } from '@/api/client'
import ProblemNote from '@/components/ProblemNote.vue'
import { useAsked } from '@/composables/useAsked'
import { barLines } from './barLines'

/** The chords bar by bar, in letters or numbers; proposals are looked at here before one is taken. */
const props = defineProps<{ reading: DeskReading; text: string; bar: number }>()
const emit = defineEmits<{ chart: [texts: string[]]; pick: [place: number] }>()

const numbers = ref(false)
const SHOWN = [
  { label: 'Letters', value: false },
  { label: 'Numbers', value: true },
]
const { answer: proposals, problem, busy, ask } = useAsked<Proposal[]>()
const looked = ref<number | null>(null)
const entered = ref<Record<number, string>>({})

const written = (bar: BarRow) => (numbers.value ? bar.numbers : bar.letters)
const lookedAt = computed(() => (looked.value === null ? null : (proposals.value?.[looked.value] ?? null)))
const shown = (bar: BarRow) => {
  const proposal = lookedAt.value
  if (proposal) return (numbers.value ? proposal.numbers : proposal.letters)[bar.place] ?? ''
  return entered.value[bar.place] ?? written(bar)
}
const lines = computed(() => barLines(props.reading))
const anyUpbeat = computed(() => lines.value.some((line) => line.upbeat))

// What has been entered and read back is no longer pending.
watch(() => props.reading, () => (entered.value = {}))

function put(bar: BarRow, value: string) {
  if (value.trim() === written(bar).trim()) return
  entered.value = { ...entered.value, [bar.place]: value }
  emit('chart', props.reading.bars.map((one) => (one.place === bar.place ? value : written(one))))
}

async function suggest() {
  await ask(() => api.proposals(props.text))
  looked.value = proposals.value?.length ? 0 : null
}

function take() {
  if (lookedAt.value) emit('chart', lookedAt.value.letters)
  leave()
}

function leave() {
  looked.value = null
  proposals.value = null
}
const why = (proposal: Proposal) =>
  Object.entries(proposal.costs)
    .sort((a, b) => b[1] - a[1])
    .map(([name, amount]) => `${name} ${amount}`)
    .join(' + ')
</script>

<template>
  <div class="chords">
    <div class="tools">
      <div class="buttons">
        <SelectButton v-model="numbers" :options="SHOWN" option-label="label" option-value="value" :allow-empty="false" size="small" aria-label="Chords as" />
        <Button label="Suggest chords" size="small" severity="secondary" :disabled="busy" @click="suggest" />
      </div>
      <ProblemNote v-if="problem" :problem="problem" />
      <p v-if="!proposals" class="quiet">One or two a bar: G, Em7, D7/F♯ or 1, 6m7, 57/7. Empty carries the last chord on.</p>
      <template v-else>
        <p class="quiet">The likeliest first, looked at in the chart.</p>
        <div class="buttons">
          <Button label="Take these chords" size="small" @click="take" />
          <Button label="Leave" size="small" severity="secondary" text @click="leave" />
        </div>
      </template>
    </div>
    <div class="right">
    <fieldset v-if="proposals" class="proposals" aria-label="Proposals">
      <label v-for="(one, index) in proposals" :key="one.name" :class="{ looked: looked === index }">
        <input v-model="looked" type="radio" name="proposal" :value="index" />
        <span>
          <strong>{{ one.name }}</strong>: {{ one.description }}
          <span class="quiet why">Cost {{ one.cost }} = {{ why(one) }}</span>
        </span>
      </label>
    </fieldset>
    <div class="chart" :class="{ looking: lookedAt }">
      <div v-for="line in lines" :key="line.start" class="line" :class="{ upbeats: anyUpbeat }" :style="{ '--bars': line.bars.length }">
        <span v-if="anyUpbeat && !line.upbeat"></span>
        <label v-for="one in line.upbeat ? [line.upbeat, ...line.bars] : line.bars" :key="one.place" :class="{ here: one.place === bar }">
          <span class="number">{{ one.number }}</span>
          <input
            :value="shown(one)"
            :placeholder="one.under || '–'"
            :readonly="!!lookedAt"
            :aria-label="`Chords of bar ${one.number}`"
            @focus="emit('pick', one.place)"
            @change="put(one, ($event.target as HTMLInputElement).value)"
          />
        </label>
      </div>
    </div>
    </div>
  </div>
</template>

<style scoped>
.chords {
  display: grid;
  grid-template-columns: 19rem minmax(0, 1fr);
  gap: 1.25rem;
}
.tools {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 0.5rem;
  font-size: 0.9rem;
}
.proposals {
  border: 0;
  padding: 0;
  margin: 0 0 0.6rem;
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 0.5rem;
}
.proposals label {
  display: flex;
  gap: 0.5rem;
  align-items: flex-start;
  padding: 0.3rem 0.4rem;
  border: 1px solid var(--hairline);
  background: var(--panel);
  font-size: 0.85rem;
  line-height: 1.3;
  cursor: pointer;
}
.proposals .looked {
  border-color: var(--spruce);
  background: var(--spruce-wash);
}
.why {
  display: block;
  font-size: 0.8rem;
}
.buttons {
  display: flex;
  gap: 0.4rem;
}
.chart {
  display: flex;
  flex-direction: column;
  gap: 4px;
}
.line {
  display: grid;
  grid-template-columns: repeat(max(var(--bars), 4), minmax(0, 1fr));
}
.line.upbeats {
  grid-template-columns: 4.2rem repeat(max(var(--bars), 4), minmax(0, 1fr));
}
.line label:first-of-type {
  border-left: 2px solid var(--ink);
}
.line label {
  position: relative;
  border: solid var(--hairline);
  border-width: 1px 1px 1px 0;
  border-right: 1px solid var(--ink-soft);
  background: var(--panel);
}
.line .here {
  background: var(--spruce-wash);
}
.number {
  position: absolute;
  top: 0.05rem;
  left: 0.3rem;
  font-size: 0.7rem;
  color: var(--ink-soft);
}
.line input {
  width: 100%;
  border: 0;
  background: none;
  padding: 0.65rem 0.3rem 0.2rem 0.9rem;
  font: 700 1rem var(--text-face);
  color: var(--ink);
}
.line input::placeholder {
  color: var(--ink-soft);
  font-weight: 400;
  opacity: 1;
}
.looking input {
  color: var(--spruce);
  font-style: italic;
}
</style>

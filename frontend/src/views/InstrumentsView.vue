<script setup lang="ts">
import Button from 'primevue/button'
import { computed, onMounted, ref, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import { api, type Instrument } from '@/api/client'
import ChordFinder from '@/components/instruments/ChordFinder.vue'
import InstrumentForm from '@/components/instruments/InstrumentForm.vue'
import KeyTable from '@/components/instruments/KeyTable.vue'
import TunerBench from '@/components/instruments/TunerBench.vue'
import TuningsPanel from '@/components/instruments/TuningsPanel.vue'
import ProblemNote from '@/components/ProblemNote.vue'
import { lengthWords } from '@/composables/units'
import { useSettings } from '@/composables/useSettings'
import { useAsked } from '@/composables/useAsked'

const TABS = [
  { id: 'chords', label: 'Chords and notes' },
  { id: 'keys', label: 'Key table' },
  { id: 'tunings', label: 'Tunings' },
  { id: 'tuner', label: 'Tuner' },
] as const

const route = useRoute()
const { settings } = useSettings()
const router = useRouter()
const { answer: instruments, problem, ask } = useAsked<Instrument[]>()
const { problem: forgetProblem, ask: askForget } = useAsked<true>()
const load = () => ask(api.instruments)
onMounted(load)

const id = computed(() => String(route.params.instrument || 'banjo'))
const tab = computed(() => String(route.params.tab || 'chords'))
const instrument = computed(() => instruments.value?.find((row) => row.id === id.value) ?? null)
const kinds = computed(() => instruments.value?.filter((row) => row.own === null) ?? [])
const making = ref<'none' | 'new' | 'change'>('none')
const tuneTo = ref<string | undefined>()
const go = (to: string, which: string) => router.push({ name: 'instruments', params: { instrument: to, tab: which } })
watch(id, () => (making.value = 'none'))

async function kept(row: Instrument) {
  await load()
  making.value = 'none'
  await go(row.id, 'tunings')
}
async function forget(row: Instrument) {
  if (!window.confirm(`Forget ${row.name} and its tunings?`) || row.own === null) return
  const number = row.own
  if (await askForget(async () => (await api.forgetInstrument(number), true))) {
    await go('banjo', 'chords')
    await load()
  }
}
function tune(tuning: string) {
  tuneTo.value = tuning
  void go(id.value, 'tuner')
}
</script>

<template>
  <main class="instruments">
    <Teleport to="#masthead-place">
      <RouterLink to="/">Tunes</RouterLink>
      <strong class="at-instruments">Instruments</strong>
    </Teleport>
    <ProblemNote v-if="problem" :problem="problem" />
    <template v-if="instruments">
      <nav class="list screen-only" aria-label="Instruments">
        <RouterLink v-for="row in instruments" :key="row.id" :to="{ name: 'instruments', params: { instrument: row.id, tab } }" :aria-current="row.id === id ? 'page' : undefined">
          {{ row.name }}<span v-if="row.own" class="quiet"> own</span>
        </RouterLink>
        <Button label="Add your own …" size="small" severity="secondary" @click="making = 'new'" />
      </nav>
      <div class="main">
        <InstrumentForm v-if="making !== 'none'" :kinds="kinds" :changing="making === 'change' ? instrument : null" @kept="kept" @cancel="making = 'none'" />
        <template v-else-if="instrument">
          <header class="screen-only">
            <h1>{{ instrument.name }}</h1>
            <p class="quiet">
              {{ instrument.strings }} {{ instrument.courses.some((count) => count > 1) ? 'courses' : 'strings' }}, {{ instrument.frets }} frets<template v-if="instrument.half_frets.length"> with {{ instrument.half_frets.join(' and ') }}</template>,
              {{ lengthWords(instrument.scale_mm, settings?.units) }} from nut to bridge<template v-if="instrument.left_handed">, left-handed</template>
            </p>
            <div v-if="instrument.own" class="tool-row">
              <Button label="Change" size="small" severity="secondary" @click="making = 'change'" />
              <Button label="Forget" size="small" severity="secondary" text @click="forget(instrument)" />
            </div>
          </header>
          <ProblemNote v-if="forgetProblem" :problem="forgetProblem" />
          <nav class="tabs screen-only" aria-label="About this instrument">
            <RouterLink v-for="one in TABS" :key="one.id" :to="{ name: 'instruments', params: { instrument: id, tab: one.id } }" :aria-current="one.id === tab ? 'page' : undefined">{{ one.label }}</RouterLink>
          </nav>
          <ChordFinder v-if="tab === 'chords'" :instrument="instrument" />
          <KeyTable v-else-if="tab === 'keys'" :instrument="instrument" />
          <TuningsPanel v-else-if="tab === 'tunings'" :instrument="instrument" @changed="load" @tune="tune" />
          <TunerBench v-else-if="tab === 'tuner'" :instrument="instrument" :tuning="tuneTo" />
        </template>
        <p v-else>There is no such instrument. <RouterLink :to="{ name: 'instruments' }">All instruments</RouterLink></p>
      </div>
    </template>
  </main>
</template>

<style scoped>
.instruments {
  display: grid;
  grid-template-columns: 190px minmax(0, 1fr);
  gap: 1.5rem;
  max-width: 1400px;
  margin: 0 auto;
  padding: 1rem 1.25rem 2rem;
}
.list {
  display: flex;
  flex-direction: column;
  gap: 0.1rem;
  align-items: stretch;
}
.list a {
  padding: 0.4rem 0.7rem;
  text-decoration: none;
  color: var(--ink);
  border-left: 4px solid transparent;
}
.list a:hover {
  background: var(--spruce-wash);
}
.list a[aria-current] {
  background: var(--panel);
  border-left-color: var(--spruce);
  font-weight: 700;
}
.list button {
  margin-top: 0.6rem;
}
.main {
  display: flex;
  flex-direction: column;
  gap: 0.8rem;
  min-width: 0;
}
header {
  display: flex;
  flex-wrap: wrap;
  gap: 0.2rem 1rem;
  align-items: baseline;
}
.tabs {
  display: flex;
  gap: 1.2rem;
  border-bottom: 1px solid var(--hairline);
}
.tabs a {
  padding: 0.3rem 0;
  text-decoration: none;
}
.tabs a[aria-current] {
  box-shadow: inset 0 -3px 0 var(--spruce);
  font-weight: 700;
}
@media print {
  .instruments {
    display: block;
    padding: 0;
  }
}
</style>

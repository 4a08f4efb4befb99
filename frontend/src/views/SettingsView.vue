<script setup lang="ts">
import { computed, onMounted } from 'vue'
import { RouterLink } from 'vue-router'

import { api, type Instrument, type Settings } from '@/api/client'
import ProblemNote from '@/components/ProblemNote.vue'
import WaitingNote from '@/components/WaitingNote.vue'
import { useAsked } from '@/composables/useAsked'
import { useSettings } from '@/composables/useSettings'

const { settled, settings, problem, settle } = useSettings()
const { answer: instruments, ask } = useAsked<Instrument[]>()
onMounted(() => ask(api.instruments))

const SHEET: Record<string, string> = { paper: 'Paper', size: 'Size', colours: 'Ink', chords: 'Chords', names: 'Note names', letters: 'Note letters', staff: 'Staff above' }
const taught = computed(() => instruments.value?.filter((one) => settings.value?.instruments.includes(one.id)) ?? [])
const value = (event: Event) => (event.target as HTMLSelectElement).value
const without = (table: Record<string, string>, name: string) => Object.fromEntries(Object.entries(table).filter(([key]) => key !== name))

function teach(id: string, on: boolean) {
  const others = settings.value!.instruments.filter((one) => one !== id)
  void settle({ instruments: on ? [...others, id] : others })
}
/** A table of names with one of them settled, or left to Nailhead. */
function name(field: 'tunings' | 'schools' | 'sheet', key: string, way: string) {
  const table = settings.value![field]
  void settle({ [field]: way ? { ...table, [key]: way } : without(table, key) })
}
const first = (event: Event) => settle({ first_screen: value(event) as Settings['first_screen'] })
const hand = (event: Event) => settle({ hand: value(event) as Settings['hand'] })
const units = (event: Event) => settle({ units: value(event) as Settings['units'] })
</script>

<template>
  <main class="settings plain-fields">
    <Teleport to="#masthead-place">
      <RouterLink to="/">Tunes</RouterLink>
      <strong class="at-settings">Settings</strong>
    </Teleport>
    <h1>Settings</h1>
    <p class="quiet">Kept at once, in your data file with everything else. What you decide on a tune stays as you decided it.</p>
    <ProblemNote v-if="problem" :problem="problem" />
    <WaitingNote v-if="!settled || !settings">Your settings are being looked up …</WaitingNote>
    <div v-else class="boxes">
      <section class="side-box" aria-labelledby="teach-title">
        <h2 id="teach-title">What you teach</h2>
        <p class="quiet">These instruments stand first where one is chosen.</p>
        <label v-for="one in instruments ?? []" :key="one.id">
          <input type="checkbox" :checked="settings.instruments.includes(one.id)" @change="teach(one.id, ($event.target as HTMLInputElement).checked)" />
          {{ one.name }}
        </label>
        <template v-if="taught.length">
          <h3>Usually tuned to</h3>
          <p class="quiet">Setup then counts what there is to retune from there.</p>
          <label v-for="one in taught" :key="one.id" class="choice">
            <span>{{ one.name }}</span>
            <select :value="settings.tunings[one.id] ?? ''" :aria-label="`${one.name}, usually tuned to`" @change="name('tunings', one.id, value($event))">
              <option value="">not said</option>
              <option v-for="row in one.tunings" :key="row.id" :value="row.id">{{ row.name === row.id ? row.name : `${row.name} · ${row.id}` }}</option>
            </select>
          </label>
        </template>
      </section>
      <section class="side-box" aria-labelledby="sheet-title">
        <h2 id="sheet-title">New sheets</h2>
        <p class="quiet">How a sheet looks before you change it.</p>
        <label v-for="(ways, key) in settled.sheet" :key="key" class="choice">
          <span>{{ SHEET[key] }}</span>
          <select :value="settings.sheet[key] ?? ways[0]" @change="name('sheet', String(key), value($event))">
            <option v-for="way in ways" :key="way" :value="way">{{ way }}</option>
          </select>
        </label>
        <h3>You</h3>
        <label class="choice">
          <span>Hand for chord shapes</span>
          <select :value="settings.hand" @change="hand">
            <option value="small">small</option>
            <option value="medium">medium</option>
            <option value="large">large</option>
          </select>
        </label>
        <label class="choice">
          <span>Lengths and pull</span>
          <select :value="settings.units" @change="units">
            <option value="metric">mm and N</option>
            <option value="imperial">inches and pounds</option>
          </select>
        </label>
        <label class="choice">
          <span>Begin with</span>
          <select :value="settings.first_screen" @change="first">
            <option value="shelf">the shelf</option>
            <option value="last ladder">the ladder worked on last</option>
          </select>
        </label>
      </section>
      <section class="side-box" aria-labelledby="schools-title">
        <h2 id="schools-title">Your school</h2>
        <p class="quiet">Where good players differ: what new arrangements take.</p>
        <label v-for="school in settled.schools" :key="school.name" class="choice">
          <span>{{ school.label }} <span class="quiet">{{ school.played }}</span></span>
          <select :value="settings.schools[school.name] ?? school.ways[0]" :aria-label="school.label" @change="name('schools', school.name, value($event))">
            <option v-for="way in school.ways" :key="way" :value="way">{{ way }}</option>
          </select>
        </label>
      </section>
    </div>
  </main>
</template>

<style scoped>
.settings {
  max-width: 1300px;
  margin: 0 auto;
  padding: 0.8rem 1.25rem 2rem;
  display: flex;
  flex-direction: column;
  gap: 0.7rem;
}
.boxes {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(100%, 340px), 1fr));
  gap: 1rem;
  align-items: start;
}
label {
  display: flex;
  align-items: center;
  gap: 0.5rem;
}
.choice {
  justify-content: space-between;
}
.choice select {
  max-width: 55%;
}
h3 {
  margin-top: 0.6rem;
}
input {
  margin: 0;
}
</style>

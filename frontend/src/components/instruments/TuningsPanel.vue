<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { reactive } from 'vue'

import { api, type Instrument, type OwnTuning } from '@/api/client'
import ProblemNote from '@/components/ProblemNote.vue'
import { useAsked } from '@/composables/useAsked'

/** The tunings of an instrument, and a place for her own. */
const props = defineProps<{ instrument: Instrument }>()
const emit = defineEmits<{ changed: []; tune: [tuning: string] }>()

const made = reactive<OwnTuning>({ name: '', open: '' })
const { problem, busy, ask } = useAsked<Instrument>()
const { problem: forgetProblem, ask: askForget } = useAsked<true>()

async function keep() {
  const kept = await ask(() => api.addTuning(props.instrument.id, { ...made }))
  if (!kept) return
  Object.assign(made, { name: '', open: '' })
  emit('changed')
}
async function forget(number: number) {
  if (await askForget(async () => (await api.forgetTuning(number), true))) emit('changed')
}
const bassFirst = (strings: string[]) => [...strings].reverse().join(' ')
</script>

<template>
  <section class="tunings" aria-label="Tunings">
    <table>
      <thead>
        <tr><th scope="col">Tuning</th><th scope="col">Written</th><th scope="col">Open strings, bass first</th><th scope="col"><span class="hidden">Do</span></th></tr>
      </thead>
      <tbody>
        <tr v-for="row in instrument.tunings" :key="row.id">
          <th scope="row">{{ row.name }}</th>
          <td>{{ row.id }}</td>
          <td>{{ bassFirst(row.strings) }}</td>
          <td class="do">
            <Button label="Tune to it" size="small" severity="secondary" text @click="emit('tune', row.id)" />
            <Button v-if="row.own" label="Forget" size="small" severity="secondary" text @click="forget(row.own)" />
            <span v-else-if="row.usual" class="quiet">usual</span>
          </td>
        </tr>
      </tbody>
    </table>
    <ProblemNote v-if="forgetProblem" :problem="forgetProblem" />
    <form class="add" @submit.prevent="keep">
      <h3>A tuning of your own</h3>
      <label>Name<InputText v-model="made.name" size="small" :invalid="problem?.field === 'name'" placeholder="what you call it" /></label>
      <label>Open strings, bass first<InputText v-model="made.open" size="small" class="open" :invalid="problem?.field === 'open'" :placeholder="bassFirst(instrument.tunings[0]?.strings ?? [])" /></label>
      <Button type="submit" label="Keep it" size="small" :disabled="busy" />
    </form>
    <ProblemNote v-if="problem" :problem="problem" />
  </section>
</template>

<style scoped>
.tunings {
  display: flex;
  flex-direction: column;
  gap: 0.8rem;
}
table {
  border-collapse: collapse;
  background: var(--panel);
  border: 1px solid var(--hairline);
}
th,
td {
  text-align: left;
  padding: 0.25rem 0.75rem;
  border-bottom: 1px solid var(--hairline);
}
tbody th {
  font-family: var(--title-face);
}
.do {
  text-align: right;
}
.add {
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem 0.9rem;
  align-items: flex-end;
}
.add h3 {
  flex-basis: 100%;
}
.add label {
  display: flex;
  flex-direction: column;
  font-size: 0.875rem;
}
.open {
  width: 18rem;
}
.hidden {
  position: absolute;
  clip-path: inset(50%);
  width: 1px;
  height: 1px;
  overflow: hidden;
}
</style>

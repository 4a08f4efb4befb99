<script setup lang="ts">
import Button from 'primevue/button'
import Select from 'primevue/select'
import { ref, watch } from 'vue'

import { api, type Instrument, type KeyTable, type KeyWay } from '@/api/client'
import ProblemNote from '@/components/ProblemNote.vue'
import { useAsked } from '@/composables/useAsked'

/** Twelve keys by the usual tunings and capos, made to be printed and hung up. */
const props = defineProps<{ instrument: Instrument }>()

const MODES = ['major', 'mixolydian', 'dorian', 'minor'].map((mode) => ({ label: mode, value: mode }))
const mode = ref('major')
const every = ref(false)
const { answer: table, problem, ask } = useAsked<KeyTable>()
watch([() => props.instrument.id, mode, every], () => void ask(() => api.keyTable(props.instrument.id, mode.value, every.value)), { immediate: true })

/** How the instrument gets there, in the words of the trade. */
function reached(way: KeyWay): string {
  const parts = []
  if (way.capo) parts.push(`capo ${way.capo}`)
  if (way.moved) parts.push(`all strings ${Math.abs(way.moved)} ${way.moved > 0 ? 'up' : 'down'}`)
  if (!way.capo && !way.moved && props.instrument.highest_capo) parts.push('no capo')
  if (!way.moved && props.instrument.relative) parts.push('as written')
  if (way.fifth) parts.push(`fifth ${way.fifth}${way.hook_fret ? `, hook ${way.hook_fret}` : ''}`)
  if (way.tonic) parts.push(`tonic ${way.tonic}`)
  return parts.join(', ')
}
const print = () => window.print()
</script>

<template>
  <section class="key-table" aria-label="Key table">
    <div class="ask screen-only">
      <label><span id="table-mode">Mode</span><Select v-model="mode" :options="MODES" option-label="label" option-value="value" size="small" aria-labelledby="table-mode" /></label>
      <label class="tick"><input v-model="every" type="checkbox" /> every tuning</label>
      <Button label="Print" size="small" severity="secondary" @click="print" />
    </div>
    <ProblemNote v-if="problem" :problem="problem" />
    <table v-if="table">
      <caption>
        {{ table.instrument }}: all keys, {{ table.mode }}
      </caption>
      <thead>
        <tr>
          <th scope="col">Sounds</th>
          <th v-for="tuning in table.tunings" :key="tuning.id" scope="col">
            {{ tuning.name }}<span v-if="tuning.name !== tuning.id" class="letters">{{ tuning.id }}</span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in table.rows" :key="row.key">
          <th scope="row">{{ row.key.split(' ')[0] }}</th>
          <td v-for="(ways, column) in row.ways" :key="column">
            <template v-for="(way, index) in ways.slice(0, every ? 1 : 2)" :key="index">
              <p :class="{ second: index }"><strong>{{ way.shape }}</strong> {{ reached(way) }}</p>
            </template>
            <span v-if="!ways.length" class="none" aria-label="not in this tuning">–</span>
          </td>
        </tr>
      </tbody>
    </table>
    <p class="quiet note">
      The bold letter is the key of the shapes, as the hands play it. A second line is the next best way. Keys that do not lie easily in a tuning are left out.
    </p>
  </section>
</template>

<style scoped>
.key-table {
  display: flex;
  flex-direction: column;
  gap: 0.6rem;
}
.ask {
  display: flex;
  gap: 0.9rem;
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
  padding-bottom: 0.4rem;
}
caption {
  text-align: left;
  font-family: var(--title-face);
  font-weight: 600;
  font-size: 1.2rem;
  padding-bottom: 0.3rem;
}
table {
  border-collapse: collapse;
  background: var(--panel);
  width: 100%;
  font-size: 0.875rem;
}
th,
td {
  border: 1px solid var(--hairline);
  padding: 0.2rem 0.5rem;
  text-align: left;
  vertical-align: top;
}
thead th,
tbody th {
  font-family: var(--title-face);
  font-size: 1rem;
}
tbody th {
  width: 4rem;
  font-size: 1.15rem;
}
.letters {
  font-family: var(--text-face);
  font-weight: 400;
  font-size: 0.8rem;
  margin-left: 0.4rem;
  color: var(--ink-soft);
}
.second {
  color: var(--ink-soft);
}
.none {
  color: var(--ink-soft);
}
.note {
  font-size: 0.875rem;
}
@media print {
  .key-table {
    padding: 14mm;
  }
}
</style>

<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, onMounted, ref } from 'vue'
import { RouterLink } from 'vue-router'

import { api, type BroughtIn, type TuneSummary } from '@/api/client'
import BringIn from '@/components/BringIn.vue'
import ProblemNote from '@/components/ProblemNote.vue'
import { useAsked } from '@/composables/useAsked'

const { answer: tunes, problem, ask } = useAsked<TuneSummary[]>()
const wanted = ref('')
const fresh = ref<Set<number>>(new Set())

const shown = computed(() => {
  const words = wanted.value.toLowerCase().split(/\s+/).filter(Boolean)
  return (tunes.value ?? []).filter((tune) => {
    const text = `${tune.title} ${tune.key} ${tune.metre} ${tune.rhythm}`.toLowerCase()
    return words.every((word) => text.includes(word))
  })
})

const load = () => ask(api.shelf)
onMounted(load)

async function broughtIn(result: BroughtIn) {
  fresh.value = new Set(result.added.map((tune) => tune.id))
  wanted.value = ''
  await load()
}
</script>

<template>
  <main class="shelf">
    <section class="list" aria-labelledby="shelf-title">
      <div class="head">
        <h1 id="shelf-title">Tunes</h1>
        <InputText v-model="wanted" type="search" placeholder="Find a tune, key or metre" aria-label="Find a tune" />
      </div>
      <ProblemNote v-if="problem" :problem="problem" />
      <p v-else-if="tunes && !tunes.length" class="quiet empty">
        The shelf is empty. Bring in a tune on the right: paste its ABC, or choose a file.
      </p>
      <p v-else-if="tunes && !shown.length" class="quiet empty">No tune on the shelf matches “{{ wanted }}”.</p>
      <table v-else-if="tunes">
        <thead>
          <tr>
            <th scope="col">Tune</th>
            <th scope="col">Key</th>
            <th scope="col">Metre</th>
            <th scope="col">Bars</th>
            <th scope="col">Range</th>
            <th scope="col">Setups</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="tune in shown" :key="tune.id" :class="{ fresh: fresh.has(tune.id) }">
            <td>
              <RouterLink :to="{ name: 'tune', params: { tuneId: tune.id } }" class="title">{{ tune.title }}</RouterLink>
              <span v-if="tune.rhythm" class="quiet rhythm">{{ tune.rhythm }}</span>
            </td>
            <td>{{ tune.key }}</td>
            <td>{{ tune.metre }}</td>
            <td>
              {{ tune.bars }} <span class="quiet">({{ tune.different_bars }} different)</span>
            </td>
            <td>{{ tune.lowest }} – {{ tune.highest }}</td>
            <td>{{ tune.setups || '–' }}</td>
          </tr>
        </tbody>
      </table>
    </section>
    <BringIn @brought-in="broughtIn" />
  </main>
</template>

<style scoped>
.shelf {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 380px;
  gap: 2rem;
  max-width: 1320px;
  margin: 0 auto;
  padding: 1.5rem 1.25rem;
}
.head {
  display: flex;
  justify-content: space-between;
  align-items: center;
  margin-bottom: 1rem;
}
.head input {
  width: 17rem;
}
table {
  width: 100%;
  border-collapse: collapse;
  background: var(--panel);
  border: 1px solid var(--hairline);
}
th {
  text-align: left;
  font-weight: 400;
  color: var(--ink-soft);
  font-size: 0.875rem;
  padding: 0.5rem 0.75rem;
  border-bottom: 1px solid var(--hairline);
}
td {
  padding: 0.7rem 0.75rem;
  border-bottom: 1px solid var(--hairline);
  white-space: nowrap;
}
td:first-child {
  width: 42%;
  white-space: normal;
}
tr:last-child td {
  border-bottom: 0;
}
tbody tr:hover {
  background: var(--spruce-wash);
}
tr.fresh td:first-child {
  box-shadow: inset 4px 0 0 var(--spruce);
}
.title {
  font-family: var(--title-face);
  font-weight: 600;
  font-size: 1.2rem;
  color: var(--ink);
  text-decoration: none;
}
.title:hover {
  text-decoration: underline;
}
.rhythm {
  margin-left: 0.6rem;
}
.empty {
  padding: 1.5rem 0;
}
@media (max-width: 1000px) {
  .shelf {
    grid-template-columns: 1fr;
  }
}
</style>

<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'

import { api, type ShelfRow, type TuneDetail } from '@/api/client'
import ProblemNote from '@/components/ProblemNote.vue'
import { useAsked } from '@/composables/useAsked'

/** The selected tune: tags, and what can be done with it. */
const props = defineProps<{ row: ShelfRow }>()
const emit = defineEmits<{ changed: [select: number | null]; takeOff: [] }>()

const tags = ref('')
const asked = useAsked<unknown>()
const tune = useAsked<TuneDetail>()
const ladders = computed(() => (tune.answer.value?.id === props.row.id ? tune.answer.value.setups.filter((one) => !one.trouble) : []))
watch(() => props.row, (row) => (tags.value = row.tags.join(', ')), { immediate: true })
// Arrows run through the rows; only where they stop is the tune asked for.
watchDebounced(() => props.row, (row) => row.setups && tune.ask(() => api.tune(row.id)), { debounce: 120, immediate: true })

async function run(work: () => Promise<unknown>, select: number | null = props.row.id) {
  if ((await asked.ask(async () => ((await work()) ?? true))) !== null) emit('changed', select)
}
const setTags = () => run(() => api.setTags(props.row.id, tags.value.split(',')))
const archive = () => run(() => api.setArchived(props.row.id, !props.row.archived), null)
const duplicate = () => run(() => api.duplicate(props.row.id))
const EXPORTS = [
  ['abc', 'ABC'],
  ['musicxml', 'MusicXML'],
  ['mxl', '.mxl'],
  ['midi', 'MIDI'],
  ['chordpro', 'ChordPro'],
  ['lead', 'Lead sheet'],
] as const
</script>

<template>
  <section class="card" aria-labelledby="card-title">
    <h2 id="card-title">{{ row.title }}</h2>
    <p v-if="row.wrong_bars" class="trouble">{{ row.wrong_bars }} {{ row.wrong_bars === 1 ? 'bar does' : 'bars do' }} not add up.</p>
    <p v-if="row.draft" class="trouble">The text on the desk cannot be read yet.</p>
    <div class="buttons">
      <RouterLink :to="{ name: 'setup', params: { tuneId: row.id } }" class="link-button">Set up</RouterLink>
      <RouterLink :to="{ name: 'tune', params: { tuneId: row.id } }">Open the desk</RouterLink>
    </div>
    <ul v-if="ladders.length" class="ladders" aria-label="Its ladders">
      <li v-for="one in ladders" :key="one.id"><RouterLink :to="{ name: 'ladder', params: { setupId: one.id } }">{{ one.called }}</RouterLink></li>
    </ul>
    <form class="tags" @submit.prevent="setTags">
      <label for="tags">Tags, parted by commas</label>
      <InputText id="tags" v-model="tags" size="small" placeholder="easy, tuesday group" />
      <Button type="submit" label="Tag" size="small" severity="secondary" />
    </form>
    <ProblemNote v-if="asked.problem.value" :problem="asked.problem.value" />
    <div class="buttons">
      <Button label="Duplicate" size="small" severity="secondary" @click="duplicate" />
      <Button :label="row.archived ? 'Back on the shelf' : 'Archive'" size="small" severity="secondary" @click="archive" />
      <Button label="Delete" size="small" severity="secondary" @click="emit('takeOff')" />
    </div>
    <p v-if="row.bars" class="out">Out as <a v-for="[name, label] in EXPORTS" :key="name" :href="api.tuneExport(row.id, name)" download>{{ label }}</a></p>
  </section>
</template>

<style scoped>
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem 0.9rem;
}
.buttons .p-button {
  margin-right: -0.5rem;
}
.buttons,
.ladders {
  align-items: center;
}
.ladders {
  display: flex;
  flex-wrap: wrap;
  gap: 0.1rem 0.9rem;
  list-style: none;
  margin: 0;
  padding: 0;
}
.tags {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 0.25rem 0.4rem;
}
.tags label {
  grid-column: 1 / -1;
  font-size: 0.875rem;
  color: var(--ink-soft);
}
.out {
  display: flex;
  flex-wrap: wrap;
  gap: 0.6rem;
  font-size: 0.9rem;
}
.trouble {
  border-left: 4px solid var(--madder);
  padding-left: 0.5rem;
  font-size: 0.9rem;
}
</style>

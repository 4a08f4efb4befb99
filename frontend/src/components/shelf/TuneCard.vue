<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { ref, watch } from 'vue'
import { RouterLink } from 'vue-router'

import { api, type ShelfRow } from '@/api/client'
import ProblemNote from '@/components/ProblemNote.vue'
import { useAsked } from '@/composables/useAsked'

/** The selected tune: tags, and what can be done with it. */
const props = defineProps<{ row: ShelfRow }>()
const emit = defineEmits<{ changed: [select: number | null]; takeOff: [] }>()

const tags = ref('')
const asked = useAsked<unknown>()
watch(() => props.row, (row) => (tags.value = row.tags.join(', ')), { immediate: true })

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
] as const
</script>

<template>
  <section class="card" aria-labelledby="card-title">
    <h2 id="card-title">{{ row.title }}</h2>
    <p v-if="row.wrong_bars" class="trouble">{{ row.wrong_bars }} {{ row.wrong_bars === 1 ? 'bar does' : 'bars do' }} not add up.</p>
    <p v-if="row.draft" class="trouble">The text on the desk cannot be read yet.</p>
    <div class="buttons">
      <RouterLink :to="{ name: 'tune', params: { tuneId: row.id } }">Open the desk</RouterLink>
      <RouterLink :to="{ name: 'setup', params: { tuneId: row.id } }">Set up</RouterLink>
    </div>
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
.card {
  display: flex;
  flex-direction: column;
  gap: 0.7rem;
  background: var(--panel);
  border: 1px solid var(--hairline);
  border-top: 3px solid var(--spruce);
  padding: 0.9rem 1rem;
}
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem 0.9rem;
}
.buttons .p-button {
  margin-right: -0.5rem;
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
  gap: 0.6rem;
  font-size: 0.9rem;
}
.trouble {
  border-left: 4px solid var(--madder);
  padding-left: 0.5rem;
  font-size: 0.9rem;
}
</style>

<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, onMounted, reactive, ref } from 'vue'
import { RouterLink } from 'vue-router'

import { api, type Instrument, type LastUsed, type Problem } from '@/api/client'
import ProblemNote from '@/components/ProblemNote.vue'
import { useAsked } from '@/composables/useAsked'

/** What can be done with the tunes that are ticked: a tag, a setup for each, a packet, the archive. */
const props = defineProps<{
  ticked: ReadonlySet<number>
  archived: boolean
  busy: boolean
  done: number
  total: number
  problem: Problem | null
  refused: { title: string; problem: Problem }[]
}>()
const emit = defineEmits<{ tag: [name: string, given: boolean]; arrange: [instrument: string, idiom: string]; archive: [on: boolean]; none: [] }>()

const tag = ref('')
const { answer: instruments, ask } = useAsked<Instrument[]>()
const last = useAsked<LastUsed>()
const chosen = reactive({ instrument: '', idiom: '' })
const idioms = computed(() => instruments.value?.find((one) => one.id === chosen.instrument)?.idioms ?? [])
function take(id: string) {
  chosen.instrument = id
  chosen.idiom = idioms.value[0]?.id ?? ''
}
const bind = computed(() => ({ name: 'packet', query: { tunes: [...props.ticked].join(',') } }))
onMounted(async () => {
  const [all, used] = await Promise.all([ask(api.instruments), last.ask(api.last)])
  if (used) Object.assign(chosen, { instrument: used.instrument, idiom: used.idiom })
  else if (all?.[0]) take(all[0].id)
})
</script>

<template>
  <section class="card plain-fields" aria-labelledby="several-title">
    <h2 id="several-title">{{ ticked.size }} {{ ticked.size === 1 ? 'tune is' : 'tunes are' }} ticked</h2>
    <form class="row" @submit.prevent="emit('tag', tag, true)">
      <InputText v-model="tag" size="small" aria-label="Tag for all of them" placeholder="tag" maxlength="40" />
      <Button type="submit" label="Tag" size="small" :disabled="!tag.trim()" />
      <Button label="Untag" size="small" severity="secondary" :disabled="!tag.trim()" @click="emit('tag', tag, false)" />
    </form>
    <form v-if="instruments" class="column" @submit.prevent="emit('arrange', chosen.instrument, chosen.idiom)">
      <select :value="chosen.instrument" aria-label="Instrument for all of them" @change="take(($event.target as HTMLSelectElement).value)">
        <option v-for="one in instruments" :key="one.id" :value="one.id">{{ one.name }}</option>
      </select>
      <div class="row">
        <select v-model="chosen.idiom" aria-label="Way of playing for all of them">
          <option v-for="one in idioms" :key="one.id" :value="one.id">{{ one.name }}</option>
        </select>
        <Button type="submit" label="Set up each" size="small" :disabled="busy || !chosen.idiom" />
      </div>
    </form>
    <p v-if="total" role="status">{{ busy ? `Setting up ${done + 1} of ${total} …` : `${total - refused.length} of ${total} done.` }}</p>
    <ProblemNote v-if="problem" :problem="problem" />
    <ul v-if="refused.length" aria-label="Not done">
      <li v-for="one in refused" :key="one.title"><strong>{{ one.title }}</strong>: {{ one.problem.detail }} {{ one.problem.remedy }}</li>
    </ul>
    <div class="row">
      <RouterLink :to="bind">Bind into a packet</RouterLink>
      <button type="button" class="word-button link" @click="emit('archive', !archived)">{{ archived ? 'Back on the shelf' : 'Archive' }}</button>
      <button type="button" class="word-button link" @click="emit('none')">Untick</button>
    </div>
  </section>
</template>

<style scoped>
.card {
  font-size: 0.94rem;
}
.row,
.column {
  display: flex;
  gap: 0.4rem 0.7rem;
  align-items: center;
  flex-wrap: wrap;
}
.column {
  flex-direction: column;
  align-items: stretch;
}
.row input,
.row select {
  flex: 1;
  min-width: 0;
}
select {
  padding: 0.3rem;
}
ul {
  margin: 0;
  padding-left: 1.1rem;
  font-size: 0.875rem;
}
</style>

<script setup lang="ts">
import Button from 'primevue/button'
import { computed, onMounted, reactive, ref } from 'vue'
import { RouterLink, useRoute } from 'vue-router'

import { api, type ArrangementRow, type Shelf } from '@/api/client'
import ProblemNote from '@/components/ProblemNote.vue'
import { useAsked } from '@/composables/useAsked'
import { usePacket } from '@/composables/usePacket'

const { answer: shelf, problem: shelfProblem, ask } = useAsked<Shelf>()
const { packet, problem, working, start, cancel } = usePacket()
const title = ref('Packet')
const paper = ref('A4')
const colours = ref('colour')
/** Arrangement chosen for each tune that is in; the order of choosing is that of binding. */
const chosen = reactive(new Map<number, { setup: number; rows: ArrangementRow[] }>())

/** So many tunes are being looked up. */
const looking = ref(0)

const tunes = computed(() => shelf.value?.tunes.filter((row) => row.setups) ?? [])

async function toggle(tune: number, on: boolean) {
  if (!on) {
    chosen.delete(tune)
    return
  }
  // Its place is that of the tick, whichever answer comes first.
  chosen.set(tune, { setup: 0, rows: [] })
  looking.value += 1
  try {
    const rows = (await api.arrangements(tune)).filter((row) => !row.trouble)
    if (!rows.length) chosen.delete(tune)
    else if (chosen.has(tune)) chosen.set(tune, { setup: rows[0]!.id, rows })
  } catch (error) {
    chosen.delete(tune)
    throw error
  } finally {
    looking.value -= 1
  }
}

const checked = (event: Event) => (event.target as HTMLInputElement).checked
const print = () =>
  start({ title: title.value.trim() || 'Packet', setups: [...chosen.values()].map((one) => one.setup), paper: paper.value, colours: colours.value })
const load = () => ask(() => api.shelf({ find: '', archived: false, sort: 'title', descending: false, offset: 0, limit: 500 }))
const route = useRoute()
onMounted(async () => {
  await load()
  // What was ticked on the shelf is in already.
  const ticked = String(route.query.tunes ?? '').split(',').map(Number)
  for (const tune of ticked) if (tunes.value.some((row) => row.id === tune)) await toggle(tune, true)
})
</script>

<template>
  <main class="packet plain-fields">
    <Teleport to="#masthead-place">
      <RouterLink to="/">Tunes</RouterLink>
      <strong>Packet</strong>
    </Teleport>
    <h1>A packet of sheets</h1>
    <p class="quiet">Tick the tunes in the order in which they are to be bound. Each is printed as its arrangement stands, behind a page of contents.</p>
    <ProblemNote v-if="shelfProblem" :problem="shelfProblem" />
    <p v-if="shelf && !tunes.length" class="quiet">No tune has an arrangement yet. <RouterLink to="/">Choose one on the shelf</RouterLink>, set it up, and it is here to be bound.</p>
    <ul class="tunes" aria-label="Tunes with an arrangement">
      <li v-for="row in tunes" :key="row.id">
        <label>
          <input type="checkbox" :checked="chosen.has(row.id)" @change="toggle(row.id, checked($event))" />
          {{ row.title }}
        </label>
        <select v-if="chosen.get(row.id)?.rows.length" v-model.number="chosen.get(row.id)!.setup" :aria-label="`Arrangement of ${row.title}`">
          <option v-for="one in chosen.get(row.id)!.rows" :key="one.id" :value="one.id">
            {{ one.called }}: {{ one.label }}, grade {{ one.grade }}
          </option>
        </select>
      </li>
    </ul>
    <form class="wish" @submit.prevent="print">
      <label>Title <input v-model="title" maxlength="120" /></label>
      <label>
        Paper
        <select v-model="paper"><option>A4</option><option>Letter</option></select>
      </label>
      <label>
        Ink
        <select v-model="colours"><option>colour</option><option>black</option></select>
      </label>
      <Button type="submit" label="Bind" :disabled="!chosen.size || looking > 0 || working" />
    </form>
    <ProblemNote v-if="problem" :problem="problem" />
    <section v-if="packet" class="side-box" aria-label="The packet" aria-live="polite">
      <template v-if="working">
        <label>Sheet {{ packet.done }} of {{ packet.total }} <progress :value="packet.done" :max="packet.total" /></label>
        <Button label="Cancel" severity="secondary" size="small" @click="cancel" />
      </template>
      <p v-else-if="packet.state === 'ready'"><a :href="api.packetAddress(packet.number)" download>Fetch the packet (PDF)</a></p>
      <p v-else>{{ packet.error }}</p>
      <p v-for="said in packet.left_out" :key="said" class="quiet">Left out: {{ said }}</p>
    </section>
  </main>
</template>

<style scoped>
.packet {
  max-width: 860px;
  margin: 0 auto;
  padding: 1.25rem;
  display: flex;
  flex-direction: column;
  gap: 0.75rem;
}
.tunes {
  list-style: none;
  margin: 0;
  padding: 0;
  background: var(--panel);
  border: 1px solid var(--hairline);
}
li {
  display: flex;
  justify-content: space-between;
  gap: 1rem;
  padding: 0.35rem 0.75rem;
  min-height: 2.4rem;
  align-items: center;
}
li + li {
  border-top: 1px solid var(--hairline);
}
.wish {
  display: flex;
  flex-wrap: wrap;
  gap: 0.75rem;
  align-items: center;
}
label {
  display: flex;
  gap: 0.4rem;
  align-items: center;
}
select {
  max-width: 26rem;
}
</style>

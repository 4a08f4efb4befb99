<script setup lang="ts">
import { useIntersectionObserver } from '@vueuse/core'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, onMounted, ref } from 'vue'
import { RouterLink, useRouter } from 'vue-router'

import type { ShelfRow } from '@/api/client'
import ProblemNote from '@/components/ProblemNote.vue'
import NewTune from '@/components/shelf/NewTune.vue'
import SeveralCard from '@/components/shelf/SeveralCard.vue'
import ShelfFilters from '@/components/shelf/ShelfFilters.vue'
import ShelfTable from '@/components/shelf/ShelfTable.vue'
import TuneCard from '@/components/shelf/TuneCard.vue'
import { useArrive } from '@/composables/useArrive'
import { useSeveral } from '@/composables/useSeveral'
import { useShelf } from '@/composables/useShelf'
import { useShelfKeys } from '@/composables/useShelfKeys'

const router = useRouter()
const { wanted, rows, total, kinds, narrowed, gone, problem, answer, load, more, sortBy, widen, takeOff, bringBack } = useShelf()
const several = useSeveral(rows, load)
const { ticked } = several
const { reading, over, problem: arriveProblem, paste, arrive } = useArrive()
const selectedId = ref<number | null>(null)
const selected = computed(() => rows.value.find((row) => row.id === selectedId.value))
const end = ref<HTMLElement | null>(null)
const chooser = ref<HTMLInputElement | null>(null)
const finder = ref<{ $el: HTMLInputElement } | null>(null)

async function changed(select: number | null) {
  await load()
  selectedId.value = select
}

async function remove(row: ShelfRow) {
  selectedId.value = null
  await takeOff(row)
}

function chosen(event: Event) {
  const input = event.target as HTMLInputElement
  if (input.files?.[0]) void arrive(input.files[0])
  input.value = ''
}

function move(by: number) {
  const last = rows.value.length - 1
  const at = rows.value.findIndex((row) => row.id === selectedId.value)
  const to = at < 0 ? (by > 0 && Number.isFinite(by) ? 0 : by) : at + by
  selectedId.value = rows.value[Math.max(0, Math.min(last, to))]?.id ?? null
  if (to >= last - 5) void more()
}
const go = (name: string) => selected.value && void router.push({ name, params: { tuneId: selected.value.id } })
useShelfKeys({
  move,
  open: () => go('tune'),
  arrange: () => go('setup'),
  tick: () => selected.value && several.tick(selected.value.id),
  find: () => finder.value?.$el.focus(),
})

onMounted(load)
useIntersectionObserver(end, ([entry]) => entry?.isIntersecting && void more())
</script>

<template>
  <main class="shelf" :class="{ over }">
    <section class="list" aria-labelledby="shelf-title">
      <div class="head">
        <h1 id="shelf-title">{{ wanted.archived ? 'Archive' : 'Tunes' }}</h1>
        <InputText ref="finder" v-model="wanted.find" type="search" placeholder="Title, key, kind or tag" aria-label="Find a tune" />
        <ShelfFilters :kinds="kinds" :wanted="wanted" :narrowed="narrowed" @narrow="(by, value) => (wanted[by] = value)" @widen="widen" />
        <span class="quiet count" role="status">{{ total }} {{ total === 1 ? 'tune' : 'tunes' }}</span>
      </div>
      <div v-if="gone" class="gone" role="status">
        “{{ gone.title }}” is deleted. <Button label="Undo" size="small" @click="bringBack" />
        <span class="quiet">It can be brought back for 30 days.</span>
      </div>
      <ProblemNote v-if="problem" :problem="problem" />
      <p v-else-if="answer && !total && narrowed" class="quiet empty">
        No tune {{ wanted.archived ? 'in the archive' : 'on the shelf' }} matches. <button type="button" class="word-button link" @click="widen">Show all tunes</button>
      </p>
      <p v-else-if="answer && !total && wanted.archived" class="quiet empty">The archive is empty. What you put away from its card on the shelf waits here.</p>
      <div v-else-if="answer && !total" class="empty first">
        <h2>Your shelf is empty</h2>
        <ol>
          <li><strong>Copy a tune</strong> as ABC text, from a mail or a page, and paste it right here with Ctrl V. Or drop a file: ABC, MusicXML or MIDI.</li>
          <li><strong>Set it up</strong>: Nailhead ranks the tunings and capos; take the first, or say why not.</li>
          <li><strong>Choose a rung</strong> of its ladder, from the bare melody to a solo, and print it.</li>
        </ol>
        <p class="quiet">No tune at hand? Write one on the right: a title, a key, and the letters of its notes.</p>
      </div>
      <ShelfTable
        v-if="rows.length"
        :rows="rows"
        :sort="wanted.sort"
        :descending="wanted.descending"
        :selected="selectedId"
        :ticked="ticked"
        @sort="sortBy"
        @select="selectedId = $event"
        @tick="several.tick"
        @tick-all="several.tickAll"
      />
      <div ref="end" class="end"></div>
    </section>
    <aside class="side">
      <div class="bring">
        <h2>Bring in tunes</h2>
        <p class="quiet">{{ reading ? 'Reading what came in …' : 'Paste a tune or drop a file anywhere on this page.' }}</p>
        <ProblemNote v-if="arriveProblem" :problem="arriveProblem" />
        <div class="buttons">
          <Button label="Paste" :disabled="reading" @click="paste" />
          <Button label="Choose a file …" severity="secondary" :disabled="reading" @click="chooser?.click()" />
          <input ref="chooser" type="file" accept=".abc,.txt,.xml,.musicxml,.mxl,.mid,.midi,.json" hidden aria-label="Tune file" @change="chosen" />
        </div>
        <RouterLink :to="{ name: 'bring-in' }">Look into a book of tunes</RouterLink>
      </div>
      <NewTune />
      <SeveralCard
        v-if="ticked.size"
        :ticked="ticked"
        :archived="wanted.archived"
        :busy="several.busy.value"
        :done="several.done.value"
        :total="several.total.value"
        :problem="several.problem.value"
        :refused="several.refused.value"
        @tag="several.tag"
        @arrange="several.arrange"
        @archive="several.archive"
        @none="ticked.clear()"
      />
      <TuneCard v-else-if="selected" :row="selected" @changed="changed" @take-off="remove(selected)" />
      <nav class="also" aria-label="Also">
        <button type="button" class="word-button link" @click="wanted.archived = !wanted.archived">{{ wanted.archived ? 'The shelf' : 'The archive' }}</button>
        <RouterLink :to="{ name: 'packet' }">Bind a packet</RouterLink>
        <RouterLink :to="{ name: 'copies' }">Copies of everything</RouterLink>
      </nav>
    </aside>
  </main>
</template>

<style scoped>
.shelf {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 270px;
  gap: 1.25rem;
  max-width: 1500px;
  margin: 0 auto;
  padding: 0.8rem 1.25rem;
}
.shelf.over {
  outline: 3px dashed var(--spruce);
  outline-offset: -8px;
}
.head {
  display: flex;
  align-items: center;
  flex-wrap: wrap;
  gap: 0.5rem 0.8rem;
  margin-bottom: 0.6rem;
}
.head > input {
  width: 12.5rem;
}
.count {
  margin-left: auto;
  font-size: 0.9rem;
}
.gone {
  display: flex;
  align-items: center;
  gap: 0.75rem;
  background: var(--spruce-wash);
  border-left: 4px solid var(--spruce);
  padding: 0.4rem 0.75rem;
  margin-bottom: 0.75rem;
}
.side {
  display: flex;
  flex-direction: column;
  gap: 1.25rem;
  position: sticky;
  top: 0.8rem;
  align-self: start;
}
.bring,
.also {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 0.5rem;
}
.also {
  gap: 0.3rem;
  font-size: 0.94rem;
}
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem;
}
.empty {
  padding: 1.5rem 0;
}
.first {
  max-width: 40rem;
}
.first li {
  margin: 0.5rem 0;
}
.end {
  height: 1px;
}
@media (max-width: 1050px) {
  .shelf {
    grid-template-columns: minmax(0, 1fr) 232px;
    gap: 1rem;
    padding: 0.8rem;
  }
}
@media (max-width: 640px) {
  .shelf {
    grid-template-columns: minmax(0, 1fr);
  }
  .side {
    position: static;
    order: -1;
  }
}
</style>

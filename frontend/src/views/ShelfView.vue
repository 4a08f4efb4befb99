<script setup lang="ts">
import { useIntersectionObserver } from '@vueuse/core'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, onMounted, ref } from 'vue'
import { RouterLink } from 'vue-router'

import type { ShelfRow } from '@/api/client'
import ProblemNote from '@/components/ProblemNote.vue'
import NewTune from '@/components/shelf/NewTune.vue'
import ShelfTable from '@/components/shelf/ShelfTable.vue'
import TuneCard from '@/components/shelf/TuneCard.vue'
import { useShelf } from '@/composables/useShelf'

const { wanted, rows, total, tags, gone, problem, answer, load, more, sortBy, takeOff, bringBack } = useShelf()
const selectedId = ref<number | null>(null)
const selected = computed(() => rows.value.find((row) => row.id === selectedId.value))
const end = ref<HTMLElement | null>(null)

async function changed(select: number | null) {
  await load()
  selectedId.value = select
}

async function remove(row: ShelfRow) {
  selectedId.value = null
  await takeOff(row)
}

onMounted(load)
useIntersectionObserver(end, ([entry]) => entry?.isIntersecting && void more())
</script>

<template>
  <main class="shelf">
    <section class="list" aria-labelledby="shelf-title">
      <div class="head">
        <h1 id="shelf-title">{{ wanted.archived ? 'Archive' : 'Tunes' }}</h1>
        <InputText v-model="wanted.find" type="search" placeholder="Find by title, key, metre, kind or tag" aria-label="Find a tune" />
        <span class="quiet" role="status">{{ total }} {{ total === 1 ? 'tune' : 'tunes' }}</span>
        <span class="gap"></span>
        <Button :label="wanted.archived ? 'The shelf' : 'The archive'" size="small" severity="secondary" text @click="wanted.archived = !wanted.archived" />
      </div>
      <div v-if="tags.length" class="tags" role="group" aria-label="Only tunes with this tag">
        <button v-for="tag in tags" :key="tag.name" type="button" :aria-pressed="wanted.tag === tag.name" @click="wanted.tag = wanted.tag === tag.name ? '' : tag.name">
          {{ tag.name }} <span>{{ tag.tunes }}</span>
        </button>
      </div>
      <div v-if="gone" class="gone" role="status">
        “{{ gone.title }}” is deleted. <Button label="Undo" size="small" @click="bringBack" />
        <span class="quiet">It can be brought back for 30 days.</span>
      </div>
      <ProblemNote v-if="problem" :problem="problem" />
      <p v-else-if="answer && !total" class="quiet empty">
        <template v-if="wanted.find || wanted.tag">No tune {{ wanted.archived ? 'in the archive' : 'on the shelf' }} matches.</template>
        <template v-else-if="wanted.archived">The archive is empty.</template>
        <template v-else>The shelf is empty. Bring in tunes, or write one on the right.</template>
      </p>
      <ShelfTable v-if="rows.length" :rows="rows" :sort="wanted.sort" :descending="wanted.descending" :selected="selectedId" @sort="sortBy" @select="selectedId = $event" />
      <div ref="end" class="end"></div>
    </section>
    <aside class="side">
      <div class="bring">
        <h2>Bring in tunes</h2>
        <p class="quiet">ABC, MusicXML or MIDI, one tune or hundreds. You see what is in the file before anything is kept.</p>
        <RouterLink :to="{ name: 'bring-in' }" class="link-button">Bring in …</RouterLink>
        <p class="bind"><RouterLink :to="{ name: 'packet' }">Bind sheets of several tunes into a packet</RouterLink></p>
        <p><RouterLink :to="{ name: 'copies' }">Keep or bring back a copy of everything</RouterLink></p>
      </div>
      <NewTune />
      <TuneCard v-if="selected" :row="selected" @changed="changed" @take-off="remove(selected)" />
      <p v-else-if="rows.length" class="quiet">Click a row to tag, duplicate, archive or delete its tune.</p>
    </aside>
  </main>
</template>

<style scoped>
.shelf {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 310px;
  gap: 1.5rem;
  max-width: 1400px;
  margin: 0 auto;
  padding: 1.25rem;
}
.head {
  display: flex;
  align-items: center;
  gap: 1rem;
  margin-bottom: 0.75rem;
}
.head input {
  width: 21rem;
}
.gap {
  flex: 1;
}
.different {
  white-space: nowrap;
  font-size: 0.875rem;
}
.bind {
  margin-top: 0.6rem;
}
.tags {
  display: flex;
  flex-wrap: wrap;
  gap: 0.35rem;
  margin-bottom: 0.75rem;
}
.tags button {
  border: 1px solid var(--hairline);
  background: var(--panel);
  padding: 0.1rem 0.6rem;
  font: inherit;
  font-size: 0.875rem;
  color: var(--ink);
  cursor: pointer;
}
.tags button span {
  color: var(--ink-soft);
  font-size: 0.75rem;
}
.tags button[aria-pressed='true'] {
  background: var(--spruce);
  border-color: var(--spruce);
  color: #ffffff;
}
.tags button[aria-pressed='true'] span {
  color: #ffffff;
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
  gap: 1.5rem;
  position: sticky;
  top: 1rem;
  align-self: start;
}
.bring {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 0.5rem;
}
.empty {
  padding: 1.5rem 0;
}
.end {
  height: 1px;
}
@media (max-width: 1000px) {
  .shelf {
    grid-template-columns: 1fr;
  }
}
</style>

<script setup lang="ts">
import Button from 'primevue/button'
import Tab from 'primevue/tab'
import TabList from 'primevue/tablist'
import TabPanel from 'primevue/tabpanel'
import TabPanels from 'primevue/tabpanels'
import Tabs from 'primevue/tabs'
import { computed, onMounted, ref } from 'vue'
import { RouterLink, useRoute } from 'vue-router'

import { api, type BarRow, type DeskChange, type DeskEntry, type Sound } from '@/api/client'
import AbcEditor from '@/components/desk/AbcEditor.vue'
import BarMap from '@/components/desk/BarMap.vue'
import ChordChart from '@/components/desk/ChordChart.vue'
import CorePanel from '@/components/desk/CorePanel.vue'
import FormPanel from '@/components/desk/FormPanel.vue'
import FormStrip from '@/components/desk/FormStrip.vue'
import KeyPanel from '@/components/desk/KeyPanel.vue'
import NotePad from '@/components/desk/NotePad.vue'
import StaffView from '@/components/desk/StaffView.vue'
import TroubleList from '@/components/desk/TroubleList.vue'
import WordsPanel from '@/components/desk/WordsPanel.vue'
import LeaveQuestion from '@/components/LeaveQuestion.vue'
import ProblemNote from '@/components/ProblemNote.vue'
import { useAsked } from '@/composables/useAsked'
import { useCore } from '@/composables/useCore'
import { useDesk, type TextPlace } from '@/composables/useDesk'
import { useLeaveGuard } from '@/composables/useLeaveGuard'
import { useListen } from '@/composables/useListen'
import { useOpened } from '@/composables/useOpened'
import WaitingNote from '@/components/WaitingNote.vue'
import { idFrom } from '@/router'

const route = useRoute()
// The tune is the one that was opened: the route may change before the last save is sent.
const tuneId = idFrom(route.params.tuneId)
const editor = ref<TextPlace | null>(null)
useOpened(() => tuneId)
const desk = useDesk(tuneId, editor)
const { tune, problem, text, reading, readable, said, unsaved, conflict, saveProblem, changeProblem } = desk
const listen = useListen()
const sounds = useAsked<Sound[]>()
const cursor = ref(0)
const core = useCore(desk, cursor)
const tool = ref('chords')

const EXPORTS = [
  ['abc', 'ABC'],
  ['musicxml', 'MusicXML'],
  ['midi', 'MIDI'],
  ['chordpro', 'ChordPro'],
  ['lead', 'Lead sheet'],
] as const

/** The bar that the cursor stands in. */
const bar = computed(() => {
  const bars = readable.value?.bars ?? []
  return Math.max(0, bars.findLastIndex((one) => (one.events[0]?.[0] ?? Infinity) <= cursor.value))
})
const heard = computed<[number, number] | null>(() => (listen.heard.value ? [listen.heard.value.start, listen.heard.value.end] : null))
const marked = computed<[number, number]>(() => heard.value ?? [cursor.value, cursor.value + 1])
const state = computed(() => {
  if (!unsaved.value) return tune.value ? 'Saved' : ''
  return saveProblem.value || conflict.value ? 'Not saved yet' : 'Saving …'
})
const { asking, decide } = useLeaveGuard({ unsaved, save: desk.save })

function goToBar(place: number) {
  const events = (readable.value?.bars[place] as BarRow | undefined)?.events
  if (events?.[0]) pick(events[0][0], events[0][1])
}

function pick(start: number, end: number) {
  editor.value?.select(start, end)
}

/** From the list of troubles and from the staff one goes on typing. */
function pickAndType(start: number, end: number) {
  pick(start, end)
  editor.value?.focus()
}

/** On the staff with its core shown a click chooses a note; otherwise one goes on typing there. */
const pickOnStaff = (start: number, end: number) => (tool.value === 'core' ? pick : pickAndType)(start, end)

const change = (what: DeskChange) => desk.change(what)
const chart = (texts: string[]) => desk.change({ kind: 'chart', texts })
const enter = (entry: DeskEntry) => desk.enter(entry, () => cursor.value)

async function play() {
  if (listen.playing.value) return listen.stop()
  const line = await sounds.ask(() => api.sounds(text.value))
  if (line) listen.play(line, cursor.value > (line[0]?.start ?? 0) ? cursor.value : 0)
}

onMounted(desk.load)
</script>

<template>
  <main class="desk">
    <Teleport to="#masthead-place">
      <RouterLink to="/">Tunes</RouterLink>
      <strong>Desk</strong>
      <RouterLink :to="{ name: 'setup', params: { tuneId } }">Setup</RouterLink>
      <span class="gap"></span>
      <span class="quiet" role="status">{{ state }}</span>
      <a v-for="[name, label] in EXPORTS" :key="name" :href="api.tuneExport(tuneId, name)" download>{{ label }}</a>
    </Teleport>
    <LeaveQuestion v-if="asking" what="The tune" @decide="decide" />
    <ProblemNote v-if="problem" :problem="problem" />
    <WaitingNote v-else-if="!tune">Your tune is being opened …</WaitingNote>
    <template v-if="tune">
      <div class="top">
        <h1>{{ reading?.title ?? tune.title }}</h1>
        <p v-if="readable" class="quiet">
          {{ readable.key }}, {{ readable.metre }}, {{ readable.form }}. Range {{ readable.lowest }} to {{ readable.highest }}.
        </p>
        <p v-if="readable?.key_warning" class="warn">{{ readable.key_warning }}</p>
        <span class="gap"></span>
        <Button label="Undo" size="small" severity="secondary" @click="editor?.undo()" />
        <Button label="Redo" size="small" severity="secondary" @click="editor?.redo()" />
        <Button :label="listen.playing.value ? 'Stop' : 'Listen'" size="small" severity="secondary" :disabled="!reading?.readable" @click="play" />
        <RouterLink v-if="readable" :to="{ name: 'setup', params: { tuneId } }" class="link-button">Set up</RouterLink>
      </div>
      <div v-if="conflict" class="conflict" role="alert">
        <strong>{{ conflict.detail }}</strong> {{ conflict.remedy }}
        <Button label="Load the other text" size="small" @click="desk.load" />
        <Button label="Keep mine" size="small" severity="secondary" @click="desk.keepMine" />
      </div>
      <ProblemNote v-if="saveProblem" :problem="saveProblem" />
      <FormStrip v-if="readable" :reading="readable" :bar="bar" @pick="goToBar" />
      <div class="papers">
        <div class="typing">
          <AbcEditor ref="editor" v-model:text="text" :troubles="reading?.troubles ?? []" :heard="heard" @cursor="cursor = $event" />
          <TroubleList :troubles="reading?.troubles ?? []" :told="readable?.sentences ?? []" @pick="pickAndType" />
        </div>
        <StaffView :text="reading?.staff ?? text" :marked="marked" :label="`Staff of ${tune.title}`" :core="core.inked.value" @pick="pickOnStaff" />
      </div>
      <ProblemNote v-if="changeProblem" :problem="changeProblem" />
      <p v-if="said.length" class="quiet said">Not kept by the last change: {{ said.join(' ') }} Undo brings it back.</p>
      <Tabs v-model:value="tool" class="tools">
        <TabList>
          <Tab value="chords">Chords</Tab>
          <Tab value="core">Core</Tab>
          <Tab value="notes">Notes</Tab>
          <Tab value="bars">Bars</Tab>
          <Tab value="form">Form</Tab>
          <Tab value="words">Words</Tab>
          <Tab value="key">Key and metre</Tab>
        </TabList>
        <TabPanels>
          <TabPanel value="notes"><NotePad v-if="tool === 'notes'" @enter="enter" @undo="editor?.undo()" /></TabPanel>
          <p v-if="!readable && tool !== 'notes'" class="quiet">This opens as soon as the text can be read.</p>
          <div v-if="readable" :inert="!reading?.readable" :class="{ stale: !reading?.readable }">
            <TabPanel value="chords"><ChordChart :reading="readable" :text="text" :bar="bar" @chart="chart" @pick="goToBar" /></TabPanel>
            <TabPanel value="core">
              <CorePanel
                :notes="readable.core"
                :shown="core.shown.value"
                :note="core.note.value"
                @show="core.shown.value = $event"
                @decide="core.decide"
              />
            </TabPanel>
            <TabPanel value="bars"><BarMap :reading="readable" :bar="bar" @pick="goToBar" /></TabPanel>
            <TabPanel value="form"><FormPanel :reading="readable" :bar="bar" @change="change" /></TabPanel>
            <TabPanel value="words"><WordsPanel :reading="readable" @change="change" /></TabPanel>
            <TabPanel value="key"><KeyPanel :reading="readable" @change="change" /></TabPanel>
          </div>
        </TabPanels>
      </Tabs>
    </template>
  </main>
</template>

<style scoped>
.desk {
  display: flex;
  flex-direction: column;
  gap: 0.6rem;
  padding: 0.75rem 1.25rem 2rem;
}
.gap {
  flex: 1;
}
.top {
  display: flex;
  align-items: baseline;
  gap: 0.9rem;
}
.top .p-button {
  align-self: center;
}
.warn {
  border-left: 4px solid var(--madder);
  padding-left: 0.5rem;
}
.conflict {
  display: flex;
  align-items: center;
  gap: 0.6rem;
  border-left: 4px solid var(--madder);
  background: var(--madder-wash);
  padding: 0.4rem 0.75rem;
}
.papers {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.25fr);
  gap: 0.75rem;
  height: 330px;
}
.typing {
  display: grid;
  grid-template-rows: minmax(0, 1fr) auto;
  gap: 0.4rem;
  min-height: 0;
}
.said {
  font-size: 0.9rem;
}
.stale {
  opacity: 0.55;
}
.tools :deep(.p-tab) {
  padding: 0.45rem 0.9rem;
}
.tools :deep(.p-tabpanels) {
  padding: 0.8rem 0 0;
  background: none;
}
@media (max-width: 1000px) {
  .papers {
    grid-template-columns: 1fr;
    height: auto;
  }
}
</style>

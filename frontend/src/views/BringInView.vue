<script setup lang="ts">
import { useDropZone } from '@vueuse/core'
import Button from 'primevue/button'
import ProgressBar from 'primevue/progressbar'
import Textarea from 'primevue/textarea'
import { computed, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'

import StaffView from '@/components/desk/StaffView.vue'
import ProblemNote from '@/components/ProblemNote.vue'
import BroughtNote from '@/components/shelf/BroughtNote.vue'
import FileChoices from '@/components/shelf/FileChoices.vue'
import FoundTunes from '@/components/shelf/FoundTunes.vue'
import { useHanded } from '@/composables/useArrive'
import { useBringBack } from '@/composables/useBringBack'
import { useBringIn } from '@/composables/useBringIn'

const bench = useBringIn()
const { tunes, readable, format, total, tablature, left, wanted, choices, problem, reading, done, bringProblem, bringing } = bench
const text = ref('')
const fileName = ref('')
const chooser = ref<HTMLInputElement | null>(null)
const zone = ref<HTMLElement | null>(null)
const lookedAt = ref(0)
const shown = computed(() => tunes.value[lookedAt.value])
const NAMES: Record<string, string> = { abc: 'ABC', musicxml: 'MusicXML', midi: 'MIDI' }

const back = useBringBack()
const { problem: backProblem, brought, busy: backBusy } = back
const chosenFile = ref<File | null>(null)

function open(file: File) {
  fileName.value = file.name
  chosenFile.value = file
  back.forget()
  void sort(file)
}

/** A score that carries an arrangement is brought back as one; everything else is looked through for tunes. */
async function sort(file: File) {
  const json = /\.json$/i.test(file.name)
  const score = /\.(musicxml|xml)$/i.test(file.name) && (await file.text()).includes('name="nailhead-arrangement"')
  if (json || score) bench.forget()
  await (json || score ? back.bringBack(file) : bench.open(file))
}
function keepTablature() {
  if (chosenFile.value) void back.bringBack(chosenFile.value)
}
function chosen(event: Event) {
  const input = event.target as HTMLInputElement
  if (input.files?.[0]) open(input.files[0])
  input.value = ''
}
function look() {
  fileName.value = 'the pasted text'
  chosenFile.value = null
  back.forget()
  void bench.open(text.value)
}

useHanded((source) => {
  if (source instanceof File) return open(source)
  text.value = source
  look()
})
const { isOverDropZone } = useDropZone(zone, (files) => files?.[0] && open(files[0]))

watch(tunes, (list) => (lookedAt.value = Math.min(lookedAt.value, Math.max(0, list.length - 1))))

function tick(place: number) {
  if (wanted.value.has(place)) wanted.value.delete(place)
  else wanted.value.add(place)
  wanted.value = new Set(wanted.value)
}
const tickAll = (all: boolean) => (wanted.value = new Set(all ? readable.value.map((tune) => tune.place) : []))
async function bringIn() {
  if (await bench.bringIn()) text.value = ''
}
</script>

<template>
  <main class="bring-in">
    <Teleport to="#masthead-place">
      <RouterLink to="/">Tunes</RouterLink>
      <strong>Bring in</strong>
    </Teleport>
    <section ref="zone" class="source" :class="{ over: isOverDropZone }" aria-labelledby="source-title">
      <h1 id="source-title">Bring in tunes</h1>
      <p class="quiet">Choose a file (or drop it here): ABC, MusicXML, .mxl or MIDI; or an arrangement that was taken along as JSON or MusicXML.</p>
      <Button label="Choose a file …" severity="secondary" @click="chooser?.click()" />
      <input ref="chooser" type="file" accept=".abc,.txt,.xml,.musicxml,.mxl,.mid,.midi,.json" hidden aria-label="Tune file" @change="chosen" />
      <label for="abc" class="quiet">Or paste ABC, one tune or many:</label>
      <Textarea id="abc" v-model="text" rows="14" spellcheck="false" placeholder="X:1&#10;T:Title of the tune&#10;M:4/4&#10;L:1/8&#10;K:G&#10;|:G2B2 d3B|…" />
      <Button label="See what is in it" :disabled="!text.trim()" @click="look" />
    </section>
    <section class="found" aria-label="What is in the file">
      <ProblemNote v-if="problem" :problem="problem" />
      <ProblemNote v-if="backProblem" :problem="backProblem" />
      <ProgressBar v-if="reading && total > 1" :value="Math.round((100 * tunes.length) / total)" aria-label="Reading the file" />
      <div v-if="done" class="done" role="status">
        <strong>{{ done.added.length }} {{ done.added.length === 1 ? 'tune is' : 'tunes are' }} on the shelf.</strong>
        <template v-if="done.added.length === 1">
          <RouterLink :to="{ name: 'setup', params: { tuneId: done.added[0]!.id } }">Set it up</RouterLink>
          <RouterLink :to="{ name: 'tune', params: { tuneId: done.added[0]!.id } }">Open its desk</RouterLink>
        </template>
        <RouterLink to="/">To the shelf</RouterLink>
      </div>
      <BroughtNote v-else-if="brought" :brought="brought" />
      <template v-else-if="tunes.length">
        <div class="head">
          <h2>{{ NAMES[format] }}: {{ tunes.length }} {{ tunes.length === 1 ? 'tune' : 'tunes' }} in {{ fileName }}</h2>
          <span v-if="tunes.length - readable.length" class="trouble">{{ tunes.length - readable.length }} cannot be read</span>
          <span class="gap"></span>
          <template v-if="readable.length > 1">
            <Button label="All" size="small" severity="secondary" text @click="tickAll(true)" />
            <Button label="None" size="small" severity="secondary" text @click="tickAll(false)" />
          </template>
          <Button :label="`Bring in ${wanted.size} ${wanted.size === 1 ? 'tune' : 'tunes'}`" :disabled="!wanted.size || reading || bringing" @click="bringIn" />
        </div>
        <ProblemNote v-if="bringProblem" :problem="bringProblem" />
        <p v-if="tablature && chosenFile" class="tablature">
          The score says where every note is fretted. Keep that as an arrangement, bar by bar as it stands, or bring in the melody alone.
          <Button label="Keep its tablature" size="small" severity="secondary" :disabled="backBusy" @click="keepTablature" />
        </p>
        <FileChoices v-if="left" :left="left" :choices="choices" @decide="bench.decide" />
        <FoundTunes :tunes="tunes" :wanted="wanted" :looked-at="lookedAt" @tick="tick" @look="lookedAt = $event" />
        <template v-if="shown">
          <ul v-if="shown.left_out.length" class="left-out" aria-label="Left out of this tune">
            <li v-for="one in shown.left_out" :key="one">{{ one }}</li>
          </ul>
          <StaffView v-if="!shown.refused" class="look" :text="shown.staff" :marked="null" :label="`Staff of ${shown.title}`" />
          <pre v-else class="look" tabindex="0" aria-label="ABC text">{{ shown.abc }}</pre>
        </template>
      </template>
      <p v-else-if="!problem && !reading" class="quiet waiting">What is in the file is listed here, tune by tune, before anything is kept.</p>
    </section>
  </main>
</template>

<style scoped>
.bring-in {
  display: grid;
  grid-template-columns: 330px minmax(0, 1fr);
  gap: 1.5rem;
  max-width: 1400px;
  margin: 0 auto;
  padding: 1.25rem;
}
.source {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 0.6rem;
}
.source.over {
  outline: 2px dashed var(--spruce);
  outline-offset: 6px;
}
textarea {
  width: 100%;
  font-family: ui-monospace, 'DejaVu Sans Mono', monospace;
  font-size: 0.85rem;
  line-height: 1.5;
}
.found {
  display: flex;
  flex-direction: column;
  gap: 0.7rem;
  min-width: 0;
}
.head {
  display: flex;
  align-items: center;
  gap: 0.8rem;
}
.tablature {
  display: flex;
  align-items: center;
  gap: 0.8rem;
  margin: 0;
}
.tablature button {
  flex: none;
}
.gap {
  flex: 1;
}
.trouble {
  color: var(--madder);
}
.left-out {
  margin: 0;
  padding-left: 1.1rem;
  font-size: 0.875rem;
  color: var(--ink-soft);
}
.look {
  max-height: 340px;
}
pre.look {
  margin: 0;
  padding: 0.6rem 0.8rem;
  overflow: auto;
  background: var(--panel);
  border: 1px solid var(--hairline);
  font-size: 0.85rem;
}
.done {
  display: flex;
  gap: 1rem;
  border-left: 4px solid var(--spruce);
  background: var(--spruce-wash);
  padding: 0.6rem 0.8rem;
}
.waiting {
  padding: 2rem 0;
}
</style>

<script setup lang="ts">
import { useElementSize, useStorage } from '@vueuse/core'
import Button from 'primevue/button'
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { RouterLink, useRoute } from 'vue-router'

import type { NoteEdit } from '@/api/client'
import ArrangementChoices from '@/components/ladder/ArrangementChoices.vue'
import ArrangementsBar from '@/components/ladder/ArrangementsBar.vue'
import AsideList from '@/components/ladder/AsideList.vue'
import BarAlternatives from '@/components/ladder/BarAlternatives.vue'
import BarChoices from '@/components/ladder/BarChoices.vue'
import BarInspector from '@/components/ladder/BarInspector.vue'
import BarLarge from '@/components/ladder/BarLarge.vue'
import HardSpots from '@/components/ladder/HardSpots.vue'
import LadderPhrase from '@/components/ladder/LadderPhrase.vue'
import LadderTools from '@/components/ladder/LadderTools.vue'
import NoteEditor from '@/components/ladder/NoteEditor.vue'
import SoloFrames from '@/components/ladder/SoloFrames.vue'
import TuneMap from '@/components/ladder/TuneMap.vue'
import ProblemNote from '@/components/ProblemNote.vue'
import { useAlternatives } from '@/composables/useAlternatives'
import { useArrangements } from '@/composables/useArrangements'
import { useBeside } from '@/composables/useBeside'
import { useCell } from '@/composables/useCell'
import { useChoices } from '@/composables/useChoices'
import { useFrames } from '@/composables/useFrames'
import { useLadder } from '@/composables/useLadder'
import { LADDER_KEYS, useLadderKeys } from '@/composables/useLadderKeys'
import { usePlayer } from '@/composables/usePlayer'
import { useSelection } from '@/composables/useSelection'
import { idFrom } from '@/router'

const route = useRoute()
const setupId = computed(() => idFrom(route.params.setupId))
const bench = useLadder(setupId)
const { ladder, path, phrases, bars, top, problem, changeProblem, remarks, said } = bench
const { place, rung, stretch, select: choosePlace } = useSelection(
  computed(() => bars.value.length),
  top,
)
const second = ref(false)
const marked = useStorage('nailhead-new-notes', true)
const showKeys = ref(false)

const { alternatives, busy: looking, open: otherOpen, problem: otherProblem, toggle, ready } = useAlternatives(setupId, place, rung)
const { choices, problem: choiceProblem, load: loadChoices } = useChoices(setupId)
const { cell: detail, picked, note, places, pick, unpick } = useCell(setupId, place, rung, path)
const player = usePlayer(setupId, ladder, path)
const { rows, problem: rowsProblem, go, copy, rename } = useArrangements(setupId, ladder)
const frames = useFrames(setupId, ladder, path)
const { other, rows: besideRows, want: wantBeside } = useBeside(setupId)

const bar = computed(() => bars.value[place.value])
const cell = computed(() => bench.cellAt(place.value, rung.value))
const onPath = computed(() => (second.value ? path.value?.second : path.value?.rungs)?.[place.value] ?? 1)
const together = computed(() => bench.together(place.value))
const others = computed(() => together.value.filter((one) => one !== place.value).map((one) => bars.value[one]?.number ?? 0))
const equals = computed(() => bars.value.filter((one) => one.equal_to === bar.value?.equal_to).length)
const locked = computed(() => path.value?.locked.includes(place.value) ?? false)
const split = computed(() => path.value?.split.includes(place.value) ?? false)
const taken = computed(() => cell.value?.said ?? '')
const troubles = computed(() => [changeProblem.value, otherProblem.value, choiceProblem.value, rowsProblem.value].filter((one) => one !== null))

const room = ref<HTMLElement | null>(null)
const { width, height } = useElementSize(room)
/** The drawing is as large as one phrase with all its rungs in sight allows; rung names take 6.5 rem. */
const LARGEST = 4.6
const SMALLEST = 2.9
const NAMES = 120
const scale = computed(() => {
  if (!ladder.value) return SMALLEST
  const widest = Math.max(1, ...phrases.value.map((phrase) => phrase.width))
  const tall = ladder.value.head_height + ladder.value.rungs.length * ladder.value.cell_height + 3
  const fits = Math.min(((width.value || 940) - NAMES) / widest, ((height.value || 640) - 16) / tall)
  return Math.max(SMALLEST, Math.min(LARGEST, fits))
})

async function show(focus = true) {
  void bench.want(bench.phraseOf(place.value))
  await nextTick()
  const target = document.querySelector<HTMLElement>(`[data-place="${place.value}"][data-rung="${rung.value}"]`)
  if (focus) target?.focus({ preventScroll: true })
  const phrase = target?.closest<HTMLElement>('.phrase')
  const box = room.value?.getBoundingClientRect()
  const seen = phrase?.getBoundingClientRect()
  if (box && seen && (seen.top < box.top - 2 || seen.bottom > box.bottom + 2)) phrase?.scrollIntoView({ block: 'start' })
}

function select(newPlace: number, newRung: number, extend = false) {
  choosePlace(newPlace, newRung, extend)
  void show()
}

function move(by: number, up: number, extend: boolean) {
  select(place.value + by, rung.value + up, extend)
}

function take(newPlace = place.value, newRung = rung.value) {
  if (!stretch.value.includes(newPlace)) choosePlace(newPlace, newRung)
  rung.value = newRung
  void bench.change({ do: 'rungs', places: stretch.value, rung: newRung, second: second.value })
  void show()
}

function raise(by: number) {
  void bench.change({ do: 'raise', places: stretch.value, by, second: second.value })
  rung.value = onPath.value
  void show()
}

/** From the computed way through the alternatives and back to it. */
async function nextAlternative() {
  const offered = await ready()
  const at = offered.findIndex((one) => one.difference === taken.value)
  const next = offered[at + 1]
  if (next) await takeAlternative(next.difference)
  else if (cell.value?.kept) await bench.change({ do: 'release', place: place.value, rung: rung.value })
}

const takeAlternative = (difference: string) => bench.change({ do: 'alternative', place: place.value, rung: rung.value, difference })
const lock = () => bench.change({ do: locked.value ? 'unlock' : 'lock', places: stretch.value })
const toggleSplit = () => bench.change({ do: split.value ? 'join' : 'split', place: place.value })
const play = () => (player.playing.value ? player.stop() : void player.play(place.value))
const hear = () => player.hear(place.value, rung.value)
const edit = (change: NoteEdit) => bench.change({ do: 'edit', place: place.value, rung: rung.value, edit: change })

function setFret(onset: string, string: number, fret: number) {
  pick(onset, string)
  const there = detail.value?.notes.some((one) => one.onset === onset && one.string === string)
  void edit({ do: there ? 'fret' : 'add', onset, string, fret, to_string: 0, finger: 0, touch: '', ornament: null, start: 0, slow: false })
}

function erase(onset: string, string: number) {
  void edit({ do: 'delete', onset, string, fret: 0, to_string: 0, finger: 0, touch: '', ornament: null, start: 0, slow: false })
}

const moveNote = (string: number, fret: number) =>
  note.value && bench.change({ do: 'unison', place: place.value, rung: rung.value, onset: note.value.onset, string, fret })

async function choose(name: string, way: string) {
  if (await bench.change({ do: 'choose', name, way })) void loadChoices()
}

useLadderKeys({
  move,
  take: () => take(),
  raise,
  alternative: () => void nextAlternative(),
  lock: () => void lock(),
  split: () => void toggleSplit(),
  undo: () => path.value?.undo && void bench.undo(),
  redo: () => path.value?.redo && void bench.redo(),
  play,
  hear,
  marks: () => (marked.value = !marked.value),
  help: () => (showKeys.value = !showKeys.value),
})

watch(player.heard, (now) => {
  const phrase = now && phrases.value[bench.phraseOf(now.place)]
  if (phrase) document.querySelectorAll<HTMLElement>('.phrase')[phrase.index]?.scrollIntoView({ block: 'nearest' })
})
watch([other, phrases], () => phrases.value.forEach((phrase) => phrase.columns && void wantBeside(phrase.index)))
onMounted(async () => {
  await bench.load()
  choosePlace(0, path.value?.rungs[0] ?? 1)
})
</script>

<template>
  <main class="ladder-view">
    <Teleport to="#masthead-place">
      <template v-if="ladder">
        <RouterLink to="/">Tunes</RouterLink>
        <RouterLink :to="{ name: 'tune', params: { tuneId: ladder.tune_id } }">Desk</RouterLink>
        <RouterLink :to="{ name: 'setup', params: { tuneId: ladder.tune_id } }">Setup</RouterLink>
        <strong>Ladder</strong>
        <RouterLink :to="{ name: 'sheet', params: { setupId } }">Sheet</RouterLink>
        <ArrangementsBar :rows="rows" :ladder="ladder" :beside="other" @go="go" @copy="copy" @rename="rename" @beside="other = $event" />
      </template>
    </Teleport>
    <ProblemNote v-if="problem" :problem="problem" />
    <template v-if="ladder && path">
      <div class="top">
        <h1>{{ ladder.title }}</h1>
        <p class="quiet">
          {{ ladder.label }}. Plays {{ ladder.shape_key }}, sounds {{ ladder.sounding_key }}. {{ ladder.different_bars }} of
          {{ ladder.bars }} bars are different.<template v-if="ladder.chords_suggested"> Grey chords are suggestions.</template>
        </p>
        <p class="said" role="status">{{ said }}</p>
        <Button label="Keys ?" severity="secondary" text size="small" :aria-expanded="showKeys" @click="showKeys = !showKeys" />
      </div>
      <p v-for="remark in remarks" :key="remark" class="caution">{{ remark }}</p>
      <LadderTools
        :ladder="ladder"
        :path="path"
        :second="second"
        :marked="marked"
        :playing="player.playing.value"
        :settings="player.settings"
        @undo="bench.undo"
        @redo="bench.redo"
        @level="bench.change({ do: 'level', rung: $event })"
        @at-most="bench.change({ do: 'at most', grade: $event })"
        @second="second = $event"
        @marked="marked = $event"
        @play="play"
      />
      <TuneMap
        :bars="bars"
        :path="path"
        :second="second"
        :place="place"
        :stretch="stretch"
        :heard="player.heard.value?.place ?? null"
        @select="(at, extend) => select(at, (second ? path?.second : path?.rungs)?.[at] ?? rung, extend)"
      />
      <ProblemNote v-for="trouble in troubles" :key="trouble.detail" :problem="trouble" />
      <div class="work">
        <div ref="room" class="phrases">
          <LadderPhrase
            v-for="phrase in phrases"
            :key="phrase.index"
            :phrase="phrase"
            :ladder="ladder"
            :scale="scale"
            :path="path"
            :second="second"
            :marked="marked"
            :place="place"
            :rung="rung"
            :stretch="stretch"
            :together="together"
            :heard="player.heard.value?.place ?? null"
            :beside="besideRows.get(phrase.index) ?? null"
            @select="select"
            @take="take"
            @want="bench.want(phrase.index)"
          />
          <SoloFrames :frames="frames" :scale="scale" />
        </div>
        <div class="side">
          <BarInspector
            v-if="bar"
            :bar="bar"
            :rung="rung"
            :cell="cell"
            :detail="detail"
            :ladder="ladder"
            :on-path="onPath"
            :others="others"
            :equals="equals"
            :locked="locked"
            :split="split"
            :stretch="stretch.length"
            @take="take()"
            @raise="raise"
            @part="bench.change({ do: 'raise part', place, by: $event })"
            @lock="lock"
            @split="toggleSplit"
            @release="bench.change({ do: 'release', place, rung })"
            @hear="hear"
          >
            <template #large>
              <BarLarge v-if="detail" :detail="detail" :ladder="ladder" :picked="picked" @pick="pick" @fret="setFret" @erase="erase" @leave="(unpick(), show())" />
            </template>
            <template #note>
              <NoteEditor v-if="picked && detail" :picked="picked" :note="note" :places="places" :touches="detail.touches" @edit="edit" @unison="moveNote" />
            </template>
            <template #choices>
              <BarChoices
                v-if="detail && !locked"
                :detail="detail"
                @pattern="bench.change({ do: 'pattern', place, rung, pattern: $event })"
                @shape="(onset, frets) => bench.change({ do: 'shape', place, rung, onset, frets })"
              />
            </template>
          </BarInspector>
          <BarAlternatives
            :alternatives="alternatives"
            :ladder="ladder"
            :open="otherOpen"
            :busy="looking"
            :taken="taken"
            :locked="locked"
            @toggle="toggle"
            @take="takeAlternative"
          />
          <AsideList :aside="path.aside" @throw-away="bench.change({ do: 'throw away', number: $event })" />
          <HardSpots :spots="path.spots" @show="(at) => select(at, path?.rungs[at] ?? 1)" />
          <ArrangementChoices v-if="choices" :choices="choices" @choose="choose" />
          <section v-if="showKeys" class="side-box keys" aria-label="Keys">
            <h2>Keys</h2>
            <dl>
              <template v-for="[key, what] in LADDER_KEYS" :key="key">
                <dt>{{ key }}</dt>
                <dd>{{ what }}</dd>
              </template>
            </dl>
          </section>
          <p v-for="caution in ladder.cautions" :key="caution" class="caution">{{ caution }}</p>
        </div>
      </div>
    </template>
  </main>
</template>

<style scoped>
.ladder-view {
  height: calc(100vh - 48px);
  min-height: 520px;
  padding: 0.45rem 1rem 0.5rem;
  display: flex;
  flex-direction: column;
  gap: 0.35rem;
}
.top {
  display: flex;
  align-items: center;
  height: 1.9rem;
  gap: 0.9rem;
  min-width: 0;
}
h1 {
  font-size: 1.4rem;
  white-space: nowrap;
}
.top p {
  font-size: 0.875rem;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.work {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr) 340px;
  gap: 0.75rem;
}
.phrases {
  display: flex;
  flex-direction: column;
  gap: 0.5rem;
  overflow: auto;
  scroll-padding: 0;
}
.side {
  overflow-y: auto;
  display: flex;
  flex-direction: column;
  gap: 0.5rem;
}
.said {
  margin-left: auto;
  color: var(--ink);
  flex-shrink: 0;
}
.keys {
  order: -1;
}
.keys dl {
  display: grid;
  grid-template-columns: 5.5rem 1fr;
  gap: 0.15rem;
  margin: 0.2rem 0 0;
  font-size: 0.9rem;
}
.keys dt {
  font-weight: 700;
}
.keys dd {
  margin: 0;
}
.caution {
  border-left: 4px solid var(--madder);
  background: var(--madder-wash);
  padding: 0.45rem 0.7rem;
  font-size: 0.875rem;
}
@media (max-width: 1000px), (max-height: 560px) {
  .ladder-view {
    height: auto;
  }
  .work {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>

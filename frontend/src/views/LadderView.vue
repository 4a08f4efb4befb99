<script setup lang="ts">
import { useElementSize, useStorage } from '@vueuse/core'
import { computed, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import CautionLines from '@/components/CautionLines.vue'
import ArrangementChoices from '@/components/ladder/ArrangementChoices.vue'
import ArrangementsBar from '@/components/ladder/ArrangementsBar.vue'
import AsideList from '@/components/ladder/AsideList.vue'
import BarAlternatives from '@/components/ladder/BarAlternatives.vue'
import BarChoices from '@/components/ladder/BarChoices.vue'
import BarInspector from '@/components/ladder/BarInspector.vue'
import BarLarge from '@/components/ladder/BarLarge.vue'
import HandedOutNote from '@/components/ladder/HandedOutNote.vue'
import HardSpots from '@/components/ladder/HardSpots.vue'
import LadderHead from '@/components/ladder/LadderHead.vue'
import LadderPhrase from '@/components/ladder/LadderPhrase.vue'
import LadderTools from '@/components/ladder/LadderTools.vue'
import NoteEditor from '@/components/ladder/NoteEditor.vue'
import OwnPatterns from '@/components/ladder/OwnPatterns.vue'
import { scaleOf } from '@/components/ladder/scale'
import SoloFrames from '@/components/ladder/SoloFrames.vue'
import TuneMap from '@/components/ladder/TuneMap.vue'
import ProblemNote from '@/components/ProblemNote.vue'
import WaitingNote from '@/components/WaitingNote.vue'
import { useAlternatives } from '@/composables/useAlternatives'
import { useArrangements } from '@/composables/useArrangements'
import { useBeside } from '@/composables/useBeside'
import { useCell } from '@/composables/useCell'
import { useCellChoices } from '@/composables/useCellChoices'
import { useChoices } from '@/composables/useChoices'
import { useFrames } from '@/composables/useFrames'
import { useLadder } from '@/composables/useLadder'
import { useLadderWork } from '@/composables/useLadderWork'
import { useOpened } from '@/composables/useOpened'
import { usePlayer } from '@/composables/usePlayer'
import { useSelection } from '@/composables/useSelection'
import { idFrom } from '@/router'

const route = useRoute()
const router = useRouter()
const setupId = ref(idFrom(route.params.setupId))
const bench = useLadder(setupId)
const { ladder, path, phrases, bars, top, problem, rowProblems, remarks, said } = bench
useOpened(() => ladder.value?.tune_id)
const selection = useSelection(computed(() => bars.value.length), top)
const { place, rung, stretch } = selection
const marked = useStorage('nailhead-new-notes', true)

const others = useAlternatives(setupId, place, rung)
const { alternatives, busy: looking, open: otherOpen, problem: otherProblem } = others
const { choices, problem: choiceProblem, load: loadChoices } = useChoices(setupId)
const large = useCell(setupId, place, rung, path)
const { cell: detail, problem: detailProblem, picked, note, places } = large
const { choices: cellChoices, problem: cellProblem, busy: choosing, open: choosingOpen } = useCellChoices(setupId, place, rung, path)
const player = usePlayer(setupId, ladder, path)
const { rows, problem: rowsProblem, go, copy, rename } = useArrangements(setupId, ladder)
const frames = useFrames(setupId, ladder, path)
const { other, rows: besideRows, want: wantBeside } = useBeside(setupId)

const room = ref<HTMLElement | null>(null)
const { width, height } = useElementSize(room)
const scale = computed(() => (ladder.value ? scaleOf(ladder.value, phrases.value, width.value, height.value) : 1))
const work = useLadderWork({ bench, selection, cell: large, others, room })
const { second } = work
const bar = computed(() => bars.value[place.value])
const cell = computed(() => bench.cellAt(place.value, rung.value))
const pathRow = computed(() => (second.value ? path.value?.second : path.value?.rungs) ?? [])
const together = computed(() => bench.together(place.value))
const equals = computed(() => bars.value.filter((one) => one.equal_to === bar.value?.equal_to).length)
const mates = computed(() => together.value.filter((one) => one !== place.value).map((one) => bars.value[one]?.number ?? 0))
const locked = computed(() => path.value?.locked.includes(place.value) ?? false)
const split = computed(() => path.value?.split.includes(place.value) ?? false)
const troubles = computed(() => [player.problem, otherProblem, choiceProblem, rowsProblem, cellProblem, detailProblem].flatMap((one) => one.value ?? []))

const play = () => (player.playing.value ? player.stop() : void player.play(place.value))
const hear = () => player.hear(place.value, rung.value)
async function choose(name: string, way: string) {
  if (await bench.change({ do: 'choose', name, way })) void loadChoices()
}
work.byKeys({ play, hear, marks: () => (marked.value = !marked.value), print: () => void router.push({ name: 'sheet', params: { setupId: setupId.value } }) })

watch(player.heard, (now) => {
  const phrase = now && phrases.value[bench.phraseOf(now.place)]
  if (phrase) document.querySelectorAll<HTMLElement>('.phrase')[phrase.index]?.scrollIntoView({ block: 'nearest' })
})
watch([other, phrases], () => phrases.value.forEach((phrase) => phrase.columns && void wantBeside(phrase.index)))
onMounted(async () => {
  await bench.load()
  selection.select(0, path.value?.rungs[0] ?? 1)
})
</script>

<template>
  <main class="ladder-view">
    <ProblemNote v-if="problem" :problem="problem" />
    <WaitingNote v-else-if="!ladder">The ladder is being worked out …</WaitingNote>
    <template v-if="ladder && path">
      <LadderHead :ladder="ladder" :setup-id="setupId" :said="said">
        <ArrangementsBar :rows="rows" :ladder="ladder" :beside="other" @go="go" @copy="copy" @rename="rename" @beside="other = $event" />
      </LadderHead>
      <CautionLines :lines="remarks" />
      <HandedOutNote
        v-if="path.handed_out"
        :handed="path.handed_out"
        :place="place"
        @keep="bench.change({ do: 'keep handed out', places: $event })"
        @renew="bench.change({ do: 'take new', places: $event })"
        @show="(at) => work.select(at, pathRow[at] ?? 1)"
      />
      <LadderTools
        :ladder="ladder"
        :path="path"
        :second="second"
        :marked="marked"
        :playing="player.playing.value"
        :settings="player.settings.value"
        @undo="bench.undo"
        @redo="bench.redo"
        @level="work.level"
        @at-most="bench.change({ do: 'at most', grade: $event })"
        @second="second = $event"
        @marked="marked = $event"
        @play="play"
        @settings="player.settings.value = $event"
      />
      <TuneMap
        :bars="bars"
        :path="path"
        :second="second"
        :place="place"
        :stretch="stretch"
        :heard="player.heard.value?.place ?? null"
        @select="(at, extend) => work.select(at, pathRow[at] ?? rung, extend)"
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
            :problem="rowProblems.get(phrase.index) ?? null"
            :beside="besideRows.get(phrase.index) ?? null"
            @select="work.point"
            @take="work.take"
            @sight="bench.sight(phrase.index, $event)"
            @again="bench.again(phrase.index)"
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
            :on-path="pathRow[place] ?? 1"
            :others="mates"
            :equals="equals"
            :locked="locked"
            :split="split"
            :stretch="stretch.length"
            @take="work.take()"
            @raise="work.raise"
            @part="work.part"
            @lock="work.lock"
            @split="work.toggleSplit"
            @release="work.release"
            @hear="hear"
          >
            <template #large>
              <BarLarge v-if="bar" :detail="detail" :cell="cell" :width="bar.width" :ladder="ladder" :picked="picked" @pick="large.pick" @fret="work.setFret" @erase="work.erase" @leave="(large.unpick(), work.show())" />
            </template>
            <template #note>
              <NoteEditor v-if="picked && detail" :picked="picked" :note="note" :places="places" :touches="detail.touches" @edit="work.edit" @unison="work.moveNote" />
            </template>
            <template #choices>
              <BarChoices
                v-if="bar && !locked && rung > 1"
                :choices="cellChoices"
                :open="choosingOpen"
                :busy="choosing"
                @open="choosingOpen = $event"
                @pattern="work.pattern"
                @shape="work.shape"
              />
            </template>
          </BarInspector>
          <BarAlternatives
            :alternatives="alternatives"
            :ladder="ladder"
            :open="otherOpen"
            :busy="looking"
            :taken="cell?.said ?? ''"
            :locked="locked"
            @toggle="others.toggle"
            @take="work.takeAlternative"
          />
          <AsideList :aside="path.aside" @throw-away="bench.change({ do: 'throw away', number: $event })" />
          <HardSpots :spots="path.spots" @show="(at) => work.select(at, path?.rungs[at] ?? 1)" />
          <ArrangementChoices v-if="choices" :choices="choices" @choose="choose" />
          <OwnPatterns :ladder="ladder" @keep="work.ownPattern" @drop="work.dropPattern" />
          <CautionLines :lines="ladder.cautions" />
        </div>
      </div>
    </template>
  </main>
</template>

<style scoped>
.ladder-view {
  height: calc(100dvh - var(--masthead) - var(--notices, 0px));
  min-height: 520px;
  padding: 0.45rem 1rem 0.5rem;
  display: flex;
  flex-direction: column;
  gap: 0.35rem;
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
/* A tablet held upright: what is selected is told under the rungs, always in sight. */
@media (max-width: 1000px) {
  .ladder-view {
    height: auto;
  }
  .work {
    grid-template-columns: minmax(0, 1fr);
  }
}
@media (max-width: 1000px) and (min-height: 900px) {
  .ladder-view {
    height: calc(100dvh - var(--masthead) - var(--notices, 0px));
  }
  .work {
    grid-template-rows: minmax(0, 1fr) minmax(0, 17.5rem);
  }
}
@media (max-height: 560px) {
  .ladder-view {
    height: auto;
  }
}
</style>

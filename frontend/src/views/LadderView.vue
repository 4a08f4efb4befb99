<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import Button from 'primevue/button'
import { computed, nextTick, onMounted, ref } from 'vue'
import { RouterLink, useRoute } from 'vue-router'

import ArrangementChoices from '@/components/ArrangementChoices.vue'
import BarAlternatives from '@/components/BarAlternatives.vue'
import BarInspector from '@/components/BarInspector.vue'
import HardSpots from '@/components/HardSpots.vue'
import LadderPhrase from '@/components/LadderPhrase.vue'
import ProblemNote from '@/components/ProblemNote.vue'
import { useAlternatives } from '@/composables/useAlternatives'
import { useChoices } from '@/composables/useChoices'
import { useLadder } from '@/composables/useLadder'
import { LADDER_KEYS, useLadderKeys } from '@/composables/useLadderKeys'
import { idFrom } from '@/router'

const route = useRoute()
const setupId = computed(() => idFrom(route.params.setupId))
const bench = useLadder(setupId)
const { ladder, path, place, rung, cell, column, equals, problem, changeProblem } = bench
const other = useAlternatives(setupId, place, rung)
const { alternatives, busy: looking, open: otherOpen, problem: otherProblem } = other
const { choices, problem: choiceProblem, choose } = useChoices(setupId, bench.load)
const showKeys = ref(false)

const room = ref<HTMLElement | null>(null)
const { width } = useElementSize(room)
/** Largest drawing that keeps the widest phrase in sight; rung names and padding take 8.5 rem. */
const LARGEST = 4.6
const NAMES = 136
const scale = computed(() => {
  const widest = Math.max(1, ...(ladder.value?.phrases.map((phrase) => phrase.width) ?? []))
  return Math.max(2.6, Math.min(LARGEST, ((width.value || 960) - NAMES) / widest))
})
const together = computed(() => equals.value.map((one) => one.place))

async function show() {
  await nextTick()
  const target = document.querySelector<HTMLElement>(`[data-place="${place.value}"][data-rung="${rung.value}"]`)
  target?.focus({ preventScroll: true })
  target?.scrollIntoView({ block: 'nearest' })
}

function select(newPlace: number, newRung: number) {
  bench.select(newPlace, newRung)
  void show()
}

function take(newPlace = place.value, newRung = rung.value) {
  void bench.take(newPlace, newRung)
  void show()
}

function raise(by: number) {
  void bench.raise(by)
  void show()
}

useLadderKeys({
  move: (bars, rungs) => select(place.value + bars, rung.value + rungs),
  take: () => take(),
  raise,
  help: () => (showKeys.value = !showKeys.value),
})
onMounted(bench.load)
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
      </template>
    </Teleport>
    <ProblemNote v-if="problem" :problem="problem" />
    <template v-if="ladder && path">
      <div class="top">
        <div class="naming">
          <h1>{{ ladder.title }}</h1>
          <p class="quiet">
            {{ ladder.label }}. Plays {{ ladder.shape_key }}, sounds {{ ladder.sounding_key }}. {{ ladder.different_bars }} of
            {{ ladder.bars }} bars are different.<template v-if="ladder.chords_suggested"> Grey chords are suggestions.</template>
          </p>
        </div>
        <div class="path-tools">
          <span>Path: grade {{ path.grade }}</span>
          <div class="buttons" role="group" aria-label="Put the whole path on one rung">
            <Button
              v-for="one in ladder.rungs"
              :key="one.number"
              :label="`All on ${one.number}`"
              severity="secondary"
              size="small"
              @click="bench.level(one.number)"
            />
            <Button label="Keys ?" severity="secondary" text size="small" :aria-expanded="showKeys" @click="showKeys = !showKeys" />
          </div>
        </div>
      </div>
      <ProblemNote v-if="changeProblem" :problem="changeProblem" />
      <div class="work">
        <div ref="room" class="phrases">
          <LadderPhrase
            v-for="(phrase, index) in ladder.phrases"
            :key="index"
            :phrase="phrase"
            :ladder="ladder"
            :scale="scale"
            :path="path.rungs"
            :place="place"
            :rung="rung"
            :together="together"
            @select="select"
            @take="take"
          />
        </div>
        <div class="side">
          <BarInspector
            v-if="column && cell"
            :column="column"
            :cell="cell"
            :ladder="ladder"
            :on-path="path.rungs[place] ?? 1"
            :equals="equals"
            @take="take()"
            @raise="raise"
          />
          <ProblemNote v-if="otherProblem" :problem="otherProblem" />
          <BarAlternatives :alternatives="alternatives" :ladder="ladder" :open="otherOpen" :busy="looking" @toggle="other.toggle" />
          <HardSpots :spots="path.spots" @show="(at) => select(at, path?.rungs[at] ?? 1)" />
          <ProblemNote v-if="choiceProblem" :problem="choiceProblem" />
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
  padding: 0.9rem 1.25rem 2rem;
  display: flex;
  flex-direction: column;
  gap: 0.8rem;
}
.top {
  display: flex;
  justify-content: space-between;
  align-items: flex-end;
  gap: 1.5rem;
}
.naming {
  min-width: 0;
}
.path-tools {
  display: flex;
  flex-direction: column;
  align-items: flex-end;
  gap: 0.3rem;
  white-space: nowrap;
}
.buttons {
  display: flex;
  gap: 0.35rem;
}
.work {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 264px;
  gap: 1rem;
  align-items: start;
}
.phrases {
  display: flex;
  flex-direction: column;
  gap: 0.7rem;
  overflow-x: auto;
}
.side {
  position: sticky;
  top: 0.75rem;
  display: flex;
  flex-direction: column;
  gap: 0.75rem;
}
.keys dl {
  display: grid;
  grid-template-columns: 5.5rem 1fr;
  gap: 0.2rem;
  margin: 0.4rem 0 0;
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
@media (max-width: 1000px) {
  .work {
    grid-template-columns: 1fr;
  }
}
</style>

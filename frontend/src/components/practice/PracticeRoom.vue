<script setup lang="ts">
import { computed, onMounted, ref, toRef } from 'vue'

import type { Practice, PracticeWish, Room, Said } from '@/api/types'
import CautionLines from '@/components/CautionLines.vue'
import { usePracticeKeys, type Doing } from '@/practice/keys'
import { PERCENT, useSounding, type Mix } from '@/practice/useSounding'
import { useStretch, type Reach } from '@/practice/useStretch'
import DrillList from './DrillList.vue'
import KeysPanel from './KeysPanel.vue'
import MixPanel from './MixPanel.vue'
import PlanPanel from './PlanPanel.vue'
import PlayBar from './PlayBar.vue'
import TabLines from './TabLines.vue'

/** The practice room, for the teacher's screen and for a page to take home: tab, sound, plan, drills, all by keys. */
const props = defineProps<{ room: Room; plan: Practice; say: (step: string, word: Said) => Promise<number | null>; fixed?: boolean }>()
const emit = defineEmits<{ wish: [wish: PracticeWish] }>()

const room = toRef(props, 'room')
const stretch = useStretch(
  room,
  computed(() => props.plan.steps),
)
const { step, drill, score, loop, marked, named, reach, anchor } = stretch
const sounding = useSounding(room, score, loop)
const { playing, percent, again, mix, loaded, ready, heard } = sounding

const PANELS = [
  ['plan', 'Plan'],
  ['drills', 'Drills'],
  ['mix', 'Mix'],
  ['keys', 'Keys'],
] as const
const panel = ref<(typeof PANELS)[number][0]>('plan')
const VEILS = ['all', 'hidden', 'rhythm'] as const
const veil = ref<(typeof VEILS)[number]>('all')
const alone = ref(false)
const rested = ref(0)
/** By turns it says whose it is. */
const title = computed(() => (reach.value === 'turns' && heard.value ? (heard.value.silent ? 'Your turn' : 'My turn') : named.value))
const tired = computed(() => sounding.played.value - rested.value > props.room.break_after_min * 60)

function takeStep(id: string) {
  const wanted = props.plan.steps.find((one) => one.id === id)
  if (wanted) sounding.setPercent(wanted.progress.percent)
  stretch.takeStep(id)
  panel.value = 'plan'
}
function byStep(by: number) {
  const at = props.plan.steps.findIndex((one) => one.id === step.value?.id)
  const open = props.plan.steps.findIndex((one) => !one.progress.done)
  const next = at < 0 ? Math.max(0, open) : at + by
  if (props.plan.steps[next]) takeStep(props.plan.steps[next].id)
}
async function said(word: Said) {
  if (!step.value) return
  const now = await props.say(step.value.id, word)
  if (now !== null) sounding.setPercent(now)
}
function takeDrill(index: number | null) {
  stretch.takeDrill(index)
  if (index !== null) panel.value = 'drills'
}
const nextDrill = (by: number) => {
  const count = props.room.drills.length
  if (count) takeDrill(drill.value === null ? (by > 0 ? 0 : count - 1) : (drill.value + by + count) % count)
}
function leave() {
  if (drill.value !== null || step.value) stretch.take('whole')
  else if (alone.value) alone.value = false
  else stretch.take('whole')
}
const COUNT_INS: Mix['countIn'][] = ['first', 'every', 'none']
const turnVeil = () => void (veil.value = VEILS[(VEILS.indexOf(veil.value) + 1) % VEILS.length]!)
const turnCount = () => void (mix.value.countIn = COUNT_INS[(COUNT_INS.indexOf(mix.value.countIn) + 1) % COUNT_INS.length]!)
const take = (how: Reach) => () => stretch.take(how)
const faster = (by: number) => sounding.setPercent(percent.value + by)

const doing: Doing = {
  play: () => ready.value && sounding.toggle(),
  earlier: (extend) => stretch.move(-1, extend),
  later: (extend) => stretch.move(1, extend),
  half: take('half'),
  bar: take('bar'),
  line: take('line'),
  part: take('part'),
  whole: take('whole'),
  turns: take('turns'),
  slower: () => faster(-PERCENT.step),
  faster: () => faster(PERCENT.step),
  usual: () => sounding.setPercent(100),
  again: () => void (again.value = !again.value),
  countIn: turnCount,
  melody: () => sounding.mute('melody'),
  others: () => sounding.mute('others'),
  company: () => sounding.mute('company'),
  count: () => sounding.mute('count'),
  veil: turnVeil,
  next: () => byStep(1),
  before: () => byStep(-1),
  clean: () => void said('clean'),
  repeat: () => void said('again'),
  back: () => void said('back'),
  drill: () => nextDrill(1),
  tune: leave,
  alone: () => void (alone.value = !alone.value),
  keys: () => void (panel.value = panel.value === 'keys' ? 'plan' : 'keys'),
}
const keys = usePracticeKeys(doing)

async function write(rounds: number) {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(await sounding.write(rounds))
  link.download = `${props.room.title}.wav`
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000)
}
/** A button that was pressed by hand does not keep the keys to itself. */
function release(event: MouseEvent) {
  if (event.detail && event.target instanceof Element) event.target.closest('button')?.blur()
}
onMounted(() => void sounding.load())
</script>

<template>
  <div class="room" :class="{ alone }" @click="release">
    <PlayBar
      :room="room"
      :playing="playing"
      :ready="ready"
      :percent="percent"
      :again="again"
      :reach="step || drill !== null ? null : reach"
      :count-in="mix.countIn"
      :veil="veil"
      @play="sounding.toggle"
      @percent="sounding.setPercent"
      @again="again = $event"
      @take="stretch.take"
      @count-in="mix.countIn = $event"
      @veil="turnVeil"
    />
    <p v-if="!ready" class="loading" role="status">
      Sounds, {{ loaded[0] }} of {{ loaded[1] }} <progress :value="loaded[0]" :max="loaded[1] || 1"></progress>
    </p>
    <p v-else-if="sounding.missing.value" class="trouble" role="alert">
      {{ sounding.missing.value }} sounds did not come. <button type="button" class="word-button link" @click="sounding.load">Try again</button>
    </p>
    <p v-if="tired" class="trouble" role="alert">
      {{ room.break_after_min }} minutes played: take a break, shake out the hands.
      <button type="button" class="word-button link" @click="rested = sounding.played.value">Go on</button>
    </p>
    <div class="work">
      <div class="tab-side">
        <h2 class="named" role="status">{{ title }}</h2>
        <TabLines :lines="score.tab" :marked="marked" :heard="heard" :anchor="anchor" :veil="veil" :pickable="drill === null" @pick="stretch.pick" />
      </div>
      <aside v-if="!alone" class="side">
        <div class="panels" role="group" aria-label="Beside the tab">
          <button v-for="[name, words] in PANELS" :key="name" type="button" class="choice" :aria-pressed="panel === name" @click="panel = name">{{ words }}</button>
        </div>
        <PlanPanel v-if="panel === 'plan'" :plan="plan" :step="step" :fixed="fixed ?? false" @take="takeStep" @said="said" @wish="emit('wish', $event)" />
        <DrillList v-else-if="panel === 'drills'" :drills="room.drills" :taken="drill" @take="takeDrill" />
        <MixPanel
          v-else-if="panel === 'mix'"
          :mix="mix"
          :company="sounding.company.value"
          :companies="room.companies"
          :writing="sounding.writing.value"
          :ready="ready"
          @level="(name, level) => (mix.level[name] = level)"
          @mute="sounding.mute"
          @set="Object.assign(mix, $event)"
          @write="write"
        />
        <KeysPanel v-else :bound="keys.bound.value" :waiting="keys.waiting.value" @change="keys.change" @forget="keys.forget" />
        <CautionLines v-if="panel !== 'keys'" :lines="room.cautions" />
      </aside>
    </div>
  </div>
</template>

<style scoped>
.room {
  display: flex;
  flex-direction: column;
  gap: 0.4rem;
  flex: 1;
  min-height: 0;
}
.work {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 310px;
  gap: 0.75rem;
  flex: 1;
  min-height: 0;
}
.tab-side {
  display: flex;
  flex-direction: column;
  gap: 0.25rem;
}
.named {
  font-size: 1.15rem;
}
.alone .work {
  grid-template-columns: minmax(0, 1fr);
}
.work > * {
  min-height: 0;
}
.side {
  display: flex;
  flex-direction: column;
  gap: 0.5rem;
  overflow-y: auto;
}
.panels {
  display: flex;
  gap: 0.3rem;
}
.loading {
  display: flex;
  gap: 0.6rem;
  align-items: center;
  font-size: 0.9rem;
}
.trouble {
  border-left: 4px solid var(--madder);
  background: var(--madder-wash);
  padding: 0.3rem 0.7rem;
}
.room :deep(.choice) {
  font: inherit;
  padding: 0.2rem 0.6rem;
  border: 1px solid var(--hairline);
  border-radius: 2px;
  background: var(--panel);
  color: inherit;
  cursor: pointer;
}
.room :deep(.choice:hover) {
  border-color: var(--ink);
}
.room :deep(.choice[aria-pressed='true']) {
  background: var(--spruce);
  border-color: var(--spruce);
  color: var(--on-spruce);
}
.room :deep(.panel) {
  background: var(--panel);
  border: 1px solid var(--hairline);
  padding: 0.6rem 0.75rem;
  display: flex;
  flex-direction: column;
  gap: 0.45rem;
  font-size: 0.92rem;
}
.room :deep(.small) {
  font-size: 0.85rem;
}
@media (max-width: 900px) {
  .work {
    grid-template-columns: minmax(0, 1fr);
    overflow-y: auto;
  }
}
@media print {
  .room {
    display: none;
  }
}
</style>

<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'

import type { Practice, PracticeStep, PracticeWish, Said } from '@/api/types'

/** The plan of learning: its steps with what is done, and one word after each time. */
const props = defineProps<{ plan: Practice; step: PracticeStep | null; fixed: boolean }>()
const emit = defineEmits<{ take: [id: string]; said: [word: Said]; wish: [wish: PracticeWish] }>()
const list = ref<HTMLElement | null>(null)
const settings = ref(false)

const done = computed(() => props.plan.steps.filter((one) => one.progress.done).length)
const NUMBERS: [keyof Practice['tempo'], string, number, number][] = [
  ['start', 'Begin at', 30, 150],
  ['step', 'Up by', 1, 50],
  ['goal', 'As far as', 30, 150],
  ['clean', 'Clean so many times', 1, 10],
]
const WORDS: [Said, string, string][] = [
  ['clean', 'Clean', 'c'],
  ['again', 'Again', 'a'],
  ['back', 'Back', 'b'],
]
const set = (name: string, event: Event) =>
  emit('wish', { order: props.plan.order, tempo: { ...props.plan.tempo, [name]: Number((event.target as HTMLInputElement).value) } })
const minutes = (many: number) => (many < 1 ? '½ min' : `${Math.round(many)} min`)

watch(
  () => props.step?.id,
  () => nextTick(() => list.value?.querySelector('[aria-current]')?.scrollIntoView({ block: 'nearest' })),
)
</script>

<template>
  <section class="panel plain-fields plan" aria-label="Plan">
    <p>
      <strong>{{ plan.words }}</strong> About {{ Math.round(plan.minutes) }} minutes; {{ done }} of {{ plan.steps.length }} steps done.
      <button v-if="!fixed" type="button" class="word-button link" :aria-expanded="settings" @click="settings = !settings">Order and tempo</button>
    </p>
    <div v-if="settings" class="settings">
      <label class="row">
        <span>Order</span>
        <select :value="plan.order" @change="emit('wish', { order: ($event.target as HTMLSelectElement).value as Practice['order'], tempo: plan.tempo })">
          <option v-for="one in plan.orders" :key="one">{{ one }}</option>
        </select>
      </label>
      <label v-for="[name, words, low, high] in NUMBERS" :key="name" class="row">
        <span>{{ words }}</span>
        <input type="number" :min="low" :max="high" :value="plan.tempo[name]" @change="set(name, $event)" />
        {{ name === 'clean' ? 'running' : '%' }}
      </label>
    </div>
    <div v-if="step" class="now">
      <h3>{{ step.title }}</h3>
      <p v-if="step.why" class="quiet">{{ step.why }}</p>
      <p v-if="step.returns.length">Comes back in {{ step.returns.length === 1 ? 'bar' : 'bars' }} {{ step.returns.join(', ') }}.</p>
      <p role="status">
        <template v-if="step.progress.done"><strong>Done</strong> at {{ step.progress.percent }} %.</template>
        <template v-else>At {{ step.progress.percent }} % · clean {{ step.progress.clean }} of {{ plan.tempo.clean }}</template>
      </p>
      <div class="said">
        <button v-for="[word, label, key] in WORDS" :key="word" type="button" class="choice big" @click="emit('said', word)">{{ label }} <kbd>{{ key }}</kbd></button>
      </div>
    </div>
    <ol ref="list">
      <li v-for="one in plan.steps" :key="one.id">
        <button type="button" class="step" :aria-current="one.id === step?.id ? 'step' : undefined" @click="emit('take', one.id)">
          <span class="tick" :class="{ done: one.progress.done, begun: one.progress.played }"><span class="sr">{{ one.progress.done ? 'done' : '' }}</span></span>
          <span class="title">{{ one.title }}</span>
          <span class="quiet">{{ one.progress.played && !one.progress.done ? `${one.progress.percent} %` : minutes(one.minutes) }}</span>
        </button>
      </li>
    </ol>
  </section>
</template>

<style scoped>
.plan {
  min-height: 0;
}
.settings,
.now {
  display: flex;
  flex-direction: column;
  gap: 0.3rem;
  padding: 0.5rem 0.6rem;
  border-left: 3px solid var(--spruce);
  background: var(--paper);
}
.now h3 {
  font-size: 1.1rem;
}
.row {
  display: flex;
  gap: 0.5rem;
  align-items: center;
}
.row > span {
  width: 9.5rem;
}
.row input {
  width: 4rem;
}
.said {
  display: flex;
  gap: 0.4rem;
}
.big {
  flex: 1;
  padding: 0.45rem;
}
kbd {
  font: inherit;
  font-size: 0.8em;
  opacity: 0.75;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
  overflow-y: auto;
  min-height: 8rem;
}
.step {
  all: unset;
  box-sizing: border-box;
  width: 100%;
  display: grid;
  grid-template-columns: 1.1rem 1fr auto;
  gap: 0.4rem;
  align-items: baseline;
  padding: 0.22rem 0.3rem;
  cursor: pointer;
}
.step:hover,
.step[aria-current] {
  background: var(--spruce-wash);
}
.step[aria-current] .title {
  font-weight: 700;
}
.step:focus-visible {
  outline: 2px solid var(--spruce);
  outline-offset: -2px;
}
.tick {
  width: 0.7rem;
  height: 0.7rem;
  border: 1.5px solid var(--ink-soft);
  border-radius: 50%;
}
.tick.begun {
  background: linear-gradient(to top, var(--brass) 50%, transparent 50%);
}
.tick.done {
  background: var(--brass);
  border-color: var(--brass-deep);
}
.sr {
  position: absolute;
  width: 1px;
  height: 1px;
  overflow: hidden;
  clip-path: inset(50%);
}
</style>

<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'

import type { BarFrame, Cell, CellDetail, Ladder } from '@/api/client'

/** What there is to know about the selected cell, and what can be done with it. */
const props = defineProps<{
  bar: BarFrame
  rung: number
  cell: Cell | undefined
  detail: CellDetail | null
  ladder: Ladder
  onPath: number
  /** Numbers of the other bars that move with it. */
  others: number[]
  equals: number
  locked: boolean
  split: boolean
  stretch: number
}>()
const emit = defineEmits<{
  take: []
  raise: [by: number]
  part: [by: number]
  lock: []
  split: []
  release: []
  hear: []
}>()

const step = computed(() => props.ladder.rungs.find((one) => one.number === props.rung))
const what = computed(() => (props.stretch > 1 ? `${props.stretch} bars` : 'bar'))
/** Why a bar is kept; one of several ways to play it says so itself. */
const KEPT: Record<string, string> = {
  edited: 'Edited by hand.',
  locked: 'Locked as it is.',
  'handed out': 'As it was handed out.',
}
</script>

<template>
  <section class="side-box" role="complementary" aria-label="Selected bar">
    <div class="line">
      <h2>Bar {{ bar.number }}</h2>
      <span class="rung">Rung {{ rung }}, {{ step?.name }}: {{ step?.plays }}</span>
    </div>
    <slot name="large" />
    <p v-if="cell?.kept" class="said">
      {{ KEPT[cell.kept] ?? cell.said }}
      <button v-if="!locked" type="button" class="word-button link" @click="emit('release')">Reset to the computed bar</button>
    </p>
    <ul v-if="detail?.awkward.length" class="awkward" aria-label="Awkward">
      <li v-for="said in detail.awkward" :key="said">{{ said }}</li>
    </ul>
    <div class="buttons">
      <Button :label="onPath === rung ? 'On the path' : 'Take'" :disabled="onPath === rung || locked" size="small" @click="emit('take')" />
      <Button :label="`Raise ${what}`" severity="secondary" size="small" :disabled="locked || onPath >= ladder.rungs.length" @click="emit('raise', 1)" />
      <Button label="Lower" severity="secondary" size="small" :disabled="locked || onPath <= 1" @click="emit('raise', -1)" />
      <Button label="Hear" severity="secondary" size="small" @click="emit('hear')" />
      <Button :label="locked ? 'Unlock' : 'Lock'" severity="secondary" size="small" @click="emit('lock')" />
      <Button v-if="equals > 1" :label="split ? 'Join again' : 'Split'" severity="secondary" size="small" @click="emit('split')" />
    </div>
    <p v-if="others.length" class="quiet">Moves together with bar{{ others.length > 1 ? 's' : '' }} {{ others.join(', ') }}.</p>
    <p v-else-if="split" class="quiet">Moves alone, though equal to others.</p>
    <p class="line">
      <button type="button" class="word-button link" @click="emit('part', 1)">Raise this part everywhere</button>
      <button type="button" class="word-button link" @click="emit('part', -1)">lower it</button>
    </p>
    <slot name="note" />
    <slot name="choices" />
    <template v-if="cell">
      <h3>Grade {{ cell.grade }}</h3>
      <ul v-if="cell.reasons.length">
        <li v-for="reason in cell.reasons" :key="reason.term">{{ reason.text }}</li>
      </ul>
      <p v-else class="quiet">Nothing in it is hard.</p>
      <h3>Join to the next bar: {{ cell.join }}</h3>
      <ul v-if="cell.join_reasons.length">
        <li v-for="reason in cell.join_reasons" :key="reason.term">{{ reason.text }}</li>
      </ul>
      <p v-if="cell.shapes.length">Holds {{ cell.shapes.join(', ') }}.</p>
      <p v-for="remark in cell.remarks" :key="remark" class="remark">{{ remark }}</p>
    </template>
  </section>
</template>

<style scoped>
.line {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0.2rem 0.7rem;
}
.rung {
  font-family: var(--title-face);
  font-weight: 500;
}
h3 {
  margin-top: 0.2rem;
}
ul {
  margin: 0;
  padding-left: 1.05rem;
}
.awkward {
  border-left: 4px solid var(--madder);
  background: var(--madder-wash);
  padding: 0.3rem 0.5rem 0.3rem 1.4rem;
}
.said {
  border-left: 4px solid var(--ink);
  padding-left: 0.5rem;
}
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 0.35rem;
}
/* In the low pane of a tablet: beside one another. */
@media (max-width: 1000px) and (min-height: 900px) {
  section {
    display: block;
    columns: 2;
    column-gap: 1.5rem;
  }
  section > * {
    break-inside: avoid;
    margin-bottom: 0.45rem;
  }
}
.remark {
  border-left: 4px solid var(--hairline);
  padding-left: 0.6rem;
  color: var(--ink-soft);
}
</style>

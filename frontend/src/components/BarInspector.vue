<script setup lang="ts">
import Button from 'primevue/button'

import type { Cell, Column, Ladder } from '@/api/client'

/** What there is to know about the selected cell, and what can be done with it. */
const props = defineProps<{
  column: Column
  cell: Cell
  ladder: Ladder
  onPath: number
  equals: Column[]
}>()
const emit = defineEmits<{ take: []; raise: [by: number] }>()

const rungName = () => props.ladder.rungs.find((one) => one.number === props.cell.rung)?.name
</script>

<template>
  <aside class="side-box" aria-label="Selected bar">
    <h2>Bar {{ column.number }}</h2>
    <p class="rung">Rung {{ cell.rung }}, {{ rungName() }}</p>
    <div class="buttons">
      <Button
        :label="onPath === cell.rung ? 'On the path' : 'Take'"
        :disabled="onPath === cell.rung"
        size="small"
        @click="emit('take')"
      />
      <Button label="Raise bar" severity="secondary" size="small" :disabled="onPath >= ladder.rungs.length" @click="emit('raise', 1)" />
      <Button label="Lower" severity="secondary" size="small" :disabled="onPath <= 1" @click="emit('raise', -1)" />
    </div>
    <p v-if="equals.length > 1" class="quiet">
      Moves together with bar{{ equals.length > 2 ? 's' : '' }}
      {{ equals.filter((one) => one.place !== column.place).map((one) => one.number).join(', ') }}.
    </p>
    <h3>Grade {{ cell.grade }}</h3>
    <ul v-if="cell.reasons.length">
      <li v-for="reason in cell.reasons" :key="reason.term">{{ reason.text }}</li>
    </ul>
    <p v-else class="quiet">Nothing in it is hard.</p>
    <h3>Join to the next bar: {{ cell.join }}</h3>
    <ul v-if="cell.join_reasons.length">
      <li v-for="reason in cell.join_reasons" :key="reason.term">{{ reason.text }}</li>
    </ul>
    <template v-if="cell.patterns.length">
      <h3>Right hand</h3>
      <p>{{ cell.patterns.join(', ') }}</p>
    </template>
    <template v-if="cell.shapes.length">
      <h3>Shapes held</h3>
      <p>{{ cell.shapes.join(', ') }}</p>
    </template>
    <p v-for="remark in cell.remarks" :key="remark" class="remark">{{ remark }}</p>
  </aside>
</template>

<style scoped>
.rung {
  font-family: var(--title-face);
  font-weight: 500;
}
h3 {
  margin-top: 0.5rem;
}
ul {
  margin: 0;
  padding-left: 1.05rem;
}
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem;
}
.remark {
  border-left: 4px solid var(--hairline);
  padding-left: 0.6rem;
  color: var(--ink-soft);
}
</style>

<script setup lang="ts">
import { computed } from 'vue'

import type { DrillScore } from '@/api/types'

/** Exercises out of the path, by kind; each says which bars it serves. */
const props = defineProps<{ drills: DrillScore[]; taken: number | null }>()
const emit = defineEmits<{ take: [index: number | null] }>()

const kinds = computed(() => {
  const found = new Map<string, { drill: DrillScore; index: number }[]>()
  props.drills.forEach((drill, index) => found.set(drill.kind, [...(found.get(drill.kind) ?? []), { drill, index }]))
  return [...found]
})
const bars = (numbers: number[]) => (numbers.length === 1 ? `bar ${numbers[0]}` : `bars ${numbers.slice(0, 8).join(', ')}${numbers.length > 8 ? ' …' : ''}`)
</script>

<template>
  <section class="panel drills" aria-label="Drills">
    <p v-if="!drills.length" class="quiet">Nothing in this arrangement needs a drill of its own.</p>
    <div v-for="[kind, several] in kinds" :key="kind">
      <h3>{{ kind }}</h3>
      <button v-for="{ drill, index } in several" :key="index" type="button" class="drill" :aria-pressed="taken === index" @click="emit('take', taken === index ? null : index)">
        <span>{{ drill.title }}</span>
        <span class="quiet">for {{ bars(drill.serves) }}</span>
        <span v-if="taken === index" class="said">{{ drill.said }}</span>
      </button>
    </div>
  </section>
</template>

<style scoped>
h3 {
  font-size: 1rem;
}
h3::first-letter {
  text-transform: uppercase;
}
.drill {
  all: unset;
  box-sizing: border-box;
  width: 100%;
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: 0 0.6rem;
  padding: 0.22rem 0.3rem;
  cursor: pointer;
}
.drill:hover,
.drill[aria-pressed='true'] {
  background: var(--spruce-wash);
}
.drill:focus-visible {
  outline: 2px solid var(--spruce);
  outline-offset: -2px;
}
.said {
  width: 100%;
  font-weight: 700;
}
</style>

<script setup lang="ts">
import type { Kind } from '@/api/client'
import type { Narrowing } from '@/composables/useShelf'

/** What the shelf is narrowed by; only what there is can be chosen. */
defineProps<{ kinds: Record<Narrowing, Kind[]>; wanted: Record<Narrowing, string>; narrowed: boolean }>()
const emit = defineEmits<{ narrow: [by: Narrowing, value: string]; widen: [] }>()

const FIELDS: readonly [Narrowing, string, string][] = [
  ['key', 'Key', 'any key'],
  ['metre', 'Metre', 'any metre'],
  ['instrument', 'Set for', 'any instrument'],
  ['tag', 'Tagged', 'any tag'],
]
</script>

<template>
  <div class="filters plain-fields" role="group" aria-label="Only tunes of">
    <template v-for="[by, label, any] in FIELDS" :key="by">
      <select v-if="kinds[by].length" :value="wanted[by]" :aria-label="label" :class="{ on: wanted[by] }" @change="emit('narrow', by, ($event.target as HTMLSelectElement).value)">
        <option value="">{{ any }}</option>
        <option v-for="kind in kinds[by]" :key="kind.value" :value="kind.value">{{ kind.name }} ({{ kind.tunes }})</option>
      </select>
    </template>
    <button v-if="narrowed" type="button" class="word-button link" @click="emit('widen')">All tunes</button>
  </div>
</template>

<style scoped>
.filters {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.5rem;
  font-size: 0.9rem;
}
.filters select {
  width: 7.9rem;
  padding: 0.2rem 0.3rem;
}
@media (max-width: 900px) {
  .filters select {
    width: 7.6rem;
  }
}
.filters .on {
  border-color: var(--spruce);
  box-shadow: inset 0 0 0 1px var(--spruce);
}
</style>

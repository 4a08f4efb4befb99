<script setup lang="ts">
import type { Trouble } from '@/api/client'

/** What is wrong with the text, worst first; a click goes to the place. Without trouble, what there is to tell. */
defineProps<{ troubles: Trouble[]; told: string[] }>()
const emit = defineEmits<{ pick: [start: number, end: number] }>()
const NAMES = { error: 'Cannot be read', warning: 'Check', note: 'Left out' } as const
</script>

<template>
  <ul v-if="troubles.length" class="troubles" aria-label="Troubles of the text">
    <li v-for="(one, index) in troubles" :key="index" :class="one.level">
      <button type="button" @click="emit('pick', one.start, one.end)">
        <strong>{{ NAMES[one.level] }}:</strong> {{ one.message }} {{ one.remedy }}
      </button>
    </li>
  </ul>
  <p v-else class="told">{{ told.join(' ') }}</p>
</template>

<style scoped>
/* Always as high, so that the text does not jump while it is typed. */
.troubles,
.told {
  height: 3.2rem;
  overflow-y: auto;
}
.troubles {
  list-style: none;
  margin: 0;
  padding: 0;
  border: 1px solid var(--hairline);
  background: var(--panel);
}
.told {
  font-size: 0.875rem;
  color: var(--ink-soft);
}
button {
  width: 100%;
  text-align: left;
  border: 0;
  border-left: 4px solid var(--hairline);
  background: none;
  padding: 0.2rem 0.6rem;
  font: inherit;
  font-size: 0.875rem;
  color: var(--ink);
  cursor: pointer;
}
button:hover {
  text-decoration: underline;
}
.error button {
  border-left-color: var(--madder);
  background: var(--madder-wash);
}
.warning button {
  border-left: 4px dashed var(--madder);
}
</style>

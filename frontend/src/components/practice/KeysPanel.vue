<script setup lang="ts">
import { keyName, type Action } from '@/practice/keys'

/** The keys of the room. Each may be another: for the hand that is free, or for a foot switch. */
defineProps<{ bound: { action: Action; words: string; keys: string[] }[]; waiting: Action | null }>()
const emit = defineEmits<{ change: [action: Action]; forget: [] }>()
</script>

<template>
  <section class="panel keys" aria-label="Keys">
    <p class="quiet small">Choose a line, then press the key, or the foot switch, that shall do it.</p>
    <button v-for="one in bound" :key="one.action" type="button" class="key" :aria-pressed="waiting === one.action" @click="emit('change', one.action)">
      <strong>{{ waiting === one.action ? 'press a key …' : one.keys.map(keyName).join(' · ') || 'none' }}</strong>
      <span>{{ one.words }}</span>
    </button>
    <button type="button" class="choice" @click="emit('forget')">The usual keys</button>
  </section>
</template>

<style scoped>
.key {
  all: unset;
  display: grid;
  grid-template-columns: 6rem 1fr;
  gap: 0.4rem;
  padding: 0.1rem 0.3rem;
  cursor: pointer;
}
.key:hover,
.key[aria-pressed='true'] {
  background: var(--spruce-wash);
}
.key:focus-visible {
  outline: 2px solid var(--spruce);
  outline-offset: -2px;
}
</style>

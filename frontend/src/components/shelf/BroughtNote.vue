<script setup lang="ts">
import { RouterLink } from 'vue-router'

import type { BroughtBack } from '@/api/client'

/** An arrangement that has been brought in: what is to be known of it, and where to go on. */
defineProps<{ brought: BroughtBack }>()
</script>

<template>
  <div class="done brought" role="status">
    <strong>{{ brought.title }} is on its ladder, every bar as the score has it.</strong>
    <ul class="left-out" aria-label="What to know of it">
      <li v-for="one in [...brought.notices, ...brought.aside]" :key="one">{{ one }}</li>
    </ul>
    <nav aria-label="Go on">
      <RouterLink :to="{ name: 'ladder', params: { setupId: brought.setup } }">Open its ladder</RouterLink>
      <RouterLink :to="{ name: 'tune', params: { tuneId: brought.tune } }">Open its desk</RouterLink>
    </nav>
  </div>
</template>

<style scoped>
.done {
  display: flex;
  flex-direction: column;
  gap: 0.5rem;
  border-left: 4px solid var(--spruce);
  background: var(--spruce-wash);
  padding: 0.6rem 0.8rem;
}
.left-out {
  margin: 0;
  padding-left: 1.1rem;
  font-size: 0.875rem;
  color: var(--ink-soft);
}
nav {
  display: flex;
  gap: 1rem;
}
</style>

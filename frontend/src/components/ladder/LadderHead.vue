<script setup lang="ts">
import { RouterLink } from 'vue-router'

import type { Ladder } from '@/api/client'

/** The ladder's title line, and the ways to its tune's other places; the arrangements beside one another go in the slot. */
defineProps<{ ladder: Ladder; setupId: number; said: string }>()
</script>

<template>
  <Teleport to="#masthead-place">
      <RouterLink to="/">Tunes</RouterLink>
      <RouterLink :to="{ name: 'tune', params: { tuneId: ladder.tune_id } }">Desk</RouterLink>
      <RouterLink :to="{ name: 'setup', params: { tuneId: ladder.tune_id }, query: { from: setupId } }">Setup</RouterLink>
      <strong>Ladder</strong>
      <RouterLink :to="{ name: 'sheet', params: { setupId } }">Sheet</RouterLink>
      <RouterLink :to="{ name: 'practice', params: { setupId } }">Practice</RouterLink>
    <slot />
  </Teleport>
  <div class="top">
    <h1>{{ ladder.title }}</h1>
    <p class="quiet">
      {{ ladder.label }}. Plays {{ ladder.shape_key }}, sounds {{ ladder.sounding_key }}. {{ ladder.different_bars }} of
      {{ ladder.bars }} bars are different.<template v-if="ladder.chords_suggested"> Grey chords are suggestions.</template>
    </p>
    <p class="said" role="status">{{ said }}</p>
    <RouterLink :to="{ name: 'sheet', params: { setupId } }" class="link-button">Print …</RouterLink>
  </div>
</template>

<style scoped>
.top {
  display: flex;
  align-items: center;
  height: 1.9rem;
  gap: 0.9rem;
  min-width: 0;
}
h1 {
  font-size: 1.4rem;
  white-space: nowrap;
}
.top p {
  font-size: 0.875rem;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.link-button {
  flex: none;
  padding: 0.2rem 0.8rem;
}
.said {
  margin-left: auto;
  color: var(--ink);
  flex-shrink: 0;
}
</style>

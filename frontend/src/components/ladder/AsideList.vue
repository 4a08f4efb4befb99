<script setup lang="ts">
import type { PathState } from '@/api/client'

/** Kept bars that no longer fit the tune or the setup: why, and throwing them away. */
defineProps<{ aside: PathState['aside'] }>()
const emit = defineEmits<{ throwAway: [number: number] }>()
</script>

<template>
  <section v-if="aside.length" class="side-box" aria-label="Kept aside">
    <h3>Kept aside</h3>
    <p class="quiet">These come back when tune and setup fit them again.</p>
    <ul>
      <li v-for="(one, at) in aside" :key="at">
        Bar {{ one.bar }}, rung {{ one.rung }}, {{ one.kind }}: {{ one.why }}
        <button type="button" class="word-button" @click="emit('throwAway', at)">Throw away</button>
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  margin: 0;
  padding-left: 1.05rem;
}
button {
  text-decoration: underline;
  color: var(--madder);
}
</style>

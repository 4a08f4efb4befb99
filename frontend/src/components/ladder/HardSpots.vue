<script setup lang="ts">
import type { PathState } from '@/api/client'

/** The hardest bars and joins of the path, each with its heaviest reason and a way there. */
defineProps<{ spots: PathState['spots'] }>()
const emit = defineEmits<{ show: [place: number] }>()
</script>

<template>
  <section v-if="spots.length" class="side-box" aria-label="Hardest spots of the path">
    <h3>Hardest on the path</h3>
    <ol>
      <li v-for="spot in spots" :key="`${spot.place}-${spot.join}`">
        <button type="button" class="word-button" @click="emit('show', spot.place)">
          {{ spot.join ? `Join behind bar ${spot.bar}` : `Bar ${spot.bar}` }}, grade {{ spot.grade }}
        </button>
        <span class="quiet">{{ spot.why }}</span>
      </li>
    </ol>
  </section>
</template>

<style scoped>
ol {
  margin: 0;
  padding-left: 1.1rem;
}
button {
  text-decoration: underline;
  text-underline-offset: 0.15em;
}
span {
  display: block;
}
</style>

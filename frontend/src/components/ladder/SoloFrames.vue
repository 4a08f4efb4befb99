<script setup lang="ts">
import type { Strip } from '@/api/client'
import TabMarks from '../TabMarks.vue'

/** What a solo has before the tune and after it. */
const props = defineProps<{
  frames: Strip[]
  /** Pixels for a millimetre. */
  scale: number
}>()
const px = (mm: number) => `${mm * props.scale}px`
</script>

<template>
  <section v-if="frames.length" class="frames" aria-label="Around the solo">
    <figure v-for="one in frames" :key="one.name">
      <figcaption>{{ one.name }}</figcaption>
      <svg :viewBox="`0 ${-one.top} ${one.width} ${one.height}`" :width="px(one.width)" :height="px(one.height)" role="img" :aria-label="one.name">
        <TabMarks :marks="one.marks" />
      </svg>
    </figure>
  </section>
</template>

<style scoped>
.frames {
  background: var(--panel);
  border: 1px solid var(--hairline);
  padding: 0.4rem 0.6rem;
  width: max-content;
  min-width: 100%;
  display: grid;
  gap: 0.6rem;
}
figure {
  display: grid;
  grid-template-columns: 90px max-content;
  align-items: center;
  margin: 0;
}
figcaption {
  font-family: var(--title-face);
}
</style>

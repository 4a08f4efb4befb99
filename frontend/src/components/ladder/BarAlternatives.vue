<script setup lang="ts">
import type { Alternative, Ladder } from '@/api/client'
import TabMarks from '../TabMarks.vue'

/** Other ways to play the selected bar, each drawn small with its difference in words. */
defineProps<{ alternatives: Alternative[] | null; ladder: Ladder; open: boolean; busy: boolean; taken: string; locked: boolean }>()
const emit = defineEmits<{ toggle: []; take: [difference: string] }>()

/** Widest drawing in pixels; wider bars are drawn smaller. */
const ROOM = 212
const scale = (width: number) => Math.min(3, ROOM / width)
</script>

<template>
  <section class="side-box alternatives">
    <button type="button" class="word-button opener" :aria-expanded="open" @click="emit('toggle')">
      <span aria-hidden="true">{{ open ? '−' : '+' }}</span> Other ways to play it
    </button>
    <template v-if="open">
      <p v-if="alternatives && !alternatives.length" class="quiet">There is no other good way on this rung.</p>
      <p v-else-if="busy && !alternatives" class="quiet">Looking…</p>
      <ol v-else-if="alternatives">
        <li v-for="other in alternatives" :key="other.difference">
          <p>{{ other.difference }}</p>
          <svg
            :viewBox="`0 ${-ladder.cell_top} ${other.width} ${ladder.cell_height}`"
            :width="other.width * scale(other.width)"
            :height="ladder.cell_height * scale(other.width)"
            role="img"
            :aria-label="other.strokes"
          >
            <TabMarks :marks="other.marks" />
          </svg>
          <p class="quiet">
            Grade {{ other.grade }}
            <strong v-if="other.difference === taken">taken</strong>
            <button v-else-if="!locked" type="button" class="word-button link" @click="emit('take', other.difference)">Take it</button>
          </p>
        </li>
      </ol>
    </template>
  </section>
</template>

<style scoped>
.opener {
  font-weight: 700;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
  display: flex;
  flex-direction: column;
  gap: 0.7rem;
}
li + li {
  border-top: 1px solid var(--hairline);
  padding-top: 0.6rem;
}
.link {
  margin-left: 0.4rem;
}
svg {
  display: block;
  margin: 0.2rem 0;
}
</style>

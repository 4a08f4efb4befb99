<script setup lang="ts">
import { useStyleTag } from '@vueuse/core'

import PracticeRoom from '@/components/practice/PracticeRoom.vue'
import { useTakenPlan, type Taken } from './useTakenPlan'

/** A page to take home: the practice room of one arrangement, and its sheet for the printer. */
const props = defineProps<{ taken: Taken }>()
const { plan, say } = useTakenPlan(props.taken)
useStyleTag(`@page { size: ${props.taken.width}mm ${props.taken.height}mm; margin: 0 }`)
const print = () => window.print()
</script>

<template>
  <main class="taken">
    <header class="screen-only">
      <h1>{{ taken.room.title }}</h1>
      <p class="quiet">{{ taken.room.label }} · {{ taken.date }}</p>
      <p v-if="taken.note" class="note">{{ taken.note }}</p>
      <button type="button" class="word-button link print" @click="print">Print the sheet</button>
    </header>
    <PracticeRoom :room="taken.room" :plan="plan" :say="say" fixed />
    <footer class="screen-only quiet">
      Type: Atkinson Hyperlegible © 2020 Braille Institute of America, Zilla Slab © 2017 The Mozilla Foundation, both under the SIL Open Font License 1.1.
    </footer>
    <div class="pages" aria-hidden="true">
      <!-- eslint-disable-next-line vue/no-v-html -- drawn by the program that made this page, every text in it escaped -->
      <div v-for="(page, index) in taken.pages" :key="index" class="paper" :style="{ width: `${taken.width}mm`, height: `${taken.height}mm` }" v-html="page"></div>
    </div>
  </main>
</template>

<style scoped>
.taken {
  height: 100vh;
  min-height: 480px;
  padding: 0.5rem 1rem;
  display: flex;
  flex-direction: column;
  gap: 0.4rem;
}
header {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0.2rem 0.9rem;
}
.note {
  font-weight: 700;
}
.print {
  margin-left: auto;
}
footer {
  font-size: 0.75rem;
}
.pages {
  display: none;
}
@media print {
  .taken {
    display: block;
    height: auto;
    padding: 0;
  }
  .pages {
    display: block;
  }
  .paper {
    break-after: page;
  }
  .paper:last-child {
    break-after: auto;
  }
  .paper :deep(svg) {
    display: block;
    width: 100%;
    height: auto;
  }
}
</style>

<script setup lang="ts">
import { useEventListener, useStorage } from '@vueuse/core'
import { computed } from 'vue'

/**
 * The pages alone, as on a music stand: a tap on the right half turns on, on the left half back, and so do a pedal's keys.
 * Where one stopped is remembered for each arrangement, by `place`.
 */
const props = defineProps<{ pages: string[]; width: number; height: number; place: string }>()
const emit = defineEmits<{ leave: [] }>()

const kept = useStorage<Record<string, number>>('nailhead-pages', {})
const page = computed({
  get: () => Math.min(kept.value[props.place] ?? 0, props.pages.length - 1),
  set: (at) => (kept.value = { ...kept.value, [props.place]: Math.max(0, Math.min(props.pages.length - 1, at)) }),
})
const turn = (by: number) => (page.value += by)

const KEYS: Record<string, () => void> = {
  ArrowRight: () => turn(1),
  ArrowDown: () => turn(1),
  PageDown: () => turn(1),
  ' ': () => turn(1),
  ArrowLeft: () => turn(-1),
  ArrowUp: () => turn(-1),
  PageUp: () => turn(-1),
  Home: () => (page.value = 0),
  End: () => (page.value = props.pages.length - 1),
  Escape: () => emit('leave'),
  f: () => emit('leave'),
}
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  const run = event.ctrlKey || event.metaKey || event.altKey ? undefined : KEYS[event.key]
  if (!run || (event.key === ' ' && event.target instanceof HTMLButtonElement)) return
  event.preventDefault()
  run()
})
</script>

<template>
  <section class="stand screen-only" aria-label="The sheet alone">
    <!-- eslint-disable-next-line vue/no-v-html -- drawn by our own server, every text in it escaped -->
    <div class="paper" :style="{ '--ratio': width / height }" v-html="pages[page]"></div>
    <button type="button" class="half left" :disabled="page === 0" aria-label="Page before" @click="turn(-1)"></button>
    <button type="button" class="half right" :disabled="page === pages.length - 1" aria-label="Next page" @click="turn(1)"></button>
    <div class="foot">
      <span role="status">Page {{ page + 1 }} of {{ pages.length }}</span>
      <button type="button" class="word-button link" @click="emit('leave')">Leave</button>
    </div>
  </section>
</template>

<style scoped>
.stand {
  position: fixed;
  inset: 0;
  z-index: 30;
  background: var(--paper);
  display: flex;
  justify-content: center;
  align-items: flex-start;
}
.paper {
  width: min(100vw, calc(100dvh * var(--ratio)));
  background: #ffffff;
}
.paper :deep(svg) {
  display: block;
  width: 100%;
  height: auto;
}
.half {
  position: absolute;
  top: 0;
  bottom: 60px;
  width: 50%;
  border: 0;
  background: none;
  cursor: pointer;
}
.half:disabled {
  cursor: default;
}
.half:focus-visible {
  outline-offset: -6px;
}
.left {
  left: 0;
}
.right {
  right: 0;
}
.foot {
  position: absolute;
  right: 0.8rem;
  bottom: 0.4rem;
  display: flex;
  gap: 1rem;
  align-items: center;
  padding: 0.1rem 0.6rem;
  background: var(--panel);
  border: 1px solid var(--hairline);
  font-size: 0.875rem;
}
</style>

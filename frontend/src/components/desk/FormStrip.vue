<script setup lang="ts">
import { computed } from 'vue'

import type { DeskReading } from '@/api/client'

/** Parts in written order, as wide as they are long, with pickups, repeats and endings; under them the order as played. */
const props = defineProps<{ reading: DeskReading; bar: number }>()
const emit = defineEmits<{ pick: [place: number] }>()

const parts = computed(() =>
  props.reading.parts.map((part) => ({
    ...part,
    bars: part.stop - part.start,
    here: part.start <= props.bar && props.bar < part.stop,
    opens: part.times > 1,
    said: `Part ${part.letter}, bars ${part.first_bar} to ${part.last_bar}, ${part.times > 1 ? `${part.times} times` : 'once'}`,
  })),
)
const shareOf = (part: { start: number; stop: number }, from: number, to: number) => ({
  left: `${(100 * (from - part.start)) / (part.stop - part.start)}%`,
  width: `${(100 * (to - from)) / (part.stop - part.start)}%`,
})
const letters = computed(() => props.reading.order_as_played.map((index) => props.reading.parts[index]?.letter ?? ''))
</script>

<template>
  <div class="form-strip">
    <ol class="parts" aria-label="Parts of the tune">
      <li v-for="part in parts" :key="part.start" :style="{ flexGrow: part.bars }" :class="{ here: part.here }">
        <button type="button" :aria-label="part.said" @click="emit('pick', part.start)">
          <span v-if="part.upbeat" class="upbeat" title="pickup"></span>
          <span class="letter">{{ part.letter }}</span>
          <span class="span">{{ part.first_bar }}–{{ part.last_bar }}</span>
          <span v-if="part.opens" class="repeat" aria-hidden="true">:‖<b v-if="part.times > 2"> ×{{ part.times }}</b></span>
        </button>
        <span
          v-for="ending in part.endings"
          :key="ending.start"
          class="ending"
          :style="shareOf(part, ending.start, ending.stop)"
          >{{ ending.times.join(', ') }}.</span
        >
      </li>
    </ol>
    <p class="order">
      <span class="slot" title="The kick-off and the ending come with an arrangement's top rung.">kick-off</span>
      <strong>{{ letters.join(' ') }}</strong>
      <span class="slot">ending</span>
    </p>
  </div>
</template>

<style scoped>
.parts {
  display: flex;
  gap: 4px;
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  position: relative;
  min-width: 5.5rem;
  flex-basis: 0;
}
button {
  width: 100%;
  height: 2.3rem;
  display: flex;
  align-items: center;
  gap: 0.6rem;
  padding: 0 0.6rem;
  border: 1px solid var(--hairline);
  background: var(--panel);
  color: var(--ink);
  font: inherit;
  cursor: pointer;
}
button:hover {
  background: var(--spruce-wash);
}
.here button {
  border-color: var(--spruce);
  box-shadow: inset 0 3px 0 var(--spruce);
}
.letter {
  font-family: var(--title-face);
  font-weight: 600;
  font-size: 1.25rem;
}
.span {
  color: var(--ink-soft);
  font-size: 0.875rem;
}
.repeat {
  margin-left: auto;
  font-size: 1.1rem;
}
.repeat b {
  font-size: 0.875rem;
}
.upbeat {
  width: 0.5rem;
  height: 0.5rem;
  border-radius: 50%;
  background: var(--ink-soft);
}
.ending {
  position: absolute;
  bottom: 0;
  height: 0.95rem;
  padding-left: 0.2rem;
  border: solid var(--ink-soft);
  border-width: 1px 0 0 1px;
  font-size: 0.7rem;
  line-height: 0.95rem;
  pointer-events: none;
}
.order {
  display: flex;
  align-items: center;
  gap: 0.7rem;
  padding-top: 0.35rem;
  font-size: 0.9rem;
}
.order strong {
  font-family: var(--title-face);
  letter-spacing: 0.05em;
}
.slot {
  border: 1px dashed var(--string);
  padding: 0 0.4rem;
  color: var(--ink-soft);
  font-size: 0.8rem;
}
</style>

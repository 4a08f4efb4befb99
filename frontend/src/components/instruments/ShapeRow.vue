<script setup lang="ts">
import type { Shape } from '@/api/client'
import ChordDiagram from './ChordDiagram.vue'

/** Shapes of one chord side by side, best first; one of them may be picked to be seen on the neck. */
defineProps<{ shapes: Shape[]; name: string; picked: number; leftHanded: boolean }>()
const emit = defineEmits<{ pick: [index: number] }>()
/** Fingers, and how far they spread. */
function effort(shape: Shape): string {
  if (!shape.fingers) return 'all open'
  const fingers = `${shape.fingers} ${shape.fingers === 1 ? 'finger' : 'fingers'}`
  return shape.span_mm ? `${fingers}, ${Math.round(shape.span_mm)} mm` : fingers
}
</script>

<template>
  <ol class="shapes">
    <li v-for="(shape, index) in shapes" :key="index">
      <button type="button" :aria-pressed="index === picked" @click="emit('pick', index)">
        <ChordDiagram :shape="shape" :name="name" :left-handed="leftHanded" />
        <span class="said" :title="shape.said">{{ effort(shape) }}</span>
      </button>
    </li>
  </ol>
</template>

<style scoped>
.shapes {
  list-style: none;
  margin: 0;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem;
}
button {
  display: flex;
  flex-direction: column;
  align-items: center;
  min-width: 108px;
  padding: 0.3rem 0.4rem;
  background: var(--panel);
  border: 1px solid var(--hairline);
  font: inherit;
  color: var(--ink);
  cursor: pointer;
}
button:hover {
  background: var(--spruce-wash);
}
button[aria-pressed='true'] {
  border-color: var(--spruce);
  box-shadow: inset 0 -3px 0 var(--spruce);
}
.said {
  font-size: 0.8rem;
}
</style>

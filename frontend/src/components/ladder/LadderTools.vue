<script setup lang="ts">
import Button from 'primevue/button'

import type { Ladder, PathState } from '@/api/client'
import type { PlayerSettings } from '@/composables/usePlayer'

/** What acts on the whole path: undo, levels, the highest grade, the second time, hearing it. */
const props = defineProps<{
  ladder: Ladder
  path: PathState
  second: boolean
  marked: boolean
  playing: boolean
  settings: PlayerSettings
}>()
const emit = defineEmits<{
  undo: []
  redo: []
  level: [rung: number]
  atMost: [grade: number]
  second: [on: boolean]
  marked: [on: boolean]
  play: []
  settings: [settings: PlayerSettings]
}>()
const set = (change: Partial<PlayerSettings>) => emit('settings', { ...props.settings, ...change })
const number = (event: Event) => Number((event.target as HTMLInputElement | HTMLSelectElement).value)

function tempo(event: Event) {
  const wanted = number(event)
  if (wanted >= 20 && wanted <= 400) set({ tempo: wanted })
}
</script>

<template>
  <div class="tools plain-fields" role="toolbar" aria-label="The whole path">
    <div class="group">
      <Button label="Undo" severity="secondary" size="small" :disabled="!path.undo" :title="path.undo || 'Nothing to undo'" @click="emit('undo')" />
      <Button label="Redo" severity="secondary" size="small" :disabled="!path.redo" :title="path.redo || 'Nothing to redo'" @click="emit('redo')" />
    </div>
    <div class="group" role="group" aria-label="Put the whole path on one rung">
      <span class="quiet">All on</span>
      <button v-for="one in ladder.rungs" :key="one.number" type="button" class="step" :aria-label="`All on ${one.number}`" :title="one.name" @click="emit('level', one.number)">
        {{ one.version ? `${one.number} ${one.version}` : one.number }}
      </button>
    </div>
    <label class="group" title="The richest path on which no bar and no join is above this grade">
      <span class="quiet">Grade at most</span>
      <input type="range" min="1" max="8" :value="path.grade" aria-label="Grade at most" @change="emit('atMost', number($event))" />
      <strong>{{ path.grade }}</strong>
    </label>
    <label class="group">
      <input type="checkbox" :checked="second" @change="emit('second', ($event.target as HTMLInputElement).checked)" />
      Second time<template v-if="path.second_grade">, grade {{ path.second_grade }}</template>
    </label>
    <label class="group">
      <input type="checkbox" :checked="marked" @change="emit('marked', ($event.target as HTMLInputElement).checked)" />
      New notes
    </label>
    <div class="group sound">
      <Button :label="playing ? 'Stop' : 'Play'" size="small" @click="emit('play')" />
      <label>
        <span class="quiet">Tempo</span>
        <input type="number" class="tempo" min="20" max="400" :value="settings.tempo" @change="tempo" />
      </label>
      <label>
        <span class="quiet">Swing</span>
        <select :value="settings.swing" @change="set({ swing: number($event) })">
          <option :value="0">even</option>
          <option :value="0.5">some</option>
          <option :value="1">triplet</option>
        </select>
      </label>
      <label>
        <span class="quiet">Count-in</span>
        <select :value="settings.countIn" @change="set({ countIn: number($event) })">
          <option :value="0">none</option>
          <option :value="2">2</option>
          <option :value="3">3</option>
          <option :value="4">4</option>
        </select>
      </label>
    </div>
  </div>
</template>

<style scoped>
.tools {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.3rem 0.9rem;
  font-size: 0.875rem;
}
.group {
  display: flex;
  align-items: center;
  gap: 0.3rem;
  white-space: nowrap;
}
.sound {
  gap: 0.6rem;
}
.sound label {
  display: flex;
  gap: 0.25rem;
  align-items: center;
}
.step {
  font: inherit;
  min-width: 1.6rem;
  padding: 0 0.3rem;
  height: 1.7rem;
  border: 1px solid var(--hairline);
  background: var(--panel);
  color: inherit;
  cursor: pointer;
}
.step:hover {
  border-color: var(--ink);
}
.step + .step {
  margin-left: -0.35rem;
}
input[type='range'] {
  width: 6rem;
}
input[type='checkbox'] {
  margin: 0;
}
.tempo {
  width: 3.6rem;
}
</style>

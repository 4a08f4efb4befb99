<script setup lang="ts">
import Button from 'primevue/button'
import ToggleSwitch from 'primevue/toggleswitch'
import { computed } from 'vue'

import type { CoreNote } from '@/api/client'
import { LAYER_WORDS } from './coreInk'

/** The core of the tune: what its staff shows of it, and the note at the cursor, in or out, with the reason. */
const props = defineProps<{ notes: CoreNote[]; shown: boolean; note: CoreNote | null }>()
const emit = defineEmits<{ show: [shown: boolean]; decide: [taken: boolean | null] }>()

const inside = computed(() => props.note !== null && ['bones', 'beat'].includes(props.note.layer))
const counts = computed(() => {
  const of = (layer: string) => props.notes.filter((note) => note.layer === layer).length
  return `${of('bones')} bones, ${of('bones') + of('beat')} on the beats, ${props.notes.length} in all`
})
</script>

<template>
  <div class="core">
    <label class="switch">
      <ToggleSwitch :model-value="shown" input-id="core-shown" @update:model-value="emit('show', $event)" />
      Show the core on the staff
    </label>
    <p class="quiet">The core is what one would hum: a pupil's first rung plays it. {{ counts }}.</p>
    <p v-if="!note" class="quiet">Click a note on the staff.</p>
    <div v-else class="note" role="status">
      <strong>{{ note.pitch }}, bar {{ note.number }}</strong>
      <span>{{ LAYER_WORDS[note.layer] }}. {{ note.why }}</span>
      <Button
        :label="inside ? 'Take it out of the core' : 'Take it into the core'"
        size="small"
        title="Key: x"
        @click="emit('decide', !inside)"
      />
      <Button v-if="note.decided" label="As it was found" size="small" severity="secondary" @click="emit('decide', null)" />
    </div>
  </div>
</template>

<style scoped>
.core {
  display: grid;
  gap: 0.45rem;
  justify-items: start;
}
.switch {
  display: flex;
  align-items: center;
  gap: 0.6rem;
}
.note {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.75rem;
}
</style>

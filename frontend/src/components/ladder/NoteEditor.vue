<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'

import type { Note, NoteEdit, Touch, Unison } from '@/api/client'

/** The picked place of the bar: its note with fret, string, finger, stroke and ornament, or room for one. */
const props = defineProps<{
  picked: { onset: string; string: number }
  note: Note | null
  places: Unison[] | null
  /** The movements of the right hand that this way of playing makes. */
  touches: Touch[]
}>()
const emit = defineEmits<{ edit: [edit: NoteEdit]; unison: [string: number, fret: number] }>()

const ORNAMENTS = ['none', 'hammer-on', 'pull-off', 'slide', 'slow slide', 'bend'] as const

const ornament = computed(() => (props.note?.slow ? 'slow slide' : (props.note?.ornament ?? 'none')))
const value = (event: Event) => (event.target as HTMLInputElement | HTMLSelectElement).value

function edit(more: Partial<NoteEdit> & Pick<NoteEdit, 'do'>) {
  const at = { onset: props.picked.onset, string: props.picked.string }
  emit('edit', { ...at, fret: 0, to_string: 0, finger: 0, touch: '', ornament: null, start: 0, slow: false, ...more })
}

function setFret(event: Event) {
  const text = value(event).trim()
  if (/^\d{1,2}$/.test(text)) edit({ do: props.note ? 'fret' : 'add', fret: Number(text) })
}

function setOrnament(event: Event) {
  const wanted = value(event)
  if (wanted === 'none') edit({ do: 'technique' })
  else edit({ do: 'technique', ornament: wanted === 'slow slide' ? 'slide' : (wanted as 'slide'), slow: wanted === 'slow slide' })
}
</script>

<template>
  <div class="editor plain-fields" aria-label="The picked note" role="group">
    <p v-if="note">
      <strong>{{ note.name }}</strong>, {{ note.role }} note on string {{ note.string }}, {{ note.fret ? `fret ${note.fret_name}` : 'open' }}
    </p>
    <p v-else>Nothing on string {{ picked.string }} there. Type a fret to add a note.</p>
    <div class="fields">
      <label>Fret <input type="text" inputmode="numeric" maxlength="2" :value="note ? note.fret : ''" @change="setFret" /></label>
      <template v-if="note">
        <label v-if="note.fret">
          Finger
          <select :value="note.finger" @change="edit({ do: 'finger', finger: Number(value($event)) })">
            <option v-for="finger in 4" :key="finger" :value="finger">{{ finger }}</option>
          </select>
        </label>
        <label>
          Stroke
          <select :value="note.touch" @change="edit({ do: 'touch', touch: value($event) })">
            <option v-if="!note.touch" value="">left hand</option>
            <option v-for="touch in touches" :key="touch.name" :value="touch.name">{{ touch.word }}</option>
          </select>
        </label>
        <label>
          Ornament
          <select :value="ornament" @change="setOrnament">
            <option v-for="one in ORNAMENTS" :key="one" :value="one">{{ one }}</option>
          </select>
        </label>
        <Button label="Delete" severity="secondary" size="small" @click="edit({ do: 'delete' })" />
      </template>
    </div>
    <template v-if="note && places && places.length > 1">
      <p class="quiet">Its places; what follows is fingered anew:</p>
      <ul>
        <li v-for="place in places" :key="`${place.string}-${place.fret}`">
          <button
            type="button"
            class="place"
            :disabled="place.string === note.string && place.fret === note.fret"
            :title="place.words"
            @click="emit('unison', place.string, place.fret)"
          >
            string {{ place.string }} {{ place.fret ? `fret ${place.fret_name}` : 'open' }}
          </button>
          <span class="quiet">{{ place.price ? `price ${place.price}` : 'cheapest' }}</span>
        </li>
      </ul>
    </template>
  </div>
</template>

<style scoped>
.editor {
  display: flex;
  flex-direction: column;
  gap: 0.35rem;
  border-left: 3px solid var(--ink);
  padding-left: 0.6rem;
}
.fields {
  display: flex;
  flex-wrap: wrap;
  gap: 0.3rem 0.6rem;
  align-items: center;
}
label {
  display: flex;
  gap: 0.25rem;
  align-items: center;
}
input {
  width: 2.6rem;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 0.25rem 0.9rem;
}
.place {
  font: inherit;
  color: var(--spruce);
  background: none;
  border: 0;
  padding: 0;
  margin-right: 0.3rem;
  text-decoration: underline;
  cursor: pointer;
}
.place:disabled {
  color: var(--ink);
  text-decoration: none;
  font-weight: 700;
  cursor: default;
}
</style>

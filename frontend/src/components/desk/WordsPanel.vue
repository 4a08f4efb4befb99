<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref, watch } from 'vue'

import type { DeskChange, DeskReading } from '@/api/client'

/** Verses under the notes: a line of words for each line of music. */
const props = defineProps<{ reading: DeskReading }>()
const emit = defineEmits<{ change: [change: DeskChange] }>()

const verses = ref<string[]>([])
watch(() => props.reading.verses, (written) => (verses.value = written.length ? [...written] : ['']), { immediate: true })
const changed = computed(() => verses.value.filter((text) => text.trim()).join('\0') !== props.reading.verses.join('\0'))
const set = () => emit('change', { kind: 'words', verses: verses.value.filter((text) => text.trim()) })
</script>

<template>
  <div class="words">
    <div class="help quiet">
      <p>
        One line of words under each of the {{ reading.music_lines }} line{{ reading.music_lines === 1 ? '' : 's' }} of music. A hyphen parts syllables (har-bour), _ holds a syllable
        over a note, * leaves a note without words, ~ puts two words on one note, | goes to the next bar.
      </p>
      <div class="buttons">
        <Button label="Set words" size="small" :disabled="!changed" @click="set" />
        <Button label="Add a verse" size="small" severity="secondary" @click="verses.push('')" />
      </div>
    </div>
    <div class="verses">
      <label v-for="(_, index) in verses" :key="index">
        <span>Verse {{ index + 1 }}</span>
        <textarea v-model="verses[index]" :rows="Math.max(2, Math.min(6, reading.music_lines))" spellcheck="true" wrap="off"></textarea>
      </label>
    </div>
  </div>
</template>

<style scoped>
.words {
  display: grid;
  grid-template-columns: 19rem minmax(0, 1fr);
  gap: 1.25rem;
  font-size: 0.9rem;
}
.buttons {
  display: flex;
  gap: 0.4rem;
  padding-top: 0.6rem;
}
.verses {
  display: flex;
  flex-direction: column;
  gap: 0.5rem;
}
label {
  display: flex;
  gap: 0.6rem;
}
label span {
  width: 4rem;
  padding-top: 0.3rem;
}
textarea {
  flex: 1;
  border: 1px solid var(--hairline);
  background: var(--panel);
  padding: 0.3rem 0.5rem;
  font: 1rem/1.5 var(--text-face);
  color: var(--ink);
  resize: vertical;
}
</style>

<script setup lang="ts">
import Button from 'primevue/button'
import Textarea from 'primevue/textarea'
import { ref } from 'vue'

import { api, type BroughtIn } from '@/api/client'
import { useAsked } from '@/composables/useAsked'
import ProblemNote from './ProblemNote.vue'

/** Pasted ABC or a file goes to the server; what cannot be read comes back with its place, and the text stays. */
const emit = defineEmits<{ broughtIn: [result: BroughtIn] }>()

const text = ref('')
const chooser = ref<HTMLInputElement | null>(null)
const { answer: result, problem, busy, ask } = useAsked<BroughtIn>()

async function bringIn(work: () => Promise<BroughtIn>, clear: boolean) {
  result.value = null
  const done = await ask(work)
  if (!done) return
  if (clear && !done.refused.length) text.value = ''
  emit('broughtIn', done)
}

function bringInFile(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (file) void bringIn(() => api.bringInFile(file), false)
  input.value = ''
}

const example = 'X:1\nT:Title of the tune\nM:4/4\nL:1/8\nK:G\n|:"G"G2B2 d3B|…'
</script>

<template>
  <section class="bring-in" aria-labelledby="bring-in-title">
    <h2 id="bring-in-title">Bring in a tune</h2>
    <label for="abc" class="quiet">Paste ABC, one tune or many:</label>
    <Textarea id="abc" v-model="text" rows="13" :placeholder="example" spellcheck="false" />
    <div class="buttons">
      <Button label="Bring in" :disabled="!text.trim() || busy" @click="bringIn(() => api.bringIn(text), true)" />
      <Button label="Choose a file…" severity="secondary" :disabled="busy" @click="chooser?.click()" />
      <input ref="chooser" type="file" accept=".abc,.txt,text/plain" hidden aria-label="ABC file" @change="bringInFile" />
    </div>
    <ProblemNote v-if="problem" :problem="problem" />
    <div v-if="result" class="result" role="status">
      <p>
        <strong>{{ result.added.length }} {{ result.added.length === 1 ? 'tune' : 'tunes' }} brought in.</strong>
      </p>
      <ul v-if="result.refused.length" class="refused">
        <li v-for="(one, index) in result.refused" :key="index">
          <strong>{{ one.number }} {{ one.title }}</strong>: {{ one.message }} Line {{ one.line }}, column
          {{ one.column }}. {{ one.remedy }}
        </li>
      </ul>
      <ul v-if="result.notices.length" class="quiet">
        <li v-for="(notice, index) in result.notices.slice(0, 12)" :key="index">{{ notice }}</li>
      </ul>
    </div>
  </section>
</template>

<style scoped>
.bring-in {
  display: flex;
  flex-direction: column;
  gap: 0.6rem;
}
textarea {
  width: 100%;
  font-family: ui-monospace, 'DejaVu Sans Mono', monospace;
  font-size: 0.85rem;
  line-height: 1.5;
  resize: vertical;
}
.buttons {
  display: flex;
  gap: 0.6rem;
}
ul {
  margin: 0.4rem 0 0;
  padding-left: 1.1rem;
  font-size: 0.9rem;
}
.refused li {
  color: var(--madder);
}
.result {
  border-left: 4px solid var(--spruce);
  background: var(--spruce-wash);
  padding: 0.5rem 0.75rem;
}
</style>

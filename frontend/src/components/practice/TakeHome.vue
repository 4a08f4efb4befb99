<script setup lang="ts">
import { computed, ref } from 'vue'

import { api } from '@/api/client'

/** A page for a pupil: one file with tab, sound, plan and drills that needs nothing else. */
const props = defineProps<{ setupId: number; title: string }>()
const open = ref(false)
const note = ref('')
const address = computed(() => api.takeHomeAddress(props.setupId, note.value))
</script>

<template>
  <div class="take-home">
    <button type="button" class="word-button link" :aria-expanded="open" @click="open = !open">Take home</button>
    <form v-if="open" class="sheet" :action="address" @submit.prevent="open = false">
      <label>
        A word for the pupil
        <textarea v-model="note" rows="3" maxlength="1000" placeholder="What to heed until next time"></textarea>
      </label>
      <a class="link-button" :href="address" :download="`${title}.html`" @click="open = false">Keep the page</a>
      <p class="quiet">One file: opens in any browser without a connection.</p>
    </form>
  </div>
</template>

<style scoped>
.take-home {
  position: relative;
  white-space: nowrap;
}
.sheet {
  position: absolute;
  right: 0;
  top: 1.8rem;
  z-index: 5;
  width: 300px;
  padding: 0.75rem;
  background: var(--panel);
  border: 1px solid var(--ink);
  display: flex;
  flex-direction: column;
  gap: 0.5rem;
  font-size: 0.92rem;
  white-space: normal;
}
label {
  display: flex;
  flex-direction: column;
  gap: 0.2rem;
}
textarea {
  font: inherit;
  border: 1px solid var(--hairline);
  padding: 0.3rem;
}
.link-button {
  align-self: flex-start;
}
</style>

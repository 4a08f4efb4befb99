<script setup lang="ts">
import { computed, ref } from 'vue'

import type { ArrangementRow, Ladder } from '@/api/client'

/** The arrangements of the tune: which one this is, the others, a copy, its name. */
const props = defineProps<{ rows: ArrangementRow[] | null; ladder: Ladder; beside: number | null }>()
const emit = defineEmits<{ go: [id: number]; copy: [name: string]; rename: [name: string]; beside: [id: number | null] }>()

const vFocus = { mounted: (element: HTMLElement) => element.focus() }
const asked = ref<'copy' | 'name' | null>(null)
const name = ref('')
// Grading the others takes a moment: until they are there, this one stands by itself.
const own = computed(() => ({ id: props.ladder.setup_id, called: props.ladder.called, label: props.ladder.label, grade: 0 }))

function ask(what: 'copy' | 'name') {
  asked.value = asked.value === what ? null : what
  name.value = what === 'name' ? props.ladder.name : ''
}

function done() {
  if (!name.value.trim()) return
  if (asked.value === 'copy') emit('copy', name.value.trim())
  else emit('rename', name.value.trim())
  asked.value = null
}
</script>

<template>
  <div class="arrangements plain-fields">
    <label>
      <span class="quiet">Arrangement</span>
      <select :value="ladder.setup_id" @change="emit('go', Number(($event.target as HTMLSelectElement).value))">
        <option v-for="row in rows ?? [own]" :key="row.id" :value="row.id">{{ row.called }}: {{ row.label }}{{ row.grade ? `, grade ${row.grade}` : '' }}</option>
      </select>
    </label>
    <button type="button" class="word-button link" @click="ask('name')">Name it</button>
    <button type="button" class="word-button link" @click="ask('copy')">Copy</button>
    <label v-if="(rows?.length ?? 0) > 1">
      <span class="quiet">Beside it</span>
      <select :value="beside ?? ''" @change="emit('beside', Number(($event.target as HTMLSelectElement).value) || null)">
        <option value="">nothing beside it</option>
        <template v-for="row in rows ?? []" :key="row.id">
          <option v-if="row.id !== ladder.setup_id && !row.trouble" :value="row.id">{{ row.called }}</option>
        </template>
      </select>
    </label>
    <form v-if="asked" @submit.prevent="done">
      <label>
        {{ asked === 'copy' ? 'Name of the copy' : 'Name' }}
        <input v-model="name" v-focus maxlength="80" @keydown.esc="asked = null" />
      </label>
      <button type="submit" class="word-button link">{{ asked === 'copy' ? 'Copy' : 'Keep' }}</button>
    </form>
  </div>
</template>

<style scoped>
.arrangements,
form {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.2rem 0.7rem;
  font-size: 0.875rem;
}
label {
  display: flex;
  gap: 0.3rem;
  align-items: center;
}
select {
  text-overflow: ellipsis;
  max-width: 15rem;
}
button {
  white-space: nowrap;
}
/* Where the line is full, the selects say by themselves what they are. */
@media (max-width: 1500px) {
  label > .quiet {
    position: absolute;
    clip-path: inset(50%);
  }
  select {
    max-width: 10.5rem;
  }
  label:nth-of-type(2) select {
    max-width: 9rem;
  }
}
@media (max-width: 1100px) {
  select {
    max-width: 7.5rem;
  }
  label:nth-of-type(2) select {
    max-width: 6.6rem;
  }
}
</style>

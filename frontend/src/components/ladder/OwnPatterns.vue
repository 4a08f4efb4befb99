<script setup lang="ts">
import Button from 'primevue/button'
import { reactive, ref } from 'vue'

import type { Ladder } from '@/api/client'

/** The teacher's own patterns of this arrangement, in the signs of its way of playing. */
defineProps<{ ladder: Ladder }>()
const emit = defineEmits<{ keep: [name: string, text: string]; drop: [name: string] }>()

const open = ref(false)
const made = reactive({ name: '', text: '' })

function edit(name: string, text: string) {
  Object.assign(made, { name, text })
}

function keep() {
  const [name, text] = [made.name.trim(), made.text.trim()]
  if (name && text) emit('keep', name, text)
}
</script>

<template>
  <section v-if="ladder.signs.length" class="side-box plain-fields" aria-label="Your own patterns">
    <button type="button" class="word-button link" :aria-expanded="open" @click="open = !open">
      Your own patterns<template v-if="ladder.patterns.length"> ({{ ladder.patterns.length }})</template>
    </button>
    <template v-if="open">
      <ul v-if="ladder.patterns.length">
        <li v-for="one in ladder.patterns" :key="one.name">
          <strong>{{ one.name }}</strong> <code>{{ one.text }}</code>
          <button type="button" class="word-button link" @click="edit(one.name, one.text)">Change</button>
          <button type="button" class="word-button link" @click="emit('drop', one.name)">Forget</button>
        </li>
      </ul>
      <form @submit.prevent="keep">
        <label>Name <input v-model="made.name" type="text" maxlength="40" /></label>
        <label>Signs <input v-model="made.text" type="text" maxlength="200" :placeholder="ladder.sample" /></label>
        <Button type="submit" label="Keep" size="small" severity="secondary" :disabled="!made.name.trim() || !made.text.trim()" />
      </form>
      <p class="quiet">
        One sign a count: {{ ladder.signs.join(' ') }}; strings behind it, the best first; <b>!</b> where melody may begin, <b>.</b> to let it ring,
        <b>|</b> between groups of two or three.
      </p>
    </template>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0.3rem 0;
  padding: 0;
}
code {
  font-size: 0.85rem;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 0.1rem 0.7rem;
  align-items: baseline;
}
form {
  display: flex;
  flex-wrap: wrap;
  gap: 0.3rem 0.6rem;
  align-items: center;
  margin: 0.3rem 0;
}
label {
  display: flex;
  gap: 0.3rem;
  align-items: center;
}
input {
  width: 10.5rem;
}
</style>

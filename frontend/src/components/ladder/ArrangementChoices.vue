<script setup lang="ts">
import type { Choice } from '@/api/client'

/** Where good players differ: one choice of ways each. */
defineProps<{ choices: Choice[] }>()
const emit = defineEmits<{ choose: [name: string, way: string] }>()
</script>

<template>
  <section v-if="choices.length" class="side-box plain-fields" aria-label="Choices of this arrangement">
    <h3>Your way</h3>
    <label v-for="choice in choices" :key="choice.name">
      <span>{{ choice.label }}</span>
      <select :value="choice.taken" @change="emit('choose', choice.name, ($event.target as HTMLSelectElement).value)">
        <option v-for="way in choice.ways" :key="way" :value="way">{{ way }}</option>
      </select>
    </label>
  </section>
</template>

<style scoped>
label {
  display: flex;
  flex-direction: column;
  gap: 0.15rem;
}
</style>

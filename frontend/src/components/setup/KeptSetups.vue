<script setup lang="ts">
import Button from 'primevue/button'
import { RouterLink } from 'vue-router'

import type { SetupAnswer, SetupSummary } from '@/api/client'

/** What the tune has been set up for: a way to each ladder, and what else can be done with it. */
const props = defineProps<{ setups: SetupSummary[]; picked: SetupAnswer | null }>()
const emit = defineEmits<{ move: [setup: SetupSummary]; forget: [setup: SetupSummary] }>()

const fits = (setup: SetupSummary) => props.picked?.instrument === setup.instrument && props.picked.idiom === setup.idiom && !setup.trouble
</script>

<template>
  <section class="kept" aria-label="Kept setups">
    <span class="quiet">Set up already:</span>
    <template v-for="setup in setups" :key="setup.id">
      <span v-if="setup.trouble" class="trouble">{{ setup.called }} no longer fits</span>
      <RouterLink v-else :to="{ name: 'ladder', params: { setupId: setup.id } }" :title="setup.label">{{ setup.called }}</RouterLink>
    </template>
    <details>
      <summary>Move or forget</summary>
      <ul>
        <li v-for="setup in setups" :key="setup.id">
          <span>
            <strong>{{ setup.called }}</strong>
            <span class="quiet"> {{ setup.label }}. {{ setup.trouble || `Plays ${setup.shape_key}, sounds ${setup.sounding_key}.` }}</span>
          </span>
          <Button v-if="fits(setup)" label="Move here" title="Take this arrangement to the setup that is picked" severity="secondary" text size="small" @click="emit('move', setup)" />
          <Button label="Forget" severity="secondary" text size="small" @click="emit('forget', setup)" />
        </li>
      </ul>
    </details>
  </section>
</template>

<style scoped>
.kept {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0.1rem 0.9rem;
  font-size: 0.94rem;
}
details[open] {
  flex-basis: 100%;
}
summary {
  cursor: pointer;
  color: var(--ink-soft);
  font-size: 0.875rem;
  width: fit-content;
}
ul {
  list-style: none;
  margin: 0.4rem 0 0;
  padding: 0;
  background: var(--panel);
  border: 1px solid var(--hairline);
}
li {
  display: flex;
  align-items: center;
  gap: 0.5rem;
  padding: 0.3rem 0.75rem;
}
li > span {
  flex: 1;
}
li + li {
  border-top: 1px solid var(--hairline);
}
.trouble {
  color: var(--madder);
}
</style>

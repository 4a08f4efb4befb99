<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'

import { api, type Sign } from '@/api/client'
import TabMarks from '@/components/TabMarks.vue'
import { useAsked } from '@/composables/useAsked'
import { helpOf } from './pages'

/** The help of a screen, beside it: the first step, keys, words, and every sign of the tab that is on screen. */
const props = defineProps<{ route: string; setupId: number | null }>()
const emit = defineEmits<{ close: [] }>()

const page = computed(() => helpOf(props.route))
const { answer: signs, ask } = useAsked<Sign[]>()
watch(() => [props.setupId, page.value.signs] as const, ([id, wanted]) => id !== null && wanted && void ask(() => api.signs(id)), { immediate: true })
const panel = ref<HTMLElement | null>(null)
onMounted(() => panel.value?.focus())
</script>

<template>
  <aside ref="panel" class="help" tabindex="-1" aria-label="Help">
    <header>
      <h2>{{ page.title }}</h2>
      <button type="button" class="word-button link" @click="emit('close')">Close</button>
    </header>
    <p>{{ page.first }}</p>
    <section v-if="page.signs && signs?.length">
      <h3>Signs of this tab</h3>
      <ul class="signs">
        <li v-for="sign in signs" :key="sign.what">
          <svg viewBox="-1.6 -4.2 7 6" aria-hidden="true"><TabMarks :marks="sign.marks" /></svg>
          {{ sign.what }}
        </li>
      </ul>
    </section>
    <section aria-label="Keys">
      <h3>Keys</h3>
      <dl>
        <template v-for="[key, what] in page.keys" :key="key">
          <dt>{{ key }}</dt>
          <dd>{{ what }}</dd>
        </template>
      </dl>
    </section>
    <section v-if="page.words.length">
      <h3>Words</h3>
      <dl class="words">
        <template v-for="[word, what] in page.words" :key="word">
          <dt>{{ word }}</dt>
          <dd>{{ what }}</dd>
        </template>
      </dl>
    </section>
  </aside>
</template>

<style scoped>
.help {
  position: fixed;
  z-index: 20;
  top: var(--masthead);
  right: 0;
  bottom: 0;
  width: min(360px, 100vw);
  overflow-y: auto;
  background: var(--panel);
  border-left: 1px solid var(--hairline);
  box-shadow: -4px 0 16px rgb(23 38 43 / 0.14);
  padding: 0.9rem 1.1rem 1.5rem;
  display: flex;
  flex-direction: column;
  gap: 0.9rem;
  font-size: 0.94rem;
}
.help:focus-visible {
  outline: none;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
}
h3 {
  font-size: 1rem;
  margin-bottom: 0.3rem;
}
dl {
  display: grid;
  grid-template-columns: 6.5rem 1fr;
  gap: 0.2rem 0.6rem;
  margin: 0;
}
dt {
  font-weight: 700;
}
dd {
  margin: 0;
}
.signs {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: 1fr;
}
.signs li {
  display: flex;
  align-items: center;
  gap: 0.5rem;
}
.signs svg {
  width: 42px;
  height: 30px;
  flex: none;
}
</style>

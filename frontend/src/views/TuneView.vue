<script setup lang="ts">
import Button from 'primevue/button'
import { computed, onMounted } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import { api, type SetupSummary, type SetupWish, type TuneDetail } from '@/api/client'
import ProblemNote from '@/components/ProblemNote.vue'
import SetupPanel from '@/components/SetupPanel.vue'
import { useAsked } from '@/composables/useAsked'
import { idFrom } from '@/router'

const route = useRoute()
const router = useRouter()
const tuneId = computed(() => idFrom(route.params.tuneId))
const { answer: tune, problem, ask } = useAsked<TuneDetail>()
const { problem: keepProblem, busy: keeping, ask: askKeep } = useAsked<SetupSummary>()

const load = () => ask(() => api.tune(tuneId.value))
onMounted(load)

async function keep(wish: SetupWish) {
  const kept = await askKeep(() => api.keepSetup(tuneId.value, wish))
  if (kept) await router.push({ name: 'ladder', params: { setupId: kept.id } })
}

async function forget(setup: SetupSummary) {
  if (!window.confirm(`Forget this setup and its path? ${setup.label}`)) return
  await api.forgetSetup(setup.id)
  await load()
}

async function takeOff() {
  if (!tune.value || !window.confirm(`Take “${tune.value.title}” off the shelf, with its setups and paths?`)) return
  await api.takeOff(tuneId.value)
  await router.push({ name: 'shelf' })
}
</script>

<template>
  <main class="tune">
    <Teleport to="#masthead-place">
      <RouterLink to="/">Tunes</RouterLink>
    </Teleport>
    <ProblemNote v-if="problem" :problem="problem" />
    <template v-if="tune">
      <section class="desk">
        <h1>{{ tune.title }}</h1>
        <p>
          {{ tune.key }}, {{ tune.metre }}. {{ tune.different_bars }} of {{ tune.bars }} bars are different. Range
          {{ tune.lowest }} to {{ tune.highest }}.
        </p>
        <ul v-if="tune.problems.length" class="problems">
          <li v-for="one in tune.problems" :key="one.bar">{{ one.message }}</li>
        </ul>
        <h2>As it came in</h2>
        <pre tabindex="0" aria-label="ABC text">{{ tune.abc }}</pre>
        <ul v-if="tune.notices.length" class="quiet notices">
          <li v-for="notice in tune.notices" :key="notice">{{ notice }}</li>
        </ul>
        <Button label="Take off the shelf" severity="secondary" text size="small" class="take-off" @click="takeOff" />
      </section>
      <div class="side">
        <section v-if="tune.setups.length" class="kept" aria-labelledby="kept-title">
          <h2 id="kept-title">Setups</h2>
          <ul>
            <li v-for="setup in tune.setups" :key="setup.id">
              <RouterLink :to="{ name: 'ladder', params: { setupId: setup.id } }" class="open">
                <strong>Plays {{ setup.shape_key }}, sounds {{ setup.sounding_key }}</strong>
                <span class="quiet">{{ setup.label }}</span>
              </RouterLink>
              <Button label="Forget" severity="secondary" text size="small" @click="forget(setup)" />
            </li>
          </ul>
        </section>
        <ProblemNote v-if="keepProblem" :problem="keepProblem" />
        <SetupPanel :tune-id="tuneId" :busy="keeping" @keep="keep" />
      </div>
    </template>
  </main>
</template>

<style scoped>
.tune {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 460px;
  gap: 2rem;
  max-width: 1320px;
  margin: 0 auto;
  padding: 1.5rem 1.25rem;
}
.desk,
.side {
  display: flex;
  flex-direction: column;
  gap: 0.8rem;
}
.side {
  gap: 1.25rem;
}
pre {
  margin: 0;
  padding: 0.9rem 1.1rem;
  background: var(--panel);
  border: 1px solid var(--hairline);
  font-family: ui-monospace, 'DejaVu Sans Mono', monospace;
  font-size: 0.85rem;
  line-height: 1.55;
  white-space: pre-wrap;
}
.problems {
  margin: 0;
  border-left: 4px solid var(--madder);
  background: var(--madder-wash);
  padding: 0.5rem 0.75rem 0.5rem 1.75rem;
}
.notices {
  margin: 0;
  padding-left: 1.1rem;
  font-size: 0.9rem;
}
.kept ul {
  list-style: none;
  margin: 0.5rem 0 0;
  padding: 0;
  background: var(--panel);
  border: 1px solid var(--hairline);
}
.kept li {
  display: flex;
  justify-content: space-between;
  align-items: center;
  padding: 0.25rem 0.5rem 0.25rem 0;
}
.kept li + li {
  border-top: 1px solid var(--hairline);
}
.open {
  flex: 1;
  display: flex;
  flex-direction: column;
  padding: 0.5rem 1rem;
  text-decoration: none;
}
.open:hover strong {
  text-decoration: underline;
}
.take-off {
  align-self: flex-start;
}
@media (max-width: 1000px) {
  .tune {
    grid-template-columns: 1fr;
  }
}
</style>

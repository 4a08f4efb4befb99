<script setup lang="ts">
import Button from 'primevue/button'
import { computed, onMounted, ref } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import { api, type Shape, type SetupSummary, type SetupWish, type TuneDetail } from '@/api/client'
import ProblemNote from '@/components/ProblemNote.vue'
import { notesAsMarks, shapeAsMarks } from '@/components/neckMarks'
import NeckDrawing from '@/components/NeckDrawing.vue'
import ChordsOfPlan from '@/components/setup/ChordsOfPlan.vue'
import PlanList from '@/components/setup/PlanList.vue'
import SetupPanel from '@/components/setup/SetupPanel.vue'
import { useAsked } from '@/composables/useAsked'
import { useSetup } from '@/composables/useSetup'
import { idFrom } from '@/router'

const route = useRoute()
const router = useRouter()
const tuneId = computed(() => idFrom(route.params.tuneId))
const { answer: tune, problem, ask } = useAsked<TuneDetail>()
const { problem: keepProblem, busy: keeping, ask: askKeep } = useAsked<SetupSummary>()

const bench = useSetup(tuneId)
const { chosen, instruments, instrument, answer, problem: setupProblem, neck } = bench
/** What stands on the neck: the tune's notes, or a chord shape that is looked at. */
const shape = ref<Shape | null>(null)
const marks = computed(() => (!neck.value ? [] : shape.value ? shapeAsMarks(shape.value, neck.value) : notesAsMarks(neck.value)))
type Field = keyof typeof chosen

const chords = ref<string[]>([])
const load = () => ask(() => api.tune(tuneId.value))
onMounted(load)

async function keep(wish: SetupWish) {
  const kept = await askKeep(() => api.keepSetup(tuneId.value, wish))
  if (kept) await router.push({ name: 'ladder', params: { setupId: kept.id } })
}

/** The arrangement goes to the setup that is chosen; what cannot come along waits aside on its ladder. */
async function move(setup: SetupSummary) {
  const now = answer.value
  if (!now) return
  const kept = await askKeep(async () => {
    const { path } = await api.ladder(setup.id)
    const change = { do: 'setup', tuning: now.tuning, capo: now.capo, fifth: now.fifth, key: now.sounding_tonic } as const
    await api.arrange(setup.id, change, path.revision)
    return setup
  })
  if (kept) await router.push({ name: 'ladder', params: { setupId: kept.id } })
}

const fits = (setup: SetupSummary) => answer.value?.instrument === setup.instrument && answer.value.idiom === setup.idiom && !setup.trouble

async function forget(setup: SetupSummary) {
  if (!window.confirm(`Forget this arrangement with everything decided in it? ${setup.label}`)) return
  await api.forgetSetup(setup.id)
  await load()
}
</script>

<template>
  <main class="setups">
    <Teleport to="#masthead-place">
      <RouterLink to="/">Tunes</RouterLink>
      <RouterLink :to="{ name: 'tune', params: { tuneId } }">Desk</RouterLink>
      <strong>Setup</strong>
    </Teleport>
    <ProblemNote v-if="problem" :problem="problem" />
    <template v-if="tune">
      <h1>{{ tune.title }}</h1>
      <section v-if="neck && tune.readable" class="neck" aria-label="On the neck">
        <NeckDrawing :neck="neck" :marks="marks" :what="shape ? 'a chord shape' : 'the notes of the tune'" />
        <ChordsOfPlan v-if="answer && instrument" :instrument="instrument" :setup="answer" :chords="chords" @show="shape = $event" />
      </section>
      <div class="left">
        <p v-if="tune.draft" class="draft">
          The text on the desk cannot be read yet.
          {{ tune.readable ? 'The last readable one is set up.' : 'Write at least one note first.' }}
        </p>
        <section v-if="tune.setups.length" class="kept" aria-labelledby="kept-title">
          <h2 id="kept-title">Kept setups</h2>
          <ul>
            <li v-for="setup in tune.setups" :key="setup.id">
              <div v-if="setup.trouble" class="open trouble">
                <strong>{{ setup.called }}: no longer fits the tune</strong>
                <span>{{ setup.label }}. {{ setup.trouble }}</span>
              </div>
              <RouterLink v-else :to="{ name: 'ladder', params: { setupId: setup.id } }" class="open">
                <strong>{{ setup.called }}: Plays {{ setup.shape_key }}, sounds {{ setup.sounding_key }}</strong>
                <span class="quiet">{{ setup.label }}<template v-if="setup.name"> · {{ setup.idiom }}</template></span>
              </RouterLink>
              <Button
                v-if="fits(setup)"
                label="Move here"
                title="Take this arrangement to the setup that is chosen on the right"
                severity="secondary"
                text
                size="small"
                @click="move(setup)"
              />
              <Button label="Forget" severity="secondary" text size="small" @click="forget(setup)" />
            </li>
          </ul>
        </section>
        <PlanList v-if="tune.readable && instrument" :tune-id="tuneId" :instrument="instrument" :idiom="chosen.idiom" :picked="answer" @pick="bench.adopt" @chords="chords = $event" />
      </div>
      <div class="side">
        <ProblemNote v-if="keepProblem" :problem="keepProblem" />
        <SetupPanel
          v-if="tune.readable"
          :chosen="chosen"
          :instruments="instruments ?? []"
          :instrument="instrument"
          :answer="answer"
          :problem="setupProblem"
          :busy="keeping"
          @keep="keep"
          @instrument="bench.take"
          @change="(field, value) => (chosen[field as Field] = value)"
        />
      </div>
    </template>
  </main>
</template>

<style scoped>
.setups {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 420px;
  gap: 1.25rem 1.75rem;
  max-width: 1400px;
  margin: 0 auto;
  padding: 1rem 1.25rem 2rem;
}
.left,
.kept {
  display: flex;
  flex-direction: column;
  gap: 0.7rem;
}
h1,
.neck {
  grid-column: 1 / -1;
}
.neck {
  font-size: 0.875rem;
  display: flex;
  flex-direction: column;
  gap: 0.25rem;
}
.kept ul {
  list-style: none;
  margin: 0;
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
.trouble {
  border-left: 4px solid var(--madder);
}
.draft {
  border-left: 4px solid var(--madder);
  background: var(--madder-wash);
  padding: 0.45rem 0.7rem;
}
@media (max-width: 1000px) {
  .setups {
    grid-template-columns: 1fr;
  }
}
</style>

<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import { api, type SetupAnswer, type SetupSummary, type Shape, type TuneDetail } from '@/api/client'
import ProblemNote from '@/components/ProblemNote.vue'
import WaitingNote from '@/components/WaitingNote.vue'
import { notesAsMarks, shapeAsMarks } from '@/components/neckMarks'
import NeckDrawing from '@/components/NeckDrawing.vue'
import ChordsOfPlan from '@/components/setup/ChordsOfPlan.vue'
import KeptSetups from '@/components/setup/KeptSetups.vue'
import PlanAsk from '@/components/setup/PlanAsk.vue'
import PlanRows from '@/components/setup/PlanRows.vue'
import SetupPanel from '@/components/setup/SetupPanel.vue'
import WhyNot from '@/components/setup/WhyNot.vue'
import { useAsked } from '@/composables/useAsked'
import { useOpened } from '@/composables/useOpened'
import { usePlans, type Wanted } from '@/composables/usePlans'
import { taughtFirst, useSettings } from '@/composables/useSettings'
import { useSetup, wishOf } from '@/composables/useSetup'
import { idFrom } from '@/router'

const route = useRoute()
const router = useRouter()
const tuneId = ref(idFrom(route.params.tuneId))
const { answer: tune, problem, ask } = useAsked<TuneDetail>()
const { problem: forgetProblem, ask: askForget } = useAsked<true>()
const { problem: keepProblem, busy: keeping, ask: askKeep } = useAsked<SetupSummary>()
useOpened(() => tuneId.value)

const { settings, ready } = useSettings()
const bench = useSetup(tuneId)
const { chosen, instruments, instrument, picked, problem: setupProblem, neck } = bench
const { wanted, plans, problem: planProblem, reason, explain } = usePlans(
  tuneId,
  computed(() => chosen.instrument),
  computed(() => chosen.idiom),
  (name) => settings.value?.tunings[name] ?? '',
)
watch(plans, (found) => found?.[0] && bench.propose(found[0].setup))

function want(wish: Partial<Wanted>) {
  bench.askAnew(wish.key)
  Object.assign(wanted, wish)
}

/** What stands on the neck: the tune's notes, or a chord shape that is looked at. */
const shape = ref<Shape | null>(null)
const marks = computed(() => (!neck.value ? [] : shape.value ? shapeAsMarks(shape.value, neck.value) : notesAsMarks(neck.value)))
/** The chords of the tune in the shapes of what is picked. */
const chords = computed(() => {
  const now = picked.value
  const plan = plans.value?.find(({ setup }) => setup.tuning === now?.tuning && setup.capo === now.capo && setup.sounding_key === now.sounding_key)
  return (plan ?? plans.value?.[0])?.shapes.map((one) => one.shape_name) ?? []
})

const load = () => ask(() => api.tune(tuneId.value))
onMounted(async () => {
  const [there] = await Promise.all([load(), ready()])
  const own = there?.setups ?? []
  await bench.begin(own.find((setup) => String(setup.id) === route.query.from) ?? own.at(-1))
})

async function keep(setup: SetupAnswer) {
  const kept = await askKeep(() => api.keepSetup(tuneId.value, wishOf(setup)))
  if (kept) await router.push({ name: 'ladder', params: { setupId: kept.id } })
}

/** The arrangement goes to the setup that is picked; what cannot come along waits aside on its ladder. */
async function move(setup: SetupSummary) {
  const now = picked.value
  if (!now) return
  const kept = await askKeep(async () => {
    const { path } = await api.ladder(setup.id)
    const change = { do: 'setup', tuning: now.tuning, capo: now.capo, fifth: now.fifth, key: now.sounding_tonic } as const
    await api.arrange(setup.id, change, path.revision, crypto.randomUUID())
    return setup
  })
  if (kept) await router.push({ name: 'ladder', params: { setupId: kept.id } })
}

async function forget(setup: SetupSummary) {
  if (!window.confirm(`Forget this arrangement with everything decided in it? ${setup.label}`)) return
  if (await askForget(async () => (await api.forgetSetup(setup.id), true))) await load()
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
      <div class="head">
        <h1>{{ tune.title }}</h1>
        <KeptSetups v-if="tune.setups.length" :setups="tune.setups" :picked="picked" @move="move" @forget="forget" />
      </div>
      <p v-if="tune.draft" class="draft">
        The text on the desk cannot be read yet.
        {{ tune.readable ? 'The last readable one is set up.' : 'Write at least one note first.' }}
        <RouterLink :to="{ name: 'tune', params: { tuneId } }">Open the desk</RouterLink>
      </p>
      <template v-if="tune.readable && instrument">
        <PlanAsk
          :instruments="taughtFirst(instruments ?? [], settings)"
          :instrument="instrument"
          :idiom="chosen.idiom"
          :wanted="wanted"
          @instrument="(id) => bench.take(id)"
          @idiom="(id) => bench.take(chosen.instrument, id)"
          @change="want"
        />
        <section class="ways" aria-labelledby="plans-title">
          <h2 id="plans-title">Ways to play it</h2>
          <ProblemNote v-if="forgetProblem" :problem="forgetProblem" />
          <ProblemNote v-if="keepProblem" :problem="keepProblem" />
          <ProblemNote v-if="planProblem" :problem="planProblem" />
          <PlanRows v-else-if="plans" :plans="plans" :picked="picked" :busy="keeping" @pick="bench.adopt" @keep="keep" />
          <WaitingNote v-else>Ways to play it are being weighed …</WaitingNote>
          <WhyNot :instrument="instrument" :said="reason.answer.value?.said ?? ''" :problem="reason.problem.value" @ask="explain" />
        </section>
        <div class="side">
          <section v-if="neck" class="neck" aria-label="On the neck">
            <NeckDrawing :neck="neck" :marks="marks" :length="560" :what="shape ? 'a chord shape' : 'the notes of the tune'" />
            <ChordsOfPlan v-if="picked" :instrument="instrument" :setup="picked" :chords="chords" @show="shape = $event" />
          </section>
          <SetupPanel :chosen="chosen" :instrument="instrument" :answer="picked" :problem="setupProblem" :busy="keeping" @keep="keep" @change="bench.change" />
        </div>
      </template>
    </template>
  </main>
</template>

<style scoped>
.setups {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 0.9rem 1.25rem;
  align-items: start;
  max-width: 1400px;
  margin: 0 auto;
  padding: 0.8rem 1.25rem 2rem;
}
.setups > :not(.ways, .side) {
  grid-column: 1 / -1;
}
.head {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0.2rem 1.5rem;
}
.ways,
.side {
  display: flex;
  flex-direction: column;
  gap: 0.6rem;
  min-width: 0;
}
.neck {
  font-size: 0.875rem;
  display: flex;
  flex-direction: column;
  gap: 0.4rem;
}
.draft {
  border-left: 4px solid var(--madder);
  background: var(--madder-wash);
  padding: 0.45rem 0.7rem;
}
@media (max-width: 900px) {
  .setups {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>

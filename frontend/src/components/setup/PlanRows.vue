<script setup lang="ts">
import Button from 'primevue/button'
import { computed, nextTick, ref, watch } from 'vue'

import type { Plan, SetupAnswer } from '@/api/client'
import { pullWords } from '@/composables/units'
import { useSettings } from '@/composables/useSettings'

/**
 * Ways to play the tune, best first, each with its reasons and its price; those that no player would take while there
 * is the first wait until they are asked for.
 */
const props = defineProps<{ plans: Plan[]; picked: SetupAnswer | null; busy: boolean }>()
const emit = defineEmits<{ pick: [setup: SetupAnswer]; keep: [setup: SetupAnswer] }>()

const { settings } = useSettings()
const all = ref(false)
const list = ref<HTMLElement | null>(null)
const shown = computed(() => (all.value ? props.plans : props.plans.filter((plan) => !plan.seldom)))
const behind = computed(() => props.plans.length - shown.value.length)
watch(() => props.plans, async () => {
  all.value = false
  await nextTick()
  // The next step is under the hand, unless the hand is busy elsewhere.
  if (document.activeElement === document.body) list.value?.querySelector<HTMLElement>('.keep')?.focus({ preventScroll: true })
}, { immediate: true })

const pretty = (name: string) => name.replace('#', '♯').replace('b', '♭')
const same = (plan: Plan) =>
  props.picked &&
  plan.setup.tuning === props.picked.tuning &&
  plan.setup.capo === props.picked.capo &&
  plan.setup.sounding_key === props.picked.sounding_key
const shapesOf = (plan: Plan) => plan.shapes.map((one) => `${one.shape_name} ${one.frets}`).join(', ')
const named = (plan: Plan) => `${plan.tuning_name}${plan.setup.capo ? `, capo ${plan.setup.capo}` : ''}`

/** Arrows go from row to row. */
function step(event: KeyboardEvent, by: number) {
  const kind = (event.target as HTMLElement).classList.contains('keep') ? '.keep' : '.way'
  const buttons = [...(list.value?.querySelectorAll<HTMLElement>(kind) ?? [])]
  buttons[buttons.indexOf(event.target as HTMLElement) + by]?.focus()
}
</script>

<template>
  <ol ref="list" class="list" @keydown.down.prevent="step($event, 1)" @keydown.up.prevent="step($event, -1)">
    <li v-for="plan in shown" :key="`${plan.setup.tuning}${plan.setup.capo}${plan.setup.sounding_key}${plan.cost}`" :class="{ picked: same(plan) }">
      <button type="button" class="way" :aria-pressed="Boolean(same(plan))" @click="emit('pick', plan.setup)">
        <span class="what">
          <strong>{{ plan.tuning_name }}</strong><template v-if="plan.setup.capo">, capo {{ plan.setup.capo }}</template
          ><template v-if="plan.setup.fifth">, <span class="whole">fifth string {{ pretty(plan.setup.fifth.replace(/[0-9]/, '')) }}</span></template>
        </span>
        <span class="keys">plays {{ plan.setup.shape_key }}, sounds {{ plan.setup.sounding_key }}</span>
        <span class="terms">
          <span v-for="term in plan.terms" :key="term.name" :title="`${term.name}: ${term.points}`">{{ term.sentence }} <b>+{{ term.points }}</b></span>
        </span>
        <template v-if="same(plan)">
          <span v-if="plan.shapes.length" class="retune">Frets {{ plan.setup.lowest_fret }} to {{ plan.setup.highest_fret }}. Shapes: {{ shapesOf(plan) }}.</span>
        </template>
        <span v-if="plan.retunings.length" class="retune">
          <template v-for="change in plan.retunings" :key="change.string"
            >String {{ change.string }} {{ change.semitones > 0 ? 'up' : 'down' }} {{ Math.abs(change.semitones) }} to {{ change.pitch }} ({{
              change.tension_percent > 0 ? '+' : '−'
            }}{{ Math.abs(change.tension_percent) }} % tension<template v-if="change.tension_n !== null && change.before_n !== null">, {{ pullWords(change.before_n, settings?.units) }} → {{ pullWords(change.tension_n, settings?.units) }}</template>).
          </template>
        </span>
        <span v-for="change in plan.retunings.filter((one) => one.caution)" :key="`c${change.string}`" class="retune caution">{{ change.caution }}</span>
      </button>
      <span class="end">
        <span class="cost" :title="`Costs ${plan.cost}: less is easier`">{{ plan.cost }}</span>
        <Button class="keep" label="Set up" :aria-label="`Set up: ${named(plan)}`" :disabled="busy" :severity="same(plan) ? undefined : 'secondary'" @click="emit('keep', plan.setup)" />
      </span>
    </li>
    <li v-if="behind" class="behind">
      <button type="button" class="word-button link" @click="all = true">{{ behind }} more {{ behind === 1 ? 'way' : 'ways' }} that players seldom take</button>
    </li>
  </ol>
</template>

<style scoped>
.whole {
  white-space: nowrap;
}
.list {
  list-style: none;
  margin: 0;
  padding: 0;
  background: var(--panel);
  border: 1px solid var(--hairline);
}
li {
  display: flex;
  align-items: center;
  gap: 0.5rem;
  padding-right: 0.6rem;
}
li + li {
  border-top: 1px solid var(--hairline);
}
.way {
  flex: 1;
  min-width: 0;
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 0.1rem 0.9rem;
  align-items: baseline;
  padding: 0.5rem 0.75rem;
  border: 0;
  background: none;
  font: inherit;
  color: var(--ink);
  text-align: left;
  cursor: pointer;
}
.way:hover,
.picked {
  background: var(--spruce-wash);
}
.picked {
  box-shadow: inset 4px 0 0 var(--spruce);
}
.what strong {
  font-family: var(--title-face);
  font-size: 1.1rem;
}
.keys {
  font-size: 0.9rem;
}
.end {
  display: flex;
  align-items: center;
  gap: 0.7rem;
}
.end button {
  white-space: nowrap;
}
.cost {
  font-weight: 700;
  min-width: 1.6rem;
  text-align: right;
}
.terms {
  grid-column: 1 / -1;
  display: flex;
  flex-wrap: wrap;
  gap: 0 0.9rem;
  font-size: 0.8rem;
  color: var(--ink-soft);
}
/* What does not stand in one line is told where the way is picked. */
li:not(.picked) .terms {
  max-height: 1.4em;
  overflow: hidden;
}
.terms b {
  color: var(--ink);
}
.retune {
  grid-column: 1 / -1;
  font-size: 0.8rem;
}
.caution {
  border-left: 4px solid var(--madder);
  background: var(--madder-wash);
  padding: 0.15rem 0.5rem;
}
.behind {
  padding: 0.5rem 0.75rem;
  font-size: 0.9rem;
}
</style>

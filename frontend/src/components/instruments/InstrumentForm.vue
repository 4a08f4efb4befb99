<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, reactive, watch } from 'vue'

import { api, type Instrument, type OwnInstrument } from '@/api/client'
import ProblemNote from '@/components/ProblemNote.vue'
import { useAsked } from '@/composables/useAsked'

/** An instrument of her own: measured, strung, and kept for every tune. With `changing` it is described anew. */
const props = defineProps<{ kinds: Instrument[]; changing: Instrument | null }>()
const emit = defineEmits<{ kept: [instrument: Instrument]; cancel: [] }>()

const HALVES = ['1½', '6½', '8½', '13½']
const made = reactive({ name: '', kind: 'banjo', strings: 5, scale: '667', frets: 22, halves: [] as string[], gauges: '', courses: '', left: false, tuningName: '', open: '' })
const kind = computed(() => props.kinds.find((row) => row.id === made.kind))
const dulcimer = computed(() => made.kind === 'dulcimer')
/** With another number of strings the tunings of its kind do not fit. */
const needsTuning = computed(() => kind.value !== undefined && made.strings !== kind.value.strings)

/** What an instrument of that kind usually is: a start for measuring one's own. */
function likeKind(id: string) {
  const row = props.kinds.find((one) => one.id === id)
  if (!row) return
  Object.assign(made, { kind: id, strings: row.strings, scale: String(row.scale_mm), frets: row.frets, halves: [...row.half_frets], gauges: row.gauges, courses: row.courses.join(' ') })
}

watch(
  () => props.changing,
  (row) => {
    if (!row?.made) {
      made.name = ''
      return likeKind(props.kinds[0]?.id ?? 'banjo')
    }
    const own = row.made
    Object.assign(made, {
      name: own.name, kind: own.kind, strings: own.strings, scale: String(own.scale_mm), frets: own.frets, halves: [...(own.half_frets ?? [])],
      gauges: own.gauges ?? '', courses: (own.courses ?? []).join(' '), left: own.left_handed ?? false, tuningName: own.tuning?.name ?? '', open: own.tuning?.open ?? '',
    })
  },
  { immediate: true },
)

const { problem, busy, ask } = useAsked<Instrument>()
async function keep() {
  const described: OwnInstrument = {
    name: made.name,
    kind: made.kind,
    strings: Number(made.strings) || 0,
    scale_mm: Number(made.scale.replace(',', '.')) || 0,
    frets: Number(made.frets) || 0,
    half_frets: dulcimer.value ? made.halves : [],
    gauges: made.gauges,
    courses: made.courses.split(/\s+/).filter(Boolean).map(Number).filter(Number.isFinite),
    left_handed: made.left,
    tuning: made.open.trim() ? { name: made.tuningName, open: made.open } : null,
  }
  const number = props.changing?.own
  const kept = await ask(() => (number ? api.changeInstrument(number, described) : api.addInstrument(described)))
  if (kept) emit('kept', kept)
}
const wrong = (field: string) => problem.value?.field === field || undefined
</script>

<template>
  <form class="own" aria-labelledby="own-title" @submit.prevent="keep">
    <h2 id="own-title">{{ changing ? `Change ${changing.name}` : 'An instrument of your own' }}</h2>
    <div class="fields">
      <label for="own-name">Name</label>
      <InputText id="own-name" v-model="made.name" placeholder="the workshop’s long-neck banjo" :invalid="wrong('name')" />
      <span id="own-kind-name">Played like a</span>
      <Select :model-value="made.kind" label-id="own-kind" aria-labelledby="own-kind-name" :options="kinds" option-label="name" option-value="id" @update:model-value="likeKind" />
      <label for="own-strings">Strings or courses</label>
      <input id="own-strings" v-model.number="made.strings" type="number" :min="kind?.fewest_strings" :max="kind?.most_strings" :aria-invalid="wrong('strings')" />
      <label for="own-scale">Nut to bridge, mm</label>
      <InputText id="own-scale" v-model="made.scale" inputmode="decimal" :invalid="wrong('scale_mm')" />
      <label for="own-frets">Frets</label>
      <input id="own-frets" v-model.number="made.frets" type="number" min="1" max="36" :aria-invalid="wrong('frets')" />
      <template v-if="dulcimer">
        <span id="own-half">Half frets</span>
        <span class="halves" role="group" aria-labelledby="own-half">
          <label v-for="half in HALVES" :key="half"><input v-model="made.halves" type="checkbox" :value="half" /> {{ half }}</label>
        </span>
      </template>
      <label for="own-gauges">Gauges in mm, bass first</label>
      <InputText id="own-gauges" v-model="made.gauges" placeholder="0.254 0.51w 0.33 0.28 0.254" :invalid="wrong('gauges')" />
      <label for="own-courses">Strings in each course</label>
      <InputText id="own-courses" v-model="made.courses" placeholder="2 2 2 2, from string 1; empty for single strings" :invalid="wrong('courses')" />
      <span></span>
      <label><input v-model="made.left" type="checkbox" /> left-handed</label>
      <label for="own-open">{{ needsTuning ? 'Open strings, bass first' : 'Its own first tuning' }}</label>
      <InputText id="own-open" v-model="made.open" placeholder="G4 D3 G3 B3 D4; empty for those of its kind" :invalid="wrong('open')" />
      <template v-if="made.open.trim()">
        <label for="own-tuning-name">Tuning’s name</label>
        <InputText id="own-tuning-name" v-model="made.tuningName" placeholder="the way it came" />
      </template>
    </div>
    <p class="quiet small">Gauges: w for a wound string, n for nylon, nw for nylon wound with metal. They are for the pull in newtons only.</p>
    <ProblemNote v-if="problem" :problem="problem" />
    <div class="tool-row">
      <Button type="submit" :label="changing ? 'Keep the change' : 'Keep it'" :disabled="busy" />
      <Button label="Cancel" severity="secondary" text @click="emit('cancel')" />
    </div>
  </form>
</template>

<style scoped>
.own {
  display: flex;
  flex-direction: column;
  gap: 0.7rem;
  background: var(--panel);
  border: 1px solid var(--hairline);
  padding: 1rem 1.25rem;
  max-width: 640px;
}
.fields {
  display: grid;
  grid-template-columns: 12rem 1fr;
  gap: 0.45rem 0.75rem;
  align-items: center;
}
input[type='number'] {
  width: 5rem;
  font: inherit;
  padding: 0.35rem 0.5rem;
  border: 1px solid var(--string);
  border-radius: 2px;
  background: var(--panel);
  color: var(--ink);
}
input[aria-invalid='true'] {
  border-color: var(--madder);
}
.halves {
  display: flex;
  gap: 0.8rem;
}
.small {
  font-size: 0.85rem;
}
</style>

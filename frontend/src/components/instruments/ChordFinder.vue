<script setup lang="ts">
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, reactive, watch } from 'vue'

import type { BareNeck, Instrument } from '@/api/client'
import { api } from '@/api/client'
import HandCaution from '@/components/HandCaution.vue'
import NeckDrawing from '@/components/NeckDrawing.vue'
import { placesAsMarks, shapeAsMarks } from '@/components/neckMarks'
import ProblemNote from '@/components/ProblemNote.vue'
import { useAsked } from '@/composables/useAsked'
import { useSettings } from '@/composables/useSettings'
import { HANDS, useShapes } from '@/composables/useShapes'
import ShapeRow from './ShapeRow.vue'

/** Any chord in any tuning, as shapes; or every place of a note. Both on the neck to scale. */
const props = defineProps<{ instrument: Instrument }>()

const { settings } = useSettings()
const wanted = reactive({ tuning: '', capo: 0, chord: 'G', hand: (settings.value?.hand ?? 'medium') as string, note: '' })
watch(() => props.instrument.id, () => Object.assign(wanted, { tuning: props.instrument.tunings[0]!.id, capo: 0 }), { immediate: true })

const tunings = computed(() => props.instrument.tunings.map((row) => ({ label: row.name === row.id ? row.name : `${row.name} · ${row.id}`, value: row.id })))
const capos = computed(() => props.instrument.capos.map((fret) => ({ label: fret ? `fret ${fret}` : 'no capo', value: fret })))
const hands = HANDS.map((hand) => ({ label: hand, value: hand }))

const { found, problem, picked, shape } = useShapes(
  computed(() => props.instrument.id),
  computed(() => ({ tuning: wanted.tuning, capo: wanted.capo, fifth: null, chord: wanted.chord.trim(), hand: wanted.hand, most: 10 })),
)
const neck = useAsked<BareNeck>()
/** The note that is looked for; without one the string nearest the floor shows the neck. */
const note = computed(() => wanted.note.trim() || (props.instrument.tunings.find((row) => row.id === wanted.tuning)?.strings[0] ?? ''))
const placesProblem = computed(() => (wanted.note.trim() ? neck.problem.value : null))
watch(
  [note, () => wanted.tuning, () => wanted.capo, () => props.instrument.id],
  () => note.value && void neck.ask(() => api.places(props.instrument.id, { tuning: wanted.tuning, capo: wanted.capo, fifth: null, pitch: note.value.replace('♯', '#').replace('♭', 'b') })),
  { immediate: true },
)
const marks = computed(() => {
  if (!neck.answer.value) return []
  if (wanted.note.trim()) return placesAsMarks(neck.answer.value.places)
  return shape.value ? shapeAsMarks(shape.value, neck.answer.value) : []
})
const strained = computed(() => found.value?.shapes.some((one) => one.barres.length > 0 || one.fingers > 3) ?? false)
</script>

<template>
  <section class="finder" aria-label="Chords and notes on the neck">
    <div class="ask">
      <label><span id="finder-tuning">Tuning</span><Select v-model="wanted.tuning" :options="tunings" option-label="label" option-value="value" size="small" aria-labelledby="finder-tuning" /></label>
      <label v-if="instrument.highest_capo"><span id="finder-capo">Capo</span><Select v-model="wanted.capo" :options="capos" option-label="label" option-value="value" size="small" aria-labelledby="finder-capo" /></label>
      <label>Chord, as the hands play it<InputText v-model="wanted.chord" size="small" class="short" /></label>
      <label><span id="finder-hand">Hand</span><Select v-model="wanted.hand" :options="hands" option-label="label" option-value="value" size="small" aria-labelledby="finder-hand" /></label>
      <label>Or every place of a note<InputText v-model="wanted.note" size="small" class="short" placeholder="D or D4" /></label>
    </div>
    <NeckDrawing v-if="neck.answer.value" :neck="neck.answer.value" :marks="marks" :what="wanted.note ? `every ${wanted.note}` : `the chord ${wanted.chord}`" />
    <ProblemNote v-if="placesProblem" :problem="placesProblem" />
    <ProblemNote v-if="problem" :problem="problem" />
    <template v-else-if="found">
      <h2>
        {{ found.shape_name }}<span v-if="found.sounding_name !== found.shape_name" class="quiet sounding"> sounds {{ found.sounding_name }}</span>
      </h2>
      <p v-if="!found.shapes.length" class="quiet">No hand of that size holds this chord here. Try a larger hand, another tuning, or the chord without its seventh.</p>
      <ShapeRow :shapes="found.shapes" :name="found.shape_name" :picked="picked" :left-handed="instrument.left_handed" @pick="picked = $event" />
      <HandCaution v-if="strained" />
    </template>
  </section>
</template>

<style scoped>
.finder {
  display: flex;
  flex-direction: column;
  gap: 0.7rem;
}
.ask {
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem 0.9rem;
  align-items: flex-end;
}
.ask label {
  display: flex;
  flex-direction: column;
  font-size: 0.875rem;
}
.short {
  width: 9rem;
}
.sounding {
  font-weight: 400;
  font-size: 0.95rem;
}
</style>

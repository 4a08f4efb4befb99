<script setup lang="ts">
import Select from 'primevue/select'
import { computed, ref, watch } from 'vue'

import type { Instrument, SetupAnswer, Shape } from '@/api/client'
import HandCaution from '@/components/HandCaution.vue'
import ShapeRow from '@/components/instruments/ShapeRow.vue'
import ProblemNote from '@/components/ProblemNote.vue'
import { useSettings } from '@/composables/useSettings'
import { HANDS, useShapes } from '@/composables/useShapes'

/** Below the neck: the tune's notes, or one of its chords with every shape a hand can hold here. */
const props = defineProps<{ instrument: Instrument; setup: SetupAnswer; chords: string[] }>()
const emit = defineEmits<{ show: [shape: Shape | null] }>()

const chord = ref('')
const { settings } = useSettings()
const hand = ref<string>(settings.value?.hand ?? 'medium')
const hands = HANDS.map((one) => ({ label: `${one} hand`, value: one }))
watch([() => props.setup.tuning, () => props.setup.capo, () => props.instrument.id, () => props.chords], () => {
  if (!props.chords.includes(chord.value)) chord.value = ''
})

const { found, problem, picked, shape } = useShapes(
  computed(() => props.instrument.id),
  computed(() => (chord.value ? { tuning: props.setup.tuning, capo: props.setup.capo, fifth: props.setup.fifth, chord: chord.value, hand: hand.value, most: 8 } : null)),
)
watch([shape, chord], () => emit('show', chord.value ? shape.value : null))
const strained = computed(() => Boolean(shape.value && (shape.value.barres.length || shape.value.fingers > 3)))
</script>

<template>
  <div class="shown">
    <div class="tool-row" role="group" aria-label="Shown on the neck">
      <span class="quiet">On the neck:</span>
      <button type="button" :aria-pressed="chord === ''" @click="chord = ''">the tune’s notes</button>
      <button v-for="name in chords" :key="name" type="button" :aria-pressed="chord === name" @click="chord = name">{{ name }}</button>
      <Select v-if="chord" v-model="hand" :options="hands" option-label="label" option-value="value" size="small" aria-label="Hand" />
      <span v-else class="quiet">Filled: where the bare melody is played. Open: the same notes elsewhere.</span>
      <span v-if="chord && found && found.sounding_name !== found.shape_name" class="quiet">sounds {{ found.sounding_name }}</span>
    </div>
    <template v-if="chord">
      <ProblemNote v-if="problem" :problem="problem" />
      <ShapeRow v-else-if="found" :shapes="found.shapes" :name="found.shape_name" :picked="picked" :left-handed="instrument.left_handed" @pick="picked = $event" />
      <HandCaution v-if="strained" />
    </template>
  </div>
</template>

<style scoped>
.shown {
  display: flex;
  flex-direction: column;
  gap: 0.4rem;
}
button {
  font: inherit;
  padding: 0.1rem 0.55rem;
  border: 1px solid var(--string);
  background: var(--panel);
  color: var(--ink);
  cursor: pointer;
}
button[aria-pressed='true'] {
  background: var(--spruce);
  border-color: var(--spruce);
  color: var(--on-spruce);
}
</style>

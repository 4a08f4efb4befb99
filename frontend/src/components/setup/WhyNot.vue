<script setup lang="ts">
import Button from 'primevue/button'
import Select from 'primevue/select'
import { computed, reactive, watch } from 'vue'

import type { Instrument, Problem } from '@/api/client'
import ProblemNote from '@/components/ProblemNote.vue'

/** Why a setup that was expected is not the first answer. */
const props = defineProps<{ instrument: Instrument; said: string; problem: Problem | null }>()
const emit = defineEmits<{ ask: [tuning: string, capo: number] }>()

const expected = reactive({ tuning: '', capo: 0 })
watch(() => props.instrument.id, () => Object.assign(expected, { tuning: '', capo: 0 }))
const tunings = computed(() => props.instrument.tunings.map((row) => ({ label: row.name === row.id ? row.name : `${row.name} · ${row.id}`, value: row.id })))
const capos = computed(() => props.instrument.capos.map((fret) => ({ label: fret ? `capo ${fret}` : 'no capo', value: fret })))
</script>

<template>
  <form class="why" @submit.prevent="expected.tuning && emit('ask', expected.tuning, expected.capo)">
    <span>Why not</span>
    <Select v-model="expected.tuning" :options="tunings" option-label="label" option-value="value" size="small" placeholder="tuning" aria-label="Expected tuning" />
    <Select v-if="instrument.highest_capo" v-model="expected.capo" :options="capos" option-label="label" option-value="value" size="small" aria-label="Expected capo" />
    <Button type="submit" label="?" size="small" severity="secondary" aria-label="Why not?" :disabled="!expected.tuning" />
    <span v-if="said" role="status">{{ said }}</span>
    <ProblemNote v-if="problem" :problem="problem" />
  </form>
</template>

<style scoped>
.why {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.5rem;
  font-size: 0.9rem;
}
</style>

<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { reactive } from 'vue'
import { useRouter } from 'vue-router'

import { api, type TuneDetail } from '@/api/client'
import ProblemNote from '@/components/ProblemNote.vue'
import { useAsked } from '@/composables/useAsked'

/** A tune from the head: its name, key and metre, then the desk. */
const router = useRouter()
const blank = reactive({ title: '', key: 'G', metre: '4/4' })
const { problem, busy, ask } = useAsked<TuneDetail>()
const KEYS = ['G', 'D', 'A', 'C', 'F', 'Bb', 'E', 'Am', 'Em', 'Dm', 'Bm', 'Ador', 'Edor', 'Ddor', 'Gdor', 'Amix', 'Dmix', 'Gmix', 'Emix']
const MODES: Record<string, string> = { m: ' minor', dor: ' dorian', mix: ' mixolydian', '': ' major' }
const keys = KEYS.map((value) => {
  const [, tonic = '', mode = ''] = /^([A-G]b?)(.*)$/.exec(value) ?? []
  return { value, label: tonic.replace('b', '♭') + MODES[mode] }
})
const METRES = ['4/4', '2/2', '2/4', '3/4', '6/8', '9/8', '12/8', '5/8', '7/8', '2+2+2+3/8', '10/8', 'none']

async function write() {
  const written = await ask(() => api.writeNew({ ...blank }))
  if (written) await router.push({ name: 'tune', params: { tuneId: written.id } })
}
</script>

<template>
  <form class="new" aria-labelledby="new-title" @submit.prevent="write">
    <h2 id="new-title">Write a tune</h2>
    <InputText v-model="blank.title" placeholder="Title" aria-label="Title of the new tune" maxlength="200" />
    <div class="row">
      <Select v-model="blank.key" :options="keys" option-label="label" option-value="value" aria-label="Key of the new tune" />
      <Select v-model="blank.metre" :options="METRES" aria-label="Metre of the new tune" />
      <Button type="submit" label="Write" :disabled="!blank.title.trim() || busy" />
    </div>
    <ProblemNote v-if="problem" :problem="problem" />
  </form>
</template>

<style scoped>
.new {
  display: flex;
  flex-direction: column;
  gap: 0.6rem;
}
.row {
  display: flex;
  gap: 0.4rem;
}
.row :deep(.p-select) {
  flex: 1;
  min-width: 0;
}
</style>

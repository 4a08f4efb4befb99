<script setup lang="ts">
import { useStorage, useStyleTag } from '@vueuse/core'
import Button from 'primevue/button'
import SelectButton from 'primevue/selectbutton'
import { computed, onMounted, watch } from 'vue'
import { RouterLink, useRoute } from 'vue-router'

import { api, type Sheet } from '@/api/client'
import ProblemNote from '@/components/ProblemNote.vue'
import TabMarks from '@/components/TabMarks.vue'
import { useAsked } from '@/composables/useAsked'
import { idFrom } from '@/router'

const route = useRoute()
const setupId = computed(() => idFrom(route.params.setupId))
const { answer: sheet, problem, ask } = useAsked<Sheet>()
const paper = useStorage('nailhead-paper', 'A4')
const fingers = useStorage('nailhead-fingers', false)

const papers = ['A4', 'Letter']
const fingerChoices = [
  { label: 'No fingers', value: false },
  { label: 'Left-hand fingers', value: true },
]
const exports = [
  ['text', 'Text tab'],
  ['musicxml', 'MusicXML'],
  ['json', 'JSON'],
] as const

const load = () => ask(() => api.sheet(setupId.value, paper.value, fingers.value))
onMounted(load)
watch([paper, fingers], load)

// The page box of the printer is the page of the sheet, so that nothing is scaled or cut off.
const { css } = useStyleTag('')
watch(sheet, (laid) => {
  if (laid) css.value = `@page { size: ${laid.width}mm ${laid.height}mm; margin: 0 }`
})
const print = () => window.print()
</script>

<template>
  <main class="sheet-view">
    <Teleport to="#masthead-place">
      <RouterLink to="/">Tunes</RouterLink>
      <RouterLink :to="{ name: 'ladder', params: { setupId } }">Ladder</RouterLink>
      <strong>Sheet</strong>
      <span class="gap"></span>
      <SelectButton v-model="paper" :options="papers" :allow-empty="false" size="small" aria-label="Paper" />
      <SelectButton
        v-model="fingers"
        :options="fingerChoices"
        option-label="label"
        option-value="value"
        :allow-empty="false"
        size="small"
        aria-label="Fingers"
      />
      <a v-for="[name, label] in exports" :key="name" :href="api.exportAddress(setupId, name)" download>{{ label }}</a>
      <Button label="Print" size="small" @click="print" />
    </Teleport>
    <ProblemNote v-if="problem" :problem="problem" />
    <div v-if="sheet" class="pages">
      <svg
        v-for="(page, index) in sheet.pages"
        :key="index"
        class="page"
        role="img"
        :aria-label="`${sheet.title}, page ${index + 1} of ${sheet.pages.length}`"
        :viewBox="`0 0 ${sheet.width} ${sheet.height}`"
        :style="{ '--w': `${sheet.width}mm`, '--h': `${sheet.height}mm` }"
      >
        <TabMarks :marks="page.marks" />
      </svg>
    </div>
  </main>
</template>

<style scoped>
.gap {
  flex: 1;
}
.pages {
  display: flex;
  flex-direction: column;
  align-items: center;
  gap: 1.25rem;
  padding: 1.25rem;
}
.page {
  background: #ffffff;
  width: min(100%, 920px);
  border: 1px solid var(--hairline);
}
@media print {
  .pages {
    display: block;
    padding: 0;
  }
  .page {
    display: block;
    border: 0;
    width: var(--w);
    height: var(--h);
    break-after: page;
    break-inside: avoid;
  }
  .page:last-child {
    break-after: auto;
  }
}
</style>

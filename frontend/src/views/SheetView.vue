<script setup lang="ts">
import { onKeyStroke, useEventListener, useStyleTag } from '@vueuse/core'
import Button from 'primevue/button'
import { onMounted, ref, watch } from 'vue'
import { RouterLink, useRoute } from 'vue-router'

import ProblemNote from '@/components/ProblemNote.vue'
import WaitingNote from '@/components/WaitingNote.vue'
import SheetExports from '@/components/sheet/SheetExports.vue'
import SheetOptions from '@/components/sheet/SheetOptions.vue'
import SheetStand from '@/components/sheet/SheetStand.vue'
import { useSheet } from '@/composables/useSheet'
import { idFrom } from '@/router'

const route = useRoute()
const setupId = ref(idFrom(route.params.setupId))
const { sheet, problem, load, show, printed } = useSheet(setupId)
onMounted(load)

// The page box of the printer is the page of the sheet, so that nothing is scaled or cut off.
const { css } = useStyleTag('')
watch(sheet, (laid) => {
  if (laid) css.value = `@page { size: ${laid.width}mm ${laid.height}mm; margin: 0 }`
})
const print = () => window.print()
useEventListener(window, 'beforeprint', printed)
const alone = ref(false)
onKeyStroke(['p', 'f'], (event) => {
  const typing = event.target instanceof Element && event.target.closest('input:not([type=checkbox]), select, textarea')
  if (typing || alone.value || event.ctrlKey || event.metaKey || event.altKey) return
  if (event.key === 'p') print()
  // The stand listens from its first moment on; the key that opens it is not for it.
  else setTimeout(() => (alone.value = true))
})
</script>

<template>
  <main class="sheet-view">
    <Teleport to="#masthead-place">
      <RouterLink to="/">Tunes</RouterLink>
      <RouterLink :to="{ name: 'ladder', params: { setupId } }">Ladder</RouterLink>
      <strong>Sheet</strong>
      <RouterLink :to="{ name: 'practice', params: { setupId } }">Practice</RouterLink>
      <span v-if="sheet" class="quiet">{{ sheet.called }}</span>
    </Teleport>
    <ProblemNote v-if="problem" :problem="problem" />
    <WaitingNote v-else-if="!sheet">The sheet is being set …</WaitingNote>
    <div v-if="sheet" class="work">
      <div class="pages">
        <!-- eslint-disable-next-line vue/no-v-html -- drawn by our own server, every text in it escaped -->
        <div v-for="(page, index) in sheet.pages" :key="index" class="paper" :style="{ '--w': `${sheet.width}mm`, '--h': `${sheet.height}mm` }" v-html="page"></div>
      </div>
      <div class="side screen-only">
        <Button label="Print" @click="print" />
        <Button label="Play from it" severity="secondary" title="The pages alone, turned by tap or pedal" @click="alone = true" />
        <SheetOptions :options="sheet.options" :optional="sheet.optional" @show="show" />
        <SheetExports :setup-id="setupId" :sheet="sheet" />
      </div>
    </div>
    <SheetStand v-if="sheet && alone" :pages="sheet.pages" :width="sheet.width" :height="sheet.height" :place="String(setupId)" @leave="alone = false" />
  </main>
</template>

<style scoped>
.work {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 260px;
  gap: 1rem;
  padding: 1rem 1.25rem;
  align-items: start;
}
.pages {
  display: flex;
  flex-direction: column;
  align-items: center;
  gap: 1.25rem;
}
.paper {
  width: min(100%, 920px);
  border: 1px solid var(--hairline);
  background: #ffffff;
}
.paper :deep(svg) {
  display: block;
  width: 100%;
  height: auto;
}
.side {
  position: sticky;
  top: 1rem;
  display: flex;
  flex-direction: column;
  gap: 0.75rem;
}
@media (max-width: 900px) {
  .work {
    grid-template-columns: 1fr;
  }
}
@media print {
  .work {
    display: block;
    padding: 0;
  }
  .pages {
    display: block;
  }
  .paper {
    border: 0;
    width: var(--w);
    height: var(--h);
    break-after: page;
    break-inside: avoid;
  }
  .paper:last-child {
    break-after: auto;
  }
}
</style>

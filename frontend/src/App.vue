<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { RouterLink, RouterView, useRoute, useRouter } from 'vue-router'

import UnsavedNotice from '@/components/UnsavedNotice.vue'
import { safeToLeave, sendBeforeLeaving } from '@/composables/changeQueue'
import { dim } from '@/composables/useDim'
import HelpPanel from '@/help/HelpPanel.vue'

const route = useRoute()
const router = useRouter()
const helping = ref(false)
const setupId = computed(() => (route.params.setupId ? Number(route.params.setupId) : null))
watch(() => route.name, () => (helping.value = false))

/** Back to where one came from; a page that was opened by its address goes to the place above it. */
function back() {
  if (window.history.state?.back) router.back()
  else if (setupId.value !== null && route.name !== 'ladder') void router.push({ name: 'ladder', params: { setupId: setupId.value } })
  else if (route.name !== 'shelf') void router.push({ name: 'shelf' })
}

const TYPING = 'input:not([type=checkbox], [type=range]), textarea, select, [contenteditable], [role=combobox], [role=listbox], [data-own-keys]'
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  const target = event.target instanceof Element ? event.target : null
  if (event.ctrlKey || event.metaKey || event.altKey || target?.closest(TYPING)) return
  const action = { Backspace: back, '?': () => (helping.value = !helping.value), Escape: () => (helping.value = false) }[event.key]
  // A screen that has a use of its own for the key comes first.
  if (action) setTimeout(() => event.defaultPrevented || action())
})

// A page that goes takes what waits along in one request; what would not get through is asked about first.
useEventListener(window, 'beforeunload', (event) => safeToLeave() || event.preventDefault())
useEventListener(window, 'pagehide', sendBeforeLeaving)
</script>

<template>
  <header class="masthead screen-only">
    <RouterLink to="/" class="brand" aria-label="Nailhead, to the shelf">
      <svg viewBox="0 0 30 20" aria-hidden="true">
        <path d="M0 4h30M0 10h30M0 16h30" />
        <circle cx="15" cy="10" r="6.2" />
      </svg>
      <span>Nailhead</span>
    </RouterLink>
    <div id="masthead-place" class="place"></div>
    <RouterLink :to="{ name: 'instruments' }" class="aside instruments">Instruments</RouterLink>
    <RouterLink :to="{ name: 'settings' }" class="aside settings">Settings</RouterLink>
    <button type="button" class="word-button link" :aria-pressed="dim" title="Dark paper for a dark stage" @click="dim = !dim">Dim</button>
    <button type="button" class="word-button link" :aria-expanded="helping" @click="helping = !helping">Help ?</button>
  </header>
  <UnsavedNotice />
  <RouterView v-slot="{ Component, route: shown }">
    <component :is="Component" :key="shown.fullPath.split('?')[0]" />
  </RouterView>
  <HelpPanel v-if="helping" class="screen-only" :route="String(route.name)" :setup-id="setupId" @close="helping = false" />
</template>

<style scoped>
.masthead {
  display: flex;
  align-items: center;
  gap: 1.5rem;
  min-height: var(--masthead);
  padding: 0 1.25rem;
  background: var(--panel);
  border-bottom: 1px solid var(--hairline);
}
.brand {
  display: flex;
  align-items: center;
  gap: 0.55rem;
  font-family: var(--title-face);
  font-weight: 600;
  font-size: 1.2rem;
  color: var(--ink);
  text-decoration: none;
}
.brand svg {
  width: 30px;
  height: 20px;
}
.brand path {
  stroke: var(--string);
  stroke-width: 1;
}
.brand circle {
  fill: var(--brass);
}
.masthead:has(.at-instruments) .instruments,
.masthead:has(.at-settings) .settings {
  display: none;
}
.place {
  display: flex;
  align-items: center;
  gap: 0.75rem;
  flex: 1;
  min-width: 0;
}
/* A narrow page has a second row for what a screen puts here. */
@media (max-width: 1100px) {
  .masthead {
    min-height: 48px;
  }
  .masthead,
  .place {
    gap: 0.2rem 0.8rem;
    flex-wrap: wrap;
  }
}
</style>

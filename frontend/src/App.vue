<script setup lang="ts">
import { RouterLink, RouterView } from 'vue-router'
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
    <RouterLink :to="{ name: 'instruments' }" class="aside">Instruments</RouterLink>
  </header>
  <RouterView v-slot="{ Component, route }">
    <component :is="Component" :key="route.fullPath.split('?')[0]" />
  </RouterView>
</template>

<style scoped>
.masthead {
  display: flex;
  align-items: center;
  gap: 1.5rem;
  height: 48px;
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
.masthead:has(#masthead-place .at-instruments) .aside {
  display: none;
}
.place {
  display: flex;
  align-items: center;
  gap: 0.75rem;
  flex: 1;
  min-width: 0;
}
</style>

<script setup lang="ts">
import { LADDER_KEYS } from '@/composables/useLadderKeys'

/** The keys of the ladder and what they do. */
</script>

<template>
  <section class="side-box keys" aria-label="Keys">
    <h2>Keys</h2>
    <dl>
      <template v-for="[key, what] in LADDER_KEYS" :key="key">
        <dt>{{ key }}</dt>
        <dd>{{ what }}</dd>
      </template>
    </dl>
  </section>
</template>

<style scoped>
.keys {
  order: -1;
}
dl {
  display: grid;
  grid-template-columns: 5.5rem 1fr;
  gap: 0.15rem;
  margin: 0.2rem 0 0;
  font-size: 0.9rem;
}
dt {
  font-weight: 700;
}
dd {
  margin: 0;
}
</style>

<script setup lang="ts">
/** What to heed, a line each. */
defineProps<{ lines: string[] }>()
</script>

<template>
  <p v-for="line in lines" :key="line" class="caution">{{ line }}</p>
</template>

<style scoped>
.caution {
  border-left: 4px solid var(--madder);
  background: var(--madder-wash);
  padding: 0.45rem 0.7rem;
  font-size: 0.875rem;
}
</style>

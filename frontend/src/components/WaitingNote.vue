<script setup lang="ts">
/** What is being waited for, said when it takes longer than a moment. */
</script>

<template>
  <p class="waiting quiet" role="status"><slot /></p>
</template>

<style scoped>
.waiting {
  padding: 1.25rem 0;
  opacity: 0;
  animation: appear 0.2s 0.6s forwards;
}
@keyframes appear {
  to {
    opacity: 1;
  }
}
</style>

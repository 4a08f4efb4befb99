<script setup lang="ts">
/** What to heed where a shape stretches or bars (handbook: hands). */
</script>

<template>
  <p class="caution">
    Barres and stretches are for a hand that is ready for them. Stop at pain, numbness or tingling and see a doctor or physiotherapist; play in short
    sessions with breaks.
  </p>
</template>

<style scoped>
.caution {
  border-left: 4px solid var(--madder);
  background: var(--madder-wash);
  padding: 0.35rem 0.7rem;
  font-size: 0.875rem;
}
</style>

<script setup lang="ts">
import { isUnreachable, type Problem } from '@/api/client'

/** What went wrong, where, and what to do. That the server is away is said once for the whole application. */
defineProps<{ problem: Problem }>()
</script>

<template>
  <div v-if="!isUnreachable(problem)" class="problem" role="alert">
    <strong>{{ problem.detail }}</strong>
    <template v-if="problem.line">{{ ` Line ${problem.line}, column ${problem.column}.` }}</template>
    <template v-if="problem.remedy">{{ ` ${problem.remedy}` }}</template>
  </div>
</template>

<style scoped>
.problem {
  border-left: 4px solid var(--madder);
  background: var(--madder-wash);
  padding: 0.5rem 0.75rem;
}
</style>

<script setup lang="ts">
import { computed } from 'vue'

import { isUnreachable, type Problem } from '@/api/client'
import { connectionLost } from '@/api/connection'

/** What went wrong, where, and what to do. That the server is away is said once; what it missed is said afterwards. */
const props = defineProps<{ problem: Problem }>()
const missed = computed(() => isUnreachable(props.problem))
</script>

<template>
  <div v-if="missed && !connectionLost" class="problem" role="alert">
    <strong>This was not done, because Nailhead was not responding.</strong> Try it again.
  </div>
  <div v-else-if="!missed" class="problem" role="alert">
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

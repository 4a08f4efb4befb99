<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, ref, watchEffect } from 'vue'

import { isUnreachable, type Problem } from '@/api/client'
import { askAgain, connectionLost } from '@/api/connection'
import { dismiss, failures, textUnsaved, unconfirmed, type Failure } from '@/composables/changeQueue'

/** The one place that says that the server is away, and which changes were not made. */
const asking = ref(false)
const waiting = computed(() => {
  const count = unconfirmed.value
  if (!count) return textUnsaved.value ? 'What you typed is not saved yet.' : 'What you see may be out of date.'
  return count === 1 ? '1 change is not saved yet.' : `${count} changes are not saved yet.`
})

async function tryAgain() {
  asking.value = true
  await askAgain()
  asking.value = false
}

/** The outage itself is told once, above. */
const reason = (problem: Problem) => (isUnreachable(problem) ? '' : [problem.detail, problem.remedy].filter(Boolean).join(' '))
function labels({ entries }: Failure) {
  const times = new Map<string, number>()
  for (const { label } of entries) times.set(label, (times.get(label) ?? 0) + 1)
  const named = [...times].map(([label, count]) => (count > 1 ? `${label} (${count} times)` : label))
  return named.length > 4 ? [...named.slice(0, 3), `${named.length - 3} more`].join(', ') : named.join(', ')
}

const notice = ref<HTMLElement | null>(null)
const { height } = useElementSize(notice, undefined, { box: 'border-box' })
watchEffect(() => document.documentElement.style.setProperty('--notices', `${Math.ceil(height.value)}px`))
</script>

<template>
  <div v-if="connectionLost || failures.length" ref="notice" class="unsaved screen-only" role="alert">
    <p v-if="connectionLost">
      <strong>Nailhead is not responding.</strong>
      <span>{{ ` ${waiting}` }}</span>
      <button type="button" class="word-button link" :disabled="asking" @click="tryAgain">Try again</button>
    </p>
    <p v-for="failure in failures" :key="failure.entries[0]?.id">
      <strong>Not saved: {{ labels(failure) }}.</strong>
      <span>{{ ` ${reason(failure.problem)}` }}</span>
      <button v-if="failure.again" type="button" class="word-button link" @click="failure.again()">{{ connectionLost ? 'Save again' : 'Try again' }}</button>
      <button type="button" class="word-button link" @click="dismiss(failure)">Dismiss</button>
    </p>
  </div>
</template>

<style scoped>
.unsaved {
  border-left: 4px solid var(--madder);
  border-bottom: 1px solid var(--hairline);
  background: var(--madder-wash);
  padding: 0.35rem 1rem;
}
.unsaved p {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0.2rem 0.7rem;
  margin: 0;
}
</style>

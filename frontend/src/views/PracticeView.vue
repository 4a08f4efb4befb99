<script setup lang="ts">
import { useStorage } from '@vueuse/core'
import { onMounted, ref, watch } from 'vue'
import { RouterLink, useRoute } from 'vue-router'

import PracticeRoom from '@/components/practice/PracticeRoom.vue'
import TakeHome from '@/components/practice/TakeHome.vue'
import ProblemNote from '@/components/ProblemNote.vue'
import WaitingNote from '@/components/WaitingNote.vue'
import { usePractice } from '@/composables/usePractice'
import { idFrom } from '@/router'

const route = useRoute()
const setupId = ref(idFrom(route.params.setupId))
const size = useStorage('nailhead-practice-size', 'large')
const { room, plan, problem, load, loadRoom, say, wish } = usePractice(setupId, size)
onMounted(load)
watch(size, loadRoom)
</script>

<template>
  <main class="practice-view">
    <Teleport to="#masthead-place">
      <RouterLink to="/">Tunes</RouterLink>
      <RouterLink :to="{ name: 'ladder', params: { setupId } }">Ladder</RouterLink>
      <RouterLink :to="{ name: 'sheet', params: { setupId } }">Sheet</RouterLink>
      <strong>Practice</strong>
      <span v-if="room" class="quiet">{{ room.called }}</span>
    </Teleport>
    <ProblemNote v-if="problem" :problem="problem" />
    <WaitingNote v-else-if="!room || !plan">The room is being made ready …</WaitingNote>
    <template v-if="room && plan">
      <div class="head plain-fields">
        <h1>{{ room.title }}</h1>
        <p class="quiet">{{ room.label }}</p>
        <label class="size">
          <span class="quiet">Tab</span>
          <select v-model="size" aria-label="Size of the tab">
            <option v-for="one in room.sizes" :key="one">{{ one }}</option>
          </select>
        </label>
        <TakeHome :setup-id="setupId" :title="room.title" />
      </div>
      <PracticeRoom :room="room" :plan="plan" :say="say" @wish="wish" />
    </template>
  </main>
</template>

<style scoped>
.practice-view {
  height: calc(100vh - 48px - var(--notices, 0px));
  min-height: 480px;
  padding: 0.45rem 1rem 0.5rem;
  display: flex;
  flex-direction: column;
  gap: 0.4rem;
}
.head {
  display: flex;
  align-items: baseline;
  gap: 0.9rem;
}
.head h1 {
  font-size: 1.4rem;
  white-space: nowrap;
}
.head p {
  font-size: 0.875rem;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.size {
  margin-left: auto;
  display: flex;
  gap: 0.4rem;
  font-size: 0.9rem;
  white-space: nowrap;
}
</style>

<script setup lang="ts">
import type { PreviewTune } from '@/api/client'

/** What a file holds, tune by tune: which are wanted, which one is looked at, which cannot be read and why. */
defineProps<{ tunes: PreviewTune[]; wanted: Set<number>; lookedAt: number }>()
const emit = defineEmits<{ tick: [place: number]; look: [index: number] }>()
</script>

<template>
  <ul class="tunes" :class="{ one: tunes.length === 1 }">
    <li v-for="(tune, index) in tunes" :key="tune.place" :class="{ looked: index === lookedAt, refused: tune.refused }">
      <input v-if="!tune.refused" type="checkbox" :checked="wanted.has(tune.place)" :aria-label="`Bring in ${tune.title}`" @change="emit('tick', tune.place)" />
      <span v-else class="cross" aria-hidden="true">×</span>
      <button type="button" @click="emit('look', index)">
        <span class="title">{{ tune.title }}</span>
        <template v-if="tune.facts">
          <span>{{ tune.facts.key }}, {{ tune.facts.metre }}</span>
          <span class="quiet">{{ tune.facts.bars }} bars, {{ tune.facts.form }}</span>
        </template>
        <span v-if="tune.on_shelf" class="quiet">on the shelf already</span>
        <span v-if="tune.facts?.wrong_bars" class="trouble">{{ tune.facts.wrong_bars }} {{ tune.facts.wrong_bars === 1 ? 'bar' : 'bars' }} to mend</span>
        <span v-if="tune.refused" class="trouble">
          {{ tune.refused.message }} Line {{ tune.refused.line }}, column {{ tune.refused.column }}. {{ tune.refused.remedy }}
        </span>
        <span v-if="tune.left_out.length" class="quiet">{{ tune.left_out.length }} left out</span>
      </button>
    </li>
  </ul>
</template>

<style scoped>
.tunes {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 290px;
  overflow-y: auto;
  background: var(--panel);
  border: 1px solid var(--hairline);
}
.tunes li {
  display: flex;
  align-items: center;
  gap: 0.6rem;
  padding-left: 0.7rem;
  border-bottom: 1px solid var(--hairline);
}
.tunes li:last-child {
  border-bottom: 0;
}
.tunes button {
  flex: 1;
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0 0.9rem;
  padding: 0.35rem 0.5rem 0.35rem 0;
  border: 0;
  background: none;
  font: inherit;
  font-size: 0.9rem;
  color: var(--ink);
  text-align: left;
  cursor: pointer;
}
.looked {
  background: var(--spruce-wash);
}
.title {
  font-family: var(--title-face);
  font-weight: 600;
  font-size: 1.05rem;
}
.trouble {
  color: var(--madder);
}
.cross {
  width: 13px;
  color: var(--madder);
  font-weight: 700;
}
</style>

<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref, watch } from 'vue'

import type { DeskChange, DeskReading } from '@/api/client'

/** How the tune is played: order of the parts, repeats, endings, where parts begin. */
const props = defineProps<{ reading: DeskReading; bar: number }>()
const emit = defineEmits<{ change: [change: DeskChange] }>()

const order = ref(props.reading.order)
watch(() => props.reading.order, (written) => (order.value = written))

const selected = computed(() => props.reading.bars[props.bar])
const label = ref('')
const last = ref<number | null>(null)
const times = ref(2)
const endings = ref('')
watch(
  selected,
  (bar) => {
    label.value = bar?.part ?? ''
    endings.value = bar?.endings.join(', ') ?? ''
    const part = props.reading.parts.find((one) => one.start <= props.bar && props.bar < one.stop)
    last.value = part?.last_bar ?? bar?.number ?? null
    times.value = part && part.times > 1 ? part.times : 2
  },
  { immediate: true },
)

const play = (text: string) => emit('change', { kind: 'order', order: text })
const rename = (place: number, text: string) => emit('change', { kind: 'part', place, label: text })

function repeat(count: number) {
  const end = props.reading.bars.find((bar) => bar.number === Number(last.value))
  if (end) emit('change', { kind: 'repeat', first: props.bar, last: end.place, times: count })
}

function setEnding() {
  const numbers = endings.value.split(/[\s,]+/).filter(Boolean).map(Number)
  if (numbers.every((number) => Number.isInteger(number) && number > 0)) emit('change', { kind: 'endings', place: props.bar, times: numbers })
}
</script>

<template>
  <div class="form-panel">
    <section class="tool" aria-labelledby="order-title">
      <h3 id="order-title">Played</h3>
      <form class="tool-row" @submit.prevent="play(order)">
        <InputText v-model="order" size="small" placeholder="as written" aria-label="Order of the parts" />
        <Button type="submit" label="Set" size="small" />
      </form>
      <p class="quiet">AABB, A2B2 or (AB)2. Empty plays the tune as written.</p>
      <div class="tool-row">
        <Button label="As written" size="small" severity="secondary" @click="play('')" />
        <Button label="Twice through" size="small" severity="secondary" @click="play(reading.order_twice)" />
      </div>
    </section>
    <section class="tool" aria-labelledby="parts-title">
      <h3 id="parts-title">Parts</h3>
      <table>
        <tbody>
          <tr v-for="part in reading.parts" :key="part.start">
            <td><input :value="part.letter" :aria-label="`Name of the part at bar ${part.first_bar}`" @change="rename(part.start, ($event.target as HTMLInputElement).value)" /></td>
            <td>bars {{ part.first_bar }}–{{ part.last_bar }}</td>
            <td>{{ part.times > 1 ? `${part.times} times` : 'once' }}</td>
            <td>{{ part.endings.length ? `endings ${part.endings.map((one) => one.times.join(', ')).join(' | ')}` : '' }}</td>
            <td>{{ part.upbeat ? `pickup ${part.upbeat}` : '' }}</td>
          </tr>
        </tbody>
      </table>
      <p class="quiet">A part named kick-off or ending is played once, first or last.</p>
    </section>
    <section class="tool" v-if="selected" aria-labelledby="bar-title">
      <h3 id="bar-title">Bar {{ selected.number }}, where the cursor is</h3>
      <form class="tool-row" @submit.prevent="rename(bar, label)">
        <label for="part-label">Part begins here:</label>
        <InputText id="part-label" v-model="label" size="small" class="short" />
        <Button type="submit" label="Set" size="small" severity="secondary" />
      </form>
      <form class="tool-row" @submit.prevent="repeat(times)">
        <label for="repeat-last">Repeat from here to bar</label>
        <InputText id="repeat-last" :model-value="String(last ?? '')" size="small" class="short" @update:model-value="last = Number($event)" />
        <input v-model.number="times" class="times" type="number" min="2" max="16" aria-label="How many times" /> times
        <Button type="submit" label="Repeat" size="small" severity="secondary" />
        <Button label="Once" size="small" severity="secondary" text @click="repeat(1)" />
      </form>
      <form class="tool-row" @submit.prevent="setEnding">
        <label for="ending-times">Ending begins here, time</label>
        <InputText id="ending-times" v-model="endings" size="small" class="short" placeholder="none" />
        <Button type="submit" label="Set" size="small" severity="secondary" />
      </form>
    </section>
  </div>
</template>

<style scoped>
.form-panel {
  display: grid;
  grid-template-columns: 17rem minmax(0, 1fr) minmax(0, 1.2fr);
  gap: 1.5rem;
  font-size: 0.9rem;
}
td {
  padding: 0.1rem 0.7rem 0.1rem 0;
}
td input {
  width: 6.5rem;
  border: 1px solid var(--hairline);
  padding: 0.2rem 0.4rem;
  font: 600 1rem var(--title-face);
  color: var(--ink);
  background: var(--panel);
}
.short {
  width: 5.5rem;
}
.times {
  width: 3rem;
  border: 1px solid var(--hairline);
  padding: 0.3rem;
  font: inherit;
}
</style>

<script setup lang="ts">
import { nextTick, ref, watch } from 'vue'
import { RouterLink } from 'vue-router'

import type { ShelfRow } from '@/api/client'
import { whenWords } from './whenWords'

/** The tunes of the shelf, each on one line; heads sort them, ticks gather several. */
const props = defineProps<{ rows: ShelfRow[]; sort: string; descending: boolean; selected: number | null; ticked: ReadonlySet<number> }>()
const emit = defineEmits<{ sort: [column: Column]; select: [id: number]; tick: [id: number]; tickAll: [on: boolean] }>()

const COLUMNS = [
  ['title', 'Tune'],
  ['key', 'Key'],
  ['metre', 'Metre'],
  ['form', 'Form'],
  ['bars', 'Bars'],
  ['range', 'Range'],
  ['setups', 'Set for'],
  ['opened', 'Last'],
] as const
type Column = (typeof COLUMNS)[number][0]
const sortedBy = (column: string) => (props.sort !== column ? 'none' : props.descending ? 'descending' : 'ascending')

const body = ref<HTMLElement | null>(null)
watch(() => props.selected, async () => {
  await nextTick()
  body.value?.querySelector('.selected')?.scrollIntoView({ block: 'nearest' })
})
</script>

<template>
  <table>
    <thead>
      <tr>
        <th scope="col" class="tick">
          <label><input type="checkbox" :checked="rows.length > 0 && rows.every((row) => ticked.has(row.id))" aria-label="Tick all that are listed" @change="emit('tickAll', ($event.target as HTMLInputElement).checked)" /></label>
        </th>
        <th v-for="[column, label] in COLUMNS" :key="column" scope="col" :class="`of-${column}`" :aria-sort="sortedBy(column)">
          <button type="button" @click="emit('sort', column)">
            {{ label }}<span v-if="sort === column" aria-hidden="true">{{ descending ? ' ↓' : ' ↑' }}</span>
          </button>
        </th>
      </tr>
    </thead>
    <tbody ref="body">
      <tr v-for="row in rows" :key="row.id" :class="{ selected: row.id === selected }" @click="emit('select', row.id)">
        <td class="tick" @click.stop>
          <label><input type="checkbox" :checked="ticked.has(row.id)" :aria-label="`Tick ${row.title}`" @change="emit('tick', row.id)" /></label>
        </td>
        <td class="title-cell">
          <RouterLink :to="{ name: 'tune', params: { tuneId: row.id } }" class="title" @focus="emit('select', row.id)">{{ row.title }}</RouterLink>
          <span v-if="row.draft" class="mark">being written</span>
          <span v-else-if="row.wrong_bars" class="mark">{{ row.wrong_bars }} {{ row.wrong_bars === 1 ? 'bar' : 'bars' }} to mend</span>
          <span v-if="row.rhythm" class="quiet rhythm">{{ row.rhythm }}</span>
          <span v-for="tag in row.tags" :key="tag" class="tag">{{ tag }}</span>
        </td>
        <td>{{ row.key }}</td>
        <td>{{ row.metre }}</td>
        <td class="form">{{ row.form }}</td>
        <td class="bars"><span v-if="row.bars" :title="`${row.different_bars} of ${row.bars} bars are different`">{{ row.bars }} <span class="quiet">({{ row.different_bars }})</span></span></td>
        <td class="range">{{ row.lowest }}<template v-if="row.bars"> – </template>{{ row.highest }}</td>
        <td class="for" :title="row.instruments.join(', ')">{{ row.instruments.join(', ') || '–' }}</td>
        <td class="quiet opened">{{ whenWords(row.opened_at) }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: collapse;
  background: var(--panel);
  border: 1px solid var(--hairline);
  table-layout: fixed;
  font-size: 0.94rem;
}
th {
  text-align: left;
  border-bottom: 1px solid var(--hairline);
}
th.of-key {
  width: 8.2rem;
}
th.of-metre {
  width: 6rem;
}
th.of-form {
  width: 5rem;
}
th.of-bars {
  width: 4.6rem;
}
th.of-range {
  width: 6.4rem;
}
th.of-setups {
  width: 9.5rem;
}
th.of-opened {
  width: 6rem;
}
.tick {
  width: 2.2rem;
}
.tick label {
  display: flex;
  justify-content: center;
  padding: 0.35rem 0;
}
.tick input {
  accent-color: var(--spruce);
  margin: 0;
}
th button {
  border: 0;
  background: none;
  width: 100%;
  text-align: left;
  padding: 0.35rem 0.45rem;
  font: inherit;
  font-size: 0.875rem;
  color: var(--ink-soft);
  cursor: pointer;
  white-space: nowrap;
}
th button:hover {
  color: var(--ink);
}
td {
  height: 2.25rem;
  padding: 0 0.45rem;
  border-bottom: 1px solid var(--hairline);
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
tr:last-child td {
  border-bottom: 0;
}
tbody tr {
  cursor: pointer;
}
tbody tr:hover,
tr.selected {
  background: var(--spruce-wash);
}
tr.selected td:first-child {
  box-shadow: inset 4px 0 0 var(--spruce);
}
.title {
  font-family: var(--title-face);
  font-weight: 600;
  font-size: 1.1rem;
  color: var(--ink);
  text-decoration: none;
}
.title:hover {
  text-decoration: underline;
}
.rhythm {
  margin-left: 0.6rem;
  font-size: 0.875rem;
}
.tag {
  margin-left: 0.5rem;
  padding: 0 0.4rem;
  border: 1px solid var(--hairline);
  font-size: 0.8rem;
}
.mark {
  margin-left: 0.6rem;
  color: var(--madder);
  font-size: 0.85rem;
}
/* A narrow page keeps what tells tunes apart. */
@media (max-width: 1400px) {
  .range,
  .of-range {
    display: none;
  }
}
@media (pointer: coarse) {
  .tick {
    width: 3.2rem;
    padding: 0;
  }
  .tick label {
    display: flex;
    padding: 0;
  }
}
@media (max-width: 1050px) {
  .rhythm,
  .form,
  .of-form,
  .bars,
  .of-bars {
    display: none;
  }
}
@media (max-width: 900px) {
  .for,
  .of-setups,
  .tag,
  .opened,
  .of-opened {
    display: none;
  }
  th.of-key {
    width: 7.6rem;
  }
}
</style>

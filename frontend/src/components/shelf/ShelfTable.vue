<script setup lang="ts">
import { RouterLink } from 'vue-router'

import type { ShelfRow } from '@/api/client'

/** The tunes of the shelf, one a row; its heads sort them. */
const props = defineProps<{ rows: ShelfRow[]; sort: string; descending: boolean; selected: number | null }>()
const emit = defineEmits<{ sort: [column: Column]; select: [id: number] }>()

const COLUMNS = [
  ['title', 'Tune'],
  ['key', 'Key'],
  ['metre', 'Metre'],
  ['form', 'Form'],
  ['different', 'Bars'],
  ['range', 'Range'],
  ['setups', 'Set for'],
] as const
type Column = (typeof COLUMNS)[number][0]
const sortedBy = (column: string) => (props.sort !== column ? 'none' : props.descending ? 'descending' : 'ascending')
</script>

<template>
  <table>
    <thead>
      <tr>
        <th v-for="[column, label] in COLUMNS" :key="column" scope="col" :aria-sort="sortedBy(column)">
          <button type="button" @click="emit('sort', column)">
            {{ label }}<span v-if="sort === column" aria-hidden="true">{{ descending ? ' ↓' : ' ↑' }}</span>
          </button>
        </th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="row in rows" :key="row.id" :class="{ selected: row.id === selected }" @click="emit('select', row.id)">
        <td>
          <RouterLink :to="{ name: 'tune', params: { tuneId: row.id } }" class="title" @focus="emit('select', row.id)">{{ row.title }}</RouterLink>
          <span v-if="row.rhythm" class="quiet rhythm">{{ row.rhythm }}</span>
          <span v-for="tag in row.tags" :key="tag" class="tag">{{ tag }}</span>
          <span v-if="row.draft" class="mark">being written</span>
          <span v-else-if="row.wrong_bars" class="mark">{{ row.wrong_bars }} {{ row.wrong_bars === 1 ? 'bar' : 'bars' }} to mend</span>
        </td>
        <td>{{ row.key }}</td>
        <td>{{ row.metre }}</td>
        <td class="form">{{ row.form }}</td>
        <td>
          <template v-if="row.bars">{{ row.bars }} <span class="quiet different">({{ row.different_bars }} different)</span></template>
        </td>
        <td>{{ row.lowest }}<template v-if="row.bars"> – </template>{{ row.highest }}</td>
        <td>{{ row.instruments.join(', ') || '–' }}</td>
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
}
th {
  text-align: left;
  border-bottom: 1px solid var(--hairline);
}
th button {
  border: 0;
  background: none;
  width: 100%;
  text-align: left;
  padding: 0.45rem 0.6rem;
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
  padding: 0.5rem 0.6rem;
  border-bottom: 1px solid var(--hairline);
  white-space: nowrap;
}
td:first-child {
  width: 36%;
  white-space: normal;
}
/* Long keys and many instruments take a second line rather than the column beside the table. */
td:nth-child(2),
td:nth-child(5),
td:last-child {
  white-space: normal;
}
.form {
  max-width: 7rem;
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
  font-size: 1.15rem;
  color: var(--ink);
  text-decoration: none;
  white-space: nowrap;
}
.title:hover {
  text-decoration: underline;
}
.rhythm {
  margin-left: 0.6rem;
}
.tag {
  margin-left: 0.5rem;
  padding: 0 0.4rem;
  border: 1px solid var(--hairline);
  font-size: 0.8rem;
  white-space: nowrap;
}
.mark {
  margin-left: 0.6rem;
  color: var(--madder);
  font-size: 0.85rem;
}
</style>

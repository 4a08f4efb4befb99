<script setup lang="ts">
import Button from 'primevue/button'
import { onMounted, useTemplateRef } from 'vue'
import { RouterLink } from 'vue-router'

import { api } from '@/api/client'
import ProblemNote from '@/components/ProblemNote.vue'
import { inWords, useStudio } from '@/composables/useStudio'

const { studio, problem, busy, copy, brought, load, lookIntoFile, lookIntoKept, bringBack, forget } = useStudio()
const picker = useTemplateRef<HTMLInputElement>('picker')

function chosen() {
  const file = picker.value?.files?.[0]
  if (file) void lookIntoFile(file)
}
function leave() {
  forget()
  if (picker.value) picker.value.value = ''
}
async function takeBack() {
  await bringBack()
  if (!copy.value && picker.value) picker.value.value = ''
}
const day = (time: string) =>
  time ? new Date(time).toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' }) : ''
const named = (name: string) => {
  const [, before, date, hour, minute, second] = /^(before-)?(\d{4}-\d\d-\d\d)(?:-(\d\d)(\d\d)(\d\d))?/.exec(name) ?? []
  if (!date) return name
  if (!before) return day(date)
  const at = new Date(`${date}T${hour}:${minute}:${second}Z`)
  return `Kept aside on ${day(at.toISOString())}, ${at.toLocaleTimeString('en-GB')}`
}
const size = (kilobytes: number) => (kilobytes < 1000 ? `${kilobytes} kB` : `${(kilobytes / 1000).toFixed(1)} MB`)
onMounted(load)
</script>

<template>
  <main class="studio plain-fields">
    <Teleport to="#masthead-place">
      <RouterLink to="/">Tunes</RouterLink>
      <strong>Copies</strong>
    </Teleport>
    <h1>Copies of everything</h1>
    <ProblemNote v-if="problem" :problem="problem" />
    <p v-if="brought" class="done" role="status">
      Brought back: {{ inWords(brought.holdings) }}. What was here before is kept aside below, and can be brought back the same way.
      <RouterLink to="/">To the tunes</RouterLink>
    </p>
    <div class="columns">
      <section aria-labelledby="keep">
        <h2 id="keep">Keep a copy</h2>
        <p v-if="studio" class="quiet">One file with {{ inWords(studio.holdings) }}, every step of undo included. You can go on working meanwhile.</p>
        <p><a :href="api.studioCopy" class="link-button" download>Keep a copy</a></p>
        <p><a :href="api.studioReadable" download>The same to read: ABC and JSON in a zip archive</a></p>
        <p v-if="studio" class="quiet file">The data file is {{ studio.file }}</p>
      </section>
      <section aria-labelledby="back">
        <h2 id="back">Bring one back</h2>
        <p class="quiet">You see what is in the copy first. What is here now is kept aside and not lost.</p>
        <input ref="picker" type="file" accept=".sqlite3" aria-label="A copy" :disabled="busy" @change="chosen" />
        <div v-if="copy" class="looked" role="status">
          <p>
            <strong>{{ named(copy.name) }}</strong> holds {{ inWords(copy.holdings) }}<template v-if="copy.holdings.changed_at">, last changed on {{ day(copy.holdings.changed_at) }}</template>.
          </p>
          <p v-if="studio" class="quiet">It takes the place of the {{ inWords(studio.holdings) }} that are here.</p>
          <Button label="Bring it back" size="small" :loading="busy" @click="takeBack" />
          <Button label="Leave it" size="small" severity="secondary" text :disabled="busy" @click="leave" />
        </div>
      </section>
    </div>
    <section v-if="studio" aria-labelledby="own">
      <h2 id="own">Kept beside the data file</h2>
      <p v-if="!studio.copies.length" class="quiet">A copy is made on every day that you work here; the last seven are kept beside the data file.</p>
      <template v-else>
        <p class="quiet">One on every day that you work here, the last seven; and what was kept aside when a copy was brought back.</p>
        <ul class="kept">
          <li v-for="one in studio.copies" :key="one.name">
            <span>{{ named(one.name) }}</span>
            <span class="quiet">{{ size(one.kilobytes) }}</span>
            <Button :label="`Look into it`" :aria-label="`Look into the copy: ${named(one.name)}`" size="small" severity="secondary" text :disabled="busy" @click="lookIntoKept(one.name)" />
          </li>
        </ul>
      </template>
    </section>
  </main>
</template>

<style scoped>
.studio {
  max-width: 860px;
  margin: 0 auto;
  padding: 1.25rem;
  display: flex;
  flex-direction: column;
  gap: 1.25rem;
}
.columns {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 2.5rem;
}
section {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 0.6rem;
}
.file {
  overflow-wrap: anywhere;
  font-size: 0.8125rem;
}
.done {
  background: var(--spruce-wash);
  border-left: 4px solid var(--spruce);
  padding: 0.6rem 0.75rem;
}
.looked {
  border-left: 4px solid var(--brass);
  padding: 0.25rem 0.75rem;
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem 0.75rem;
}
.looked p {
  flex-basis: 100%;
}
.kept {
  list-style: none;
  margin: 0;
  padding: 0;
  width: 100%;
  background: var(--panel);
  border: 1px solid var(--hairline);
}
.kept li {
  display: grid;
  grid-template-columns: 1fr 6rem auto;
  align-items: center;
  gap: 1rem;
  padding: 0.2rem 0.75rem;
  min-height: 2.4rem;
}
.kept li + li {
  border-top: 1px solid var(--hairline);
}
@media (max-width: 720px) {
  .columns {
    grid-template-columns: 1fr;
  }
}
</style>

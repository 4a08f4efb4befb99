<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'

import type { Trouble } from '@/api/client'
import { makeEditor } from './abcEditor'

/** The ABC text of a tune: undo and redo, troubles underlined where they stand, the cursor told. */
const props = defineProps<{ text: string; troubles: Trouble[]; heard: [number, number] | null }>()
const emit = defineEmits<{ 'update:text': [text: string]; cursor: [at: number] }>()

const place = ref<HTMLElement | null>(null)
let editor: ReturnType<typeof makeEditor> | null = null

onMounted(() => {
  editor = makeEditor(place.value!, props.text, 'ABC text of the tune', {
    text: (text) => emit('update:text', text),
    cursor: (at) => emit('cursor', at),
  })
  editor.showTroubles(props.troubles)
})
onBeforeUnmount(() => editor?.destroy())

watch(
  () => props.text,
  (text) => text !== editor?.text() && editor?.replace(text),
)
watch(() => props.troubles, (troubles) => editor?.showTroubles(troubles))
watch(() => props.heard, (heard) => editor?.markHeard(heard))

defineExpose({
  replace: (text: string, at?: number) => editor?.replace(text, at),
  select: (start: number, end: number) => editor?.select(start, end),
  focus: () => editor?.focus(),
  undo: () => editor?.undo(),
  redo: () => editor?.redo(),
})
</script>

<template>
  <div ref="place" class="abc-editor"></div>
</template>

<style>
.abc-editor {
  min-height: 0;
  overflow: hidden;
  display: flex;
}
.abc-editor .cm-editor {
  flex: 1;
  min-width: 0;
  background: var(--panel);
  border: 1px solid var(--hairline);
  font-size: 0.875rem;
}
.abc-editor .cm-editor.cm-focused {
  outline: 2px solid var(--spruce);
  outline-offset: -1px;
}
.abc-editor .cm-scroller {
  font-family: ui-monospace, 'DejaVu Sans Mono', monospace;
  line-height: 1.55;
}
.abc-editor .cm-gutters {
  background: var(--panel);
  color: var(--ink-soft);
  border-right: 1px solid var(--hairline);
  font-size: 0.75rem;
}
.abc-editor .cm-cursor {
  border-left: 2px solid var(--ink);
}
.abc-editor .abc-field {
  color: var(--ink-soft);
}
.abc-editor .abc-chord {
  color: var(--spruce);
  font-weight: 700;
}
.abc-editor .abc-words {
  color: var(--dusk);
}
.abc-editor .abc-soft,
.abc-editor .abc-bar {
  color: var(--ink-soft);
}
.abc-editor .abc-heard {
  background: var(--brass-wash);
  box-shadow: 0 2px 0 var(--brass);
}
.abc-editor .cm-lintRange-error {
  background-image: none;
  border-bottom: 2px solid var(--madder);
  background-color: var(--madder-wash);
}
.abc-editor .cm-lintRange-warning {
  background-image: none;
  border-bottom: 2px dashed var(--madder);
}
.abc-editor .cm-lintRange-info {
  background-image: none;
  border-bottom: 2px dotted var(--ink-soft);
}
.cm-tooltip.cm-tooltip-lint {
  background: var(--panel);
  border: 1px solid var(--hairline);
  color: var(--ink);
  max-width: 26rem;
}
</style>

<script setup lang="ts">
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'

/** Asked before unsaved work would be left behind. */
defineProps<{ what: string }>()
const emit = defineEmits<{ decide: [leave: boolean] }>()
</script>

<template>
  <Dialog :visible="true" modal :header="`${what} is not saved`" :style="{ width: 'min(28rem, 92vw)' }" @update:visible="emit('decide', false)">
    <p>It could not be saved yet. If you leave now, what you typed last is lost.</p>
    <template #footer>
      <Button label="Leave without saving" severity="secondary" @click="emit('decide', true)" />
      <Button label="Stay here" autofocus @click="emit('decide', false)" />
    </template>
  </Dialog>
</template>

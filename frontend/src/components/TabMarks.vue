<script setup lang="ts">
import { computed } from 'vue'

import type { Mark } from '@/api/client'
import { drawing } from './tabMarks'

/** Paints the marks of a layout in millimetres; stands inside an svg element. */
const props = defineProps<{ marks: Mark[] }>()
const svg = computed(() => drawing(props.marks))
</script>

<template>
  <g class="marks" v-html="svg"></g>
</template>

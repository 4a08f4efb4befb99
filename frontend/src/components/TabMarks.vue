<script setup lang="ts">
import { computed } from 'vue'

import type { Mark } from '@/api/client'
import { drawing } from './tabMarks'

/** Paints the marks of a layout in millimetres; stands inside an svg element. */
const props = defineProps<{ marks: Mark[] }>()
const svg = computed(() => drawing(props.marks))
</script>

<template>
  <!-- eslint-disable-next-line vue/no-v-html, vue/no-v-text-v-html-on-component -- numbers and escaped texts only -->
  <g class="marks" v-html="svg"></g>
</template>

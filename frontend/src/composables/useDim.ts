import { useStorage } from '@vueuse/core'
import { watchEffect } from 'vue'

/** Dark paper for a dark stage; it belongs to this device, not to the teacher's settings. */
export const dim = useStorage('nailhead-dim', false)

watchEffect(() => document.documentElement.classList.toggle('dim', dim.value))

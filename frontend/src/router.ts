import { createRouter, createWebHistory } from 'vue-router'

import { api } from '@/api/client'
import { useSettings } from '@/composables/useSettings'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'shelf', component: () => import('./views/ShelfView.vue') },
    { path: '/bring-in', name: 'bring-in', component: () => import('./views/BringInView.vue') },
    { path: '/tunes/:tuneId(\\d+)', name: 'tune', component: () => import('./views/TuneView.vue') },
    { path: '/tunes/:tuneId(\\d+)/setup', name: 'setup', component: () => import('./views/SetupView.vue') },
    { path: '/setups/:setupId(\\d+)', name: 'ladder', component: () => import('./views/LadderView.vue') },
    { path: '/setups/:setupId(\\d+)/sheet', name: 'sheet', component: () => import('./views/SheetView.vue') },
    { path: '/setups/:setupId(\\d+)/practice', name: 'practice', component: () => import('./views/PracticeView.vue') },
    { path: '/settings', name: 'settings', component: () => import('./views/SettingsView.vue') },
    { path: '/copies', name: 'copies', component: () => import('./views/StudioView.vue') },
    { path: '/packet', name: 'packet', component: () => import('./views/PacketView.vue') },
    { path: '/instruments/:instrument?/:tab?', name: 'instruments', component: () => import('./views/InstrumentsView.vue') },
    { path: '/:rest(.*)', redirect: { name: 'shelf' } },
  ],
})

/** The first page of a visit may be where one stopped, where the teacher has settled that; later the shelf is the shelf. */
let begun = false
router.beforeEach(async (to) => {
  if (begun) return
  begun = true
  if (to.name !== 'shelf') return
  const { settings, ready } = useSettings()
  await ready()
  if (settings.value?.first_screen !== 'last ladder') return
  const setup = await api.last().then((last) => last.setup, () => null)
  return setup === null ? undefined : { name: 'ladder', params: { setupId: setup } }
})

/** A number from the address; the routes only match digits. */
export function idFrom(value: string | string[] | undefined): number {
  return Number(Array.isArray(value) ? value[0] : value)
}

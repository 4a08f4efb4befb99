import { createRouter, createWebHistory } from 'vue-router'

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
    { path: '/copies', name: 'copies', component: () => import('./views/StudioView.vue') },
    { path: '/packet', name: 'packet', component: () => import('./views/PacketView.vue') },
    { path: '/instruments/:instrument?/:tab?', name: 'instruments', component: () => import('./views/InstrumentsView.vue') },
    { path: '/:rest(.*)', redirect: { name: 'shelf' } },
  ],
})

/** A number from the address; the routes only match digits. */
export function idFrom(value: string | string[] | undefined): number {
  return Number(Array.isArray(value) ? value[0] : value)
}

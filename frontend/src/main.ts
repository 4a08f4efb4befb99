import '@fontsource/atkinson-hyperlegible/400.css'
import '@fontsource/atkinson-hyperlegible/700.css'
import '@fontsource/noto-sans/400.css'
import '@fontsource/noto-sans/700.css'
import '@fontsource/zilla-slab/500.css'
import '@fontsource/zilla-slab/600.css'
import './styles/tokens.css'
import './styles/base.css'
import './styles/marks.css'

import PrimeVue from 'primevue/config'
import { createApp } from 'vue'

import App from './App.vue'
import { router } from './router'
import { bench } from './styles/theme'

createApp(App)
  .use(router)
  .use(PrimeVue, { theme: { preset: bench, options: { darkModeSelector: '.dim' } } })
  .mount('#app')

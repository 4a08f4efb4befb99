import '@fontsource/atkinson-hyperlegible/latin-400.css'
import '@fontsource/atkinson-hyperlegible/latin-700.css'
import '@fontsource/zilla-slab/latin-500.css'
import '@fontsource/zilla-slab/latin-600.css'
import '@/styles/tokens.css'
import '@/styles/base.css'

import { createApp } from 'vue'

import TakenHome from './TakenHome.vue'

createApp(TakenHome, { taken: JSON.parse(document.getElementById('taken')!.textContent!) }).mount('#app')

import vue from '@vitejs/plugin-vue'
import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vitest/config'

export default defineConfig({
  plugins: [vue()],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  build: { outDir: '../nailhead/web/static', emptyOutDir: true, chunkSizeWarningLimit: 900 },
  test: { environment: 'happy-dom', include: ['tests/**/*.test.ts'] },
  server: { proxy: { '/api': 'http://127.0.0.1:8000' } },
})

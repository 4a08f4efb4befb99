import vue from '@vitejs/plugin-vue'
import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vite'
import { viteSingleFile } from 'vite-plugin-singlefile'

/** The page that a pupil takes home: the practice room as one file, into which the server puts an arrangement. */
export default defineConfig({
  plugins: [vue(), viteSingleFile()],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  build: {
    outDir: '../nailhead/web/static',
    emptyOutDir: false,
    rollupOptions: { input: fileURLToPath(new URL('./take-home.html', import.meta.url)) },
  },
})

import { fileURLToPath } from 'node:url';
import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vite';
import { resultsOf } from '../../scripts/lib/results-of.mjs';

export default defineConfig({
  plugins: [vue()],
  define: { RESULTS_OF: JSON.stringify(resultsOf()) },
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  worker: { format: 'es' },
  server: { proxy: { '/api': 'http://127.0.0.1:4600' } },
  build: { target: 'es2022', chunkSizeWarningLimit: 700, manifest: true },
});

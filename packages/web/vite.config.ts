import { fileURLToPath } from 'node:url';
import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: [vue()],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  worker: { format: 'es' },
  server: { proxy: { '/api': 'http://127.0.0.1:4600' } },
  build: { target: 'es2022', chunkSizeWarningLimit: 700, manifest: true },
});

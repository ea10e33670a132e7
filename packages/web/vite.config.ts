import { createHash } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vite';

/** One name for the computation as it is: of all its sources, and of the versions of what they use. */
function resultsOf(): string {
  const core = new URL('../core/', import.meta.url);
  const sources = readdirSync(new URL('src/', core), { recursive: true, encoding: 'utf8' })
    .filter((file) => file.endsWith('.ts') && !file.endsWith('.test.ts'))
    .sort();
  const hash = createHash('sha256').update(readFileSync(new URL('package.json', core)));
  for (const file of sources) hash.update(file).update(readFileSync(new URL(`src/${file}`, core)));
  return hash.digest('hex').slice(0, 16);
}

export default defineConfig({
  plugins: [vue()],
  define: { RESULTS_OF: JSON.stringify(resultsOf()) },
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  worker: { format: 'es' },
  server: { proxy: { '/api': 'http://127.0.0.1:4600' } },
  build: { target: 'es2022', chunkSizeWarningLimit: 700, manifest: true },
});

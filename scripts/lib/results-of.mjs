import { createHash } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';

/** One name for the computation as it is: of all its sources, and of the versions of what they use. */
export function resultsOf() {
  const core = new URL('../../packages/core/', import.meta.url);
  const sources = readdirSync(new URL('src/', core), { recursive: true, encoding: 'utf8' })
    .filter((file) => file.endsWith('.ts') && !file.endsWith('.test.ts'))
    .sort();
  const hash = createHash('sha256').update(readFileSync(new URL('package.json', core)));
  for (const file of sources) hash.update(file).update(readFileSync(new URL(`src/${file}`, core)));
  return hash.digest('hex').slice(0, 16);
}

import { writeFileSync } from 'node:fs';
import { glossaryText } from '../packages/web/src/lib/glossary';

writeFileSync(new URL('../docs/glossary.md', import.meta.url), glossaryText());

// Writes the document format as JSON Schema to docs/format.
import { writeFileSync } from 'node:fs';
import { machineJsonSchema } from '@yoke/core';

const file = new URL('../docs/format/machine.schema.json', import.meta.url);
writeFileSync(file, `${JSON.stringify(machineJsonSchema(), null, 2)}\n`);

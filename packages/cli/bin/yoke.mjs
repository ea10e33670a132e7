#!/usr/bin/env node
import { buildPrograms } from '../../../scripts/lib/build.mjs';

await buildPrograms();
const { main } = await import(new URL('../dist/main.js', import.meta.url).href);
process.exitCode = await main(process.argv);

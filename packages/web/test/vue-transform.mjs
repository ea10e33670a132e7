// Turns components into what Jest runs: the same compiler as in the build, with the template inlined.
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { transformSync } from '@swc/core';
import { compileScript, compileTemplate, parse, registerTS } from '@vue/compiler-sfc';
import typescript from 'typescript';

// Types of props may stand in other files.
registerTS(() => typescript);
const self = readFileSync(fileURLToPath(import.meta.url));

/** @type {import('@jest/transform').SyncTransformer} */
export default {
  getCacheKey: (source, file, { configString }) =>
    createHash('sha256').update(self).update(source).update(file).update(configString).digest('hex'),
  process(source, filename) {
    const { descriptor, errors } = parse(source, { filename });
    if (errors[0]) throw errors[0];
    const id = createHash('sha256').update(filename).digest('hex').slice(0, 8);
    let code;
    if (descriptor.script || descriptor.scriptSetup)
      code = compileScript(descriptor, { id, inlineTemplate: true, isProd: false }).content;
    else {
      const template = compileTemplate({ id, filename, source: descriptor.template?.content ?? '' });
      code = `${template.code}\nexport default { render };`;
    }
    return transformSync(code, {
      filename: `${filename}.ts`,
      sourceMaps: 'inline',
      jsc: { parser: { syntax: 'typescript' }, target: 'es2022' },
      module: { type: 'commonjs' },
    });
  },
};

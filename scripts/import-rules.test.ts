import { execFileSync } from 'node:child_process';
import { join } from 'node:path';

const root = join(__dirname, '..');

const CASES: [string, string, boolean][] = [
  ['packages/core/src/law/a.ts', "import '../run';", true],
  ['packages/core/src/run/a.ts', "import '../law';", false],
  ['packages/core/src/run/a.ts', "import '../law/library';", true],
  ['packages/core/src/law/a.ts', "import './library';", false],
  ['packages/core/src/law/a.ts', "import 'vue';", true],
  ['packages/core/src/format/a.ts', "import 'node:fs';", true],
  ['packages/server/src/a.ts', "import '@yoke/web';", true],
  ['packages/web/src/a.ts', "import '@yoke/core';", false],
  ['packages/web/src/a.ts', "import '@yoke/server';", true],
];

// ESLint loads its configuration as an ES module, which Jest's sandbox does not take; so it runs beside it.
const LINT = `
  import { ESLint } from 'eslint';
  const eslint = new ESLint();
  const cases = JSON.parse(process.argv[1]);
  const results = await Promise.all(cases.map(([filePath, code]) => eslint.lintText(code, { filePath })));
  console.log(JSON.stringify(results.map(([r]) => r.messages.some((m) => m.ruleId === 'no-restricted-imports'))));
`;

test('imports against the order of the folders are refused, the others pass', () => {
  const output = execFileSync(process.execPath, ['--input-type=module', '-e', LINT, JSON.stringify(CASES)], {
    cwd: root,
    encoding: 'utf8',
  });
  const refused = JSON.parse(output) as boolean[];
  expect(CASES.map(([file, code], i) => [file, code, refused[i]])).toEqual(CASES);
});

// Which folder may import which. ESLint enforces it; scripts/import-rules.test.ts proves that it does.

/** Folders of core, from the ground up: a folder imports only folders that stand before it. */
export const CORE_FOLDERS = [
  'quantity',
  'numeric',
  'law',
  'formula',
  'geometry',
  'solid',
  'geometry-file',
  'machine',
  'motion',
  'mechanism',
  'dynamics',
  'contact',
  'sequence',
  'run',
  'cycle',
  'sizing',
  'format',
];

/** Packages, and what each may not import. */
const PACKAGES = {
  core: ['@yoke/server', '@yoke/web', '@yoke/cli', 'vue', 'express', 'sequelize', 'node:*'],
  server: ['@yoke/web', '@yoke/cli'],
  cli: ['@yoke/web', '@yoke/server'],
  web: ['@yoke/server', '@yoke/cli', 'node:*'],
};

const tests = '**/*.test.ts';

/** @param {object[]} patterns */
const forbid = (patterns) => ({ 'no-restricted-imports': ['error', { patterns }] });

/**
 * @param {string[]} names
 * @returns {{ group?: string[], regex?: string, message: string }}
 */
const foreign = (names) => ({ group: names, message: 'This package must not be imported from here.' });

const insidePackage = Object.entries(PACKAGES).map(([name, names]) => ({
  files: [`packages/${name}/src/**/*.{ts,vue}`],
  ignores: [tests],
  rules: forbid([foreign(names)]),
}));

const insideCore = CORE_FOLDERS.map((folder, i) => {
  const above = CORE_FOLDERS.slice(i + 1);
  const patterns = [
    foreign(PACKAGES.core),
    {
      regex: '^\\.\\./[^/.]+/.+',
      message: 'Import the other folder by its face: its index.ts.',
    },
  ];
  if (above.length > 0)
    patterns.push({
      regex: `^\\.\\./(${above.join('|')})(/|$)`,
      message: `${folder}/ may import only ${CORE_FOLDERS.slice(0, i).join(', ') || 'nothing'}.`,
    });
  return { files: [`packages/core/src/${folder}/**/*.ts`], ignores: [tests], rules: forbid(patterns) };
});

/** ESLint configuration that checks the directions of imports. */
export const importRules = [...insidePackage, ...insideCore];

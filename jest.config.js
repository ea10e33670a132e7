/** @type {import('jest').Config} */
export default {
  testMatch: ['<rootDir>/packages/*/src/**/*.test.ts', '<rootDir>/scripts/**/*.test.ts'],
  testEnvironment: 'node',
  // The API tests share one database and its one catalogue: they go one after the other.
  maxWorkers: 1,
  // No test depends on speed: this only ends one that hangs.
  testTimeout: 600_000,
  // Looked up as a global of a sandbox each of these costs more than what is done with it: a run took five times as long.
  sandboxInjectedGlobals: ['Math', 'Number', 'Object', 'Array', 'Float64Array'],
  // These are published as ES modules only.
  transformIgnorePatterns: [
    '/node_modules/(?!(?:.*/node_modules/)?(pinia|nostics|immer|@vueuse|three|@gltf-transform|property-graph|earcut|@lucide|lodash-es)/)',
  ],
  transform: {
    '^.+\\.vue$': '<rootDir>/packages/web/test/vue-transform.mjs',
    '^.+\\.m?[tj]s$': [
      '@swc/jest',
      { jsc: { parser: { syntax: 'typescript' }, target: 'es2022' }, module: { type: 'commonjs' } },
    ],
  },
  moduleFileExtensions: ['ts', 'mts', 'js', 'mjs', 'cjs', 'json', 'node', 'vue'],
  moduleNameMapper: {
    // Styles have nothing to say to tests.
    '\\.css$': '<rootDir>/packages/web/test/style.cjs',
    '^fast-check$': '<rootDir>/scripts/lib/fast-check.ts',
    '^@yoke/core$': '<rootDir>/packages/core/src/index.ts',
    '^@yoke/core/(.*)$': '<rootDir>/packages/core/src/$1/index.ts',
    '^@/(.*)$': '<rootDir>/packages/web/src/$1',
  },
};

import js from '@eslint/js';
import prettier from 'eslint-config-prettier';
import regexp from 'eslint-plugin-regexp';
import vue from 'eslint-plugin-vue';
import globals from 'globals';
import tseslint from 'typescript-eslint';
import vueParser from 'vue-eslint-parser';
import { importRules } from './scripts/import-rules.mjs';

export default tseslint.config(
  { ignores: ['**/dist/', '**/*.built.mjs', 'var/', 'test-results/', 'playwright-report/'] },
  js.configs.recommended,
  ...tseslint.configs.strict,
  ...vue.configs['flat/recommended'],
  {
    files: ['**/*.vue'],
    languageOptions: { parser: vueParser, parserOptions: { parser: tseslint.parser }, globals: globals.browser },
  },
  { files: ['packages/web/**/*.ts', 'e2e/**/*.ts'], languageOptions: { globals: globals.browser } },
  {
    files: ['**/*.mjs', '*.js', 'scripts/**', 'bench/**', 'packages/server/**', 'packages/cli/**'],
    languageOptions: { globals: globals.node },
  },
  {
    rules: {
      'no-undef': 'off',
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/no-invalid-void-type': 'off',
      '@typescript-eslint/consistent-type-imports': 'error',
      'vue/multi-word-component-names': 'off',
      'vue/require-default-prop': 'off',
      eqeqeq: 'error',
    },
  },
  {
    // No expression may take more than time in proportion to its text: texts come from strangers.
    plugins: { regexp },
    rules: {
      'regexp/no-super-linear-backtracking': ['error', { report: 'potential' }],
      'regexp/no-super-linear-move': ['error', { report: 'potential' }],
    },
  },
  ...importRules,
  prettier,
);

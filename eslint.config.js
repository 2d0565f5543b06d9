import js from '@eslint/js';
import { defineConfig, globalIgnores } from 'eslint/config';
import tseslint from 'typescript-eslint';
import reactHooks from 'eslint-plugin-react-hooks';
import { reactRefresh } from 'eslint-plugin-react-refresh';
import prettier from 'eslint-config-prettier';
import globals from 'globals';

export default defineConfig(
  globalIgnores(['**/dist/', '**/test-results/', 'coverage/', 'web/public/', '**/*.cjs']),
  js.configs.recommended,
  {
    files: ['**/*.{ts,tsx}'],
    extends: [tseslint.configs.strictTypeChecked, tseslint.configs.stylisticTypeChecked],
    // one program for all packages: each of its own would work out the core's types anew; tsc checks them one by one
    languageOptions: { parserOptions: { project: 'tsconfig.lint.json', tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-invalid-void-type': 'off', // RTK Query's build.query<T, void>
      // of a namespace a bundle takes what is used; by this name it takes every language's messages
      'no-restricted-syntax': [
        'error',
        {
          selector: "ImportDeclaration[source.value='zod'] > ImportSpecifier[imported.name='z']",
          message: "import * as z from 'zod'",
        },
      ],
    },
  },
  {
    files: ['web/src/**/*.{ts,tsx}'],
    extends: [reactHooks.configs.flat['recommended-latest'], reactRefresh.configs.vite()],
    rules: { 'react-refresh/only-export-components': 'off' },
  },
  { files: ['**/*.js', '**/*.mjs'], languageOptions: { globals: globals.node } },
  { files: ['web/test/*.js'], languageOptions: { globals: { ...globals.browser, ...globals.node } } },
  prettier,
);

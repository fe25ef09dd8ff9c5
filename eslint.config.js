import js from '@eslint/js';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  { ignores: ['dist/', 'bench/work/', 'node_modules/'] },
  js.configs.recommended,
  {
    files: ['**/*.ts'],
    extends: [...tseslint.configs.strictTypeChecked],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/return-await': ['error', 'error-handling-correctness-only'],
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true, allowNullish: true }],
      '@typescript-eslint/no-confusing-void-expression': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      // Values of the simulated CMS are typed where they are read.
      '@typescript-eslint/no-unnecessary-type-parameters': 'off',
      'max-lines': ['error', { max: 300, skipBlankLines: true, skipComments: true }],
      'max-lines-per-function': ['error', { max: 60, skipBlankLines: true, skipComments: true }],
      'max-params': ['error', 5],
      complexity: ['error', 20],
    },
  },
  { files: ['test/**/*.ts'], rules: { 'max-lines-per-function': 'off', '@typescript-eslint/no-unsafe-assignment': 'off' } },
  { files: ['scripts/*.mjs', 'scripts/*.cjs', '*.js', '.dependency-cruiser.cjs'], languageOptions: { globals: { process: 'readonly', URL: 'readonly', module: 'writable', __dirname: 'readonly' } } },
);

// Lint rules: type-aware where it pays, plus the guide sizes of the house.
import js from '@eslint/js';
import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  {
    ignores: [
      '**/dist/**',
      '**/build/**',
      '**/node_modules/**',
      'test-results/**',
      'data/**',
      'packages/core/src/kernels/assembly/**',
    ],
  },
  js.configs.recommended,
  ...tseslint.configs.recommended,
  {
    files: ['**/*.{ts,tsx}'],
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      'no-console': 'error',
      'max-lines': ['warn', { max: 320, skipBlankLines: true, skipComments: true }],
      'max-lines-per-function': ['warn', { max: 110, skipBlankLines: true, skipComments: true }],
    },
  },
  {
    files: ['apps/web/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
  {
    files: ['**/*.{test,spec}.ts', 'e2e/**/*.ts', 'bench/**/*.ts'],
    rules: { 'max-lines-per-function': 'off', 'no-console': 'off' },
  },
  {
    files: ['**/*.{js,mjs,cjs}'],
    languageOptions: {
      globals: {
        process: 'readonly',
        URL: 'readonly',
        module: 'writable',
        console: 'readonly',
        require: 'readonly',
        __dirname: 'readonly',
      },
    },
  },
);

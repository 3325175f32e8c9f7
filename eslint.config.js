// Lint rules: type-aware where it pays, plus the guide sizes of the house.
import js from '@eslint/js';
import jsdoc from 'eslint-plugin-jsdoc';
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
    // What the core offers says what it computes; @throws and units are read by people.
    files: ['packages/core/src/**/*.ts'],
    ignores: ['packages/core/src/**/*.test.ts', 'packages/core/src/testing/**'],
    plugins: { jsdoc },
    rules: {
      'jsdoc/require-jsdoc': [
        'error',
        {
          publicOnly: true,
          require: { FunctionDeclaration: true, ArrowFunctionExpression: true, ClassDeclaration: true },
        },
      ],
      'jsdoc/require-description': ['error', { contexts: ['ExportNamedDeclaration > FunctionDeclaration'] }],
      'jsdoc/require-throws': 'error',
    },
  },
  {
    files: ['apps/web/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
  {
    files: ['**/*.{test,spec}.{ts,tsx}', 'e2e/**/*.ts', 'bench/**/*.ts'],
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
        globalThis: 'readonly',
        window: 'readonly',
      },
    },
  },
  {
    // These have no other way to import.
    files: ['**/*.cjs'],
    rules: { '@typescript-eslint/no-require-imports': 'off' },
  },
);

import js from '@eslint/js';
import hooks from 'eslint-plugin-react-hooks';
import globals from 'globals';
import ts from 'typescript-eslint';

export default ts.config(
  {
    ignores: [
      'dist/',
      'build/',
      'node_modules/',
      'test-results/',
      'src/core/dsp/kernel/assembly/',
      'src/core/dsp/kernel/code.ts',
      '.dependency-cruiser.cjs',
    ],
  },
  js.configs.recommended,
  ...ts.configs.recommended,
  {
    rules: {
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_', destructuredArrayIgnorePattern: '^_' },
      ],
      '@typescript-eslint/consistent-type-imports': [
        'error',
        { fixStyle: 'inline-type-imports', disallowTypeAnnotations: false },
      ],
      eqeqeq: ['error', 'always', { null: 'ignore' }],
      'no-console': 'error',
      // What is longer, does more than one thing; what is more tangled, is understood by nobody.
      'max-lines': ['error', { max: 400, skipBlankLines: true, skipComments: true }],
      complexity: ['error', 25],
      'max-depth': ['error', 4],
    },
  },
  {
    files: ['src/app/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
  {
    // Browsers that keep nothing throw at the mere name of these: one file asks for them, and falls back on memory.
    files: ['src/**'],
    ignores: ['src/app/document/storage/small.ts', 'src/**/*.test.ts'],
    rules: {
      'no-restricted-globals': [
        'error',
        ...['localStorage', 'sessionStorage'].map((name) => ({
          name,
          message: 'See src/app/document/storage/small.ts.',
        })),
      ],
    },
  },
  {
    files: ['scripts/**', 'bench/**', 'src/server/**'],
    languageOptions: { globals: globals.node },
    rules: { 'no-console': 'off' },
  },
  {
    files: ['src/host/audioWorkletScope.d.ts', 'src/host/{engine,input}Processor.ts'],
    rules: { '@typescript-eslint/triple-slash-reference': 'off' },
  },
);

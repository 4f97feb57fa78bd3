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
    // The audio thread: dispatch and inner loops are written out, for a call for each sample costs time, and a number
    // that is handed over may be put on the heap.
    files: [
      'src/core/effects/{echo,reverb}.ts',
      'src/core/engine/engine.ts',
      'src/core/engine/hands/event.ts',
      'src/core/engine/mix/{effectSlot,mix}.ts',
      'src/core/engine/moving/evaluate.ts',
      'src/core/engine/patch/{notes,starting}.ts',
      'src/core/engine/program/compile/zones.ts',
      'src/core/engine/voice/generators/{grains,synth}.ts',
      'src/host/performance.ts',
    ],
    rules: { complexity: 'off', 'max-depth': ['error', 5] },
  },
  {
    // One noun, the kernel's oscillators of a voice: what is told the kernel, and when.
    files: ['src/core/engine/voice/generators/synth.ts'],
    rules: { 'max-lines': 'off' },
  },
  {
    // Readers go through a format field by field, guesses through what they know: long lists of plain questions.
    files: [
      'src/core/formats/{midiFile,soundFont,wav}.ts',
      'src/core/mapping/{dynamics,names,plan}.ts',
      'src/core/rig/links.ts',
      'src/core/check/rules/unevenFade.ts',
    ],
    rules: { complexity: 'off' },
  },
  {
    // Tables: one entry after another.
    files: ['src/core/rig/{layerParameters,schema}.ts'],
    rules: { 'max-lines': 'off' },
  },
  {
    // Random edits are one switch; the tests of pairing share one server and one clock.
    files: ['src/core/engine/mix/edits.test.ts', 'src/core/rig/edits/mix.test.ts', 'src/server/pairing.test.ts'],
    rules: { complexity: 'off', 'max-lines': 'off' },
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
    // What belongs to a rig when it is compiled is known in one place: nobody forgets what came later.
    files: ['src/**', 'bench/**', 'demo/**'],
    ignores: ['src/core/engine/program/compile.ts'],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector:
            "CallExpression[callee.name='compile'] > ObjectExpression > SpreadElement[argument.property.name='controllers']",
          message: 'Compile in contextOf(rig).',
        },
        {
          selector:
            'JSXOpeningElement[name.name=/^(aside|main|nav|header|footer|article|h[1-6])$/] > JSXAttribute[name.name="role"]',
          message: 'This element means something by itself (WAI-ARIA in HTML): another role belongs to a div.',
        },
        {
          selector: "CallExpression[callee.name='useFrame'] CallExpression[callee.property.name='setAttribute']",
          message: 'What is drawn with every frame is written where it differs: write() of parts/write.',
        },
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

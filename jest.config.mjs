export default {
  roots: ['<rootDir>/src', '<rootDir>/demo', '<rootDir>/scripts', '<rootDir>/bench'],
  testMatch: ['**/*.test.ts'],
  maxWorkers: '100%',
  testEnvironment: 'node',
  // Looked up once for each module instead of at each use, which costs loops over sound most of their time.
  sandboxInjectedGlobals: ['Math'],
  transform: {
    '^.+\\.(ts|tsx|js|mjs)$': [
      '@swc/jest',
      { jsc: { parser: { syntax: 'typescript', tsx: true }, target: 'es2022' }, module: { type: 'commonjs' } },
    ],
  },
  transformIgnorePatterns: [
    '/node_modules/(?!(@noble|pure-rand|ebur128-wasm|@alexanderolsen|idb|pitchy|fft.js|@wasm-audio-decoders|@eshaz|@audio|simple-yenc|codec-parser|spessasynth_core|stb-vorbis|osc-min|d3|d3-[a-z-]+|internmap|delaunator|robust-predicates)/)',
  ],
  // It names itself for those alone who import.
  moduleNameMapper: { '^osc-min$': '<rootDir>/node_modules/osc-min/dist/index.js' },
};

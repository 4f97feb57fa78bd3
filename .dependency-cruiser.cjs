/** Layers only look down: see docs/architecture.md. */
const only = (name, from, allowed, comment) => ({
  name,
  comment,
  severity: 'error',
  from: { path: from, pathNot: '\\.test\\.tsx?$' },
  to: { pathNot: allowed },
});

/** Chapters of the engine, in the order in which a note meets them: each may know those before it. */
const CHAPTERS = ['hands', 'program', 'moving', 'notes', 'voice', 'mix', 'patch'];
const chapters = CHAPTERS.map((chapter, n) => ({
  name: `${chapter}-knows-no-later-chapter`,
  severity: 'error',
  from: { path: `^src/core/engine/${chapter}/`, pathNot: '\\.test\\.ts$' },
  to: { path: `^src/core/engine/((${[...CHAPTERS.slice(n + 1), 'offline', 'pictures'].join('|')})/|[^/]+$)` },
}));

/** Rooms of the application, from the lowest: each may know those before it. */
const ROOMS = ['document', 'listening', 'sound', 'jobs', 'show', 'hands', 'parts', 'views', 'remote'];
const rooms = ROOMS.slice(0, -1).map((room, n) => ({
  name: `${room}-knows-no-room-above`,
  severity: 'error',
  from: { path: `^src/app/${room}/` },
  to: { path: `^src/app/((${ROOMS.slice(n + 1).join('|')})/|[^/]+$)` },
}));

module.exports = {
  forbidden: [
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    only(
      'core-alone',
      '^src/core/',
      [
        '^src/core/',
        'node_modules/(libflacjs|yup|fflate|pure-rand|midi-file|pitchy|fft.js|spessasynth_core|@wasm-audio-decoders|@audio)/',
        '^(libflacjs|yup|fflate|pure-rand|midi-file|pitchy|fft.js|spessasynth_core|@wasm-audio-decoders/flac|@audio/decode-aiff)',
      ],
      'core imports nothing but itself and small pure libraries',
    ),
    only(
      'dsp-knows-no-rig',
      '^src/core/dsp/',
      ['^src/core/dsp/', 'pure-rand', 'fft\\.js'],
      'dsp knows samples and numbers, no rig',
    ),
    only(
      'sounds-know-no-rig',
      '^src/core/sounds/',
      ['^src/core/(sounds|dsp|space)/'],
      'what kinds of sounds are made of stands below the rig',
    ),
    only(
      'music-and-space-alone',
      '^src/core/(music|space)/',
      ['^src/core/(music|space)/'],
      'music and space stand below everything',
    ),
    {
      name: 'engine-knows-no-format',
      severity: 'error',
      from: { path: '^src/core/engine/', pathNot: '\\.test\\.ts$' },
      to: { path: '^src/core/formats/' },
    },
    {
      name: 'rig-knows-no-engine',
      severity: 'error',
      from: { path: '^src/core/rig/' },
      to: { path: '^src/core/(engine|dsp|formats)/' },
    },
    {
      name: 'host-knows-no-app',
      severity: 'error',
      from: { path: '^src/(host|workers)/' },
      to: { path: '^src/(app|server|cli)/' },
    },
    {
      name: 'app-reaches-sound-through-host',
      severity: 'error',
      from: {
        path: '^src/app/',
        pathNot: '^src/app/(sound/session|sound/sampleFetcher|jobs/soundLab|jobs/versionLevels)\\.ts$',
      },
      to: {
        path: ['^src/core/engine/engine\\.ts$', '^src/core/dsp/', '^src/workers/'],
        dependencyTypesNot: ['type-only'],
      },
    },
    {
      name: 'server-and-cli-know-no-app',
      severity: 'error',
      from: { path: '^src/(server|cli)/' },
      to: { path: '^src/(app|host|workers)/' },
    },
    ...chapters,
    ...rooms,
    {
      name: 'no-file-outside-the-rooms',
      severity: 'error',
      from: {},
      to: { path: '^src/app/[^/]+$', pathNot: '^src/app/(main|App)\\.tsx$' },
    },
    {
      name: 'demo-is-data',
      severity: 'error',
      from: { path: '^src/(core|host|workers|app|server)/' },
      to: { path: '^demo/' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'require', 'node', 'default'] },
  },
};

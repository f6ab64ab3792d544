/** The layering of the project, checked by `npm test`; `tests/contract/layering.test.ts` shows that each rule bites. */
const corePackages = [
  'fflate',
  'midi-file',
  'libflacjs',
  'fft.js',
  'pitchy',
  'zod',
  '@audio/decode-aiff',
  '@wasm-audio-decoders/flac',
  '@wasm-audio-decoders/ogg-vorbis',
  'mpg123-decoder',
  'ogg-opus-decoder',
];
const packagePattern = `node_modules/(${corePackages.map((name) => name.replace('.', '\\.')).join('|')})/`;

module.exports = {
  forbidden: [
    { name: 'no-circular', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'core-reaches-no-app',
      comment: 'Computation knows nothing of browser, server or command line.',
      severity: 'error',
      from: { path: '^src/core' },
      to: { path: '^(src/(web|server|cli)|demo)' },
    },
    {
      name: 'core-is-platform-free',
      severity: 'error',
      from: { path: '^src/core', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'core-approved-packages',
      severity: 'error',
      from: { path: '^src/core', pathNot: '\\.test\\.ts$' },
      to: { path: 'node_modules', pathNot: packagePattern },
    },
    {
      name: 'units-and-dsp-at-the-bottom',
      severity: 'error',
      from: { path: '^src/core/(units|dsp)' },
      to: { path: '^src/core/(params|analysis|stretch|document|project|queries|strips|patterns|engine|formats|api)' },
    },
    {
      name: 'settings-know-nothing',
      comment: 'The table of settings is what everything else reads; it reads units only.',
      severity: 'error',
      from: { path: '^src/core/params' },
      to: { path: '^src', pathNot: '^src/core/(params|units)' },
    },
    {
      name: 'kernels-know-nothing',
      comment: 'The innermost loops are told where their numbers lie, and nothing else.',
      severity: 'error',
      from: { path: '^src/core/kernels' },
      to: { path: '.', pathNot: '^src/core/kernels' },
    },
    {
      name: 'analysis-knows-no-document',
      severity: 'error',
      from: { path: '^src/core/(analysis|stretch|formats)' },
      to: { path: '^src/core/(document|project|queries|strips|patterns|engine|api)' },
    },
    {
      name: 'document-knows-no-engine',
      comment: 'What is written down does not depend on how it is played.',
      severity: 'error',
      from: { path: '^src/core/(document|project|queries)', pathNot: '\\.test\\.ts$' },
      to: { path: '^src/core/(engine|api)' },
    },
    {
      name: 'document-below-queries',
      comment: 'What is kept is at the bottom, what is asked of it above, what changes it above that.',
      severity: 'error',
      from: { path: '^src/core/document', pathNot: '\\.test\\.ts$' },
      to: { path: '^src/core/(project|queries|strips|patterns)' },
    },
    {
      name: 'queries-below-commands',
      severity: 'error',
      from: { path: '^src/core/(queries|strips)', pathNot: '\\.test\\.ts$' },
      to: { path: '^src/core/(project|patterns)' },
    },
    {
      name: 'renderer-sees-only-the-plan',
      comment: 'Only engine/plan knows both the document and the plan; what the plan is made of does not.',
      severity: 'error',
      from: {
        path: '^src/core/engine',
        pathNot: '(plan/(?!fragments|packed-values)[a-z-]+|\\.test)\\.ts$',
      },
      to: { path: '^src/core/(document|project|queries|patterns|analysis|api)' },
    },
    {
      name: 'worklets-import-core-only',
      severity: 'error',
      from: { path: '^src/web/worklets' },
      to: { path: '.', pathNot: '^src/(core|web/worklets)|node_modules/(fft\\.js)/' },
    },
    {
      name: 'web-stands-alone',
      severity: 'error',
      from: { path: '^src/web' },
      to: { path: '^src/(server|cli)|^demo' },
    },
    {
      name: 'server-stands-alone',
      severity: 'error',
      from: { path: '^src/server' },
      to: { path: '^src/(web|cli)|^demo' },
    },
    {
      name: 'cli-stands-alone',
      severity: 'error',
      from: { path: '^src/cli' },
      to: { path: '^src/(web|server)|^demo' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'node', 'default', 'types'] },
  },
};

// Unit tests: TypeScript through swc, workspaces from source.
// Where tests find the built kernel module and the built worker: heavy work runs outside the test sandbox, in which every
// look-up of a global is slow. Test processes inherit these.
process.env.BLENDRAK_KERNELS = `${__dirname}/packages/core/build/kernels.wasm`;
process.env.BLENDRAK_WORKER = `${__dirname}/apps/server/dist/worker.js`;
process.env.BLENDRAK_NICENESS = 'off';
// Two test files run at a time: more threads than cores would only read the same code once more each.
process.env.BLENDRAK_THREADS = '1';
process.env.BLENDRAK_CONDUCTOR = `${__dirname}/apps/server/dist/conductor.js`;
process.env.BLENDRAK_CAMERA = `${__dirname}/apps/server/dist/cameraWorker.js`;

module.exports = {
  testEnvironment: 'node',
  roots: ['<rootDir>/packages', '<rootDir>/apps', '<rootDir>/bench'],
  testMatch: ['**/*.test.ts', '**/*.test.tsx'],
  globalSetup: '<rootDir>/scripts/sharedFolder.cjs',
  globalTeardown: '<rootDir>/scripts/sharedFolderEnd.cjs',
  setupFiles: ['<rootDir>/scripts/jsdomGlobals.cjs'],
  setupFilesAfterEnv: ['<rootDir>/scripts/testingLibrary.cjs'],
  testPathIgnorePatterns: ['/node_modules/', '/dist/'],
  transform: {
    '^.+\\.sql$': '<rootDir>/scripts/sqlTransform.cjs',
    'node_modules/(?:p-map|d3-polygon)/.+\\.m?js$': [
      '@swc/jest',
      { jsc: { target: 'es2022' }, module: { type: 'commonjs' } },
    ],
    '^.+\\.tsx?$': [
      '@swc/jest',
      {
        jsc: {
          target: 'es2022',
          parser: { syntax: 'typescript', tsx: true },
          transform: { react: { runtime: 'automatic' } },
        },
        module: { type: 'commonjs' },
      },
    ],
  },
  // What hot loops look up, handed to each module as a parameter: through the sandbox's global it takes many times as long.
  sandboxInjectedGlobals: [
    'Math',
    'Number',
    'Array',
    'Float32Array',
    'Float64Array',
    'Uint8Array',
    'Uint16Array',
    'Int32Array',
    'Set',
    'Map',
  ],
  // Packages that come as modules only.
  transformIgnorePatterns: ['/node_modules/(?!(?:p-map|d3-polygon)/)'],
  moduleFileExtensions: ['ts', 'tsx', 'js', 'mjs', 'cjs', 'json', 'sql'],
  maxWorkers: 2,
  // Worker pools keep their threads warm on purpose; they end with the process.
  forceExit: true,
  testTimeout: 240000,
};

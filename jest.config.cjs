// Unit tests: TypeScript through swc, workspaces from source.
module.exports = {
  testEnvironment: 'node',
  roots: ['<rootDir>/packages', '<rootDir>/apps', '<rootDir>/bench'],
  testMatch: ['**/*.test.ts'],
  testPathIgnorePatterns: ['/node_modules/', '/dist/'],
  transform: {
    '^.+\\.sql$': '<rootDir>/scripts/sqlTransform.cjs',
    '^.+\\.tsx?$': [
      '@swc/jest',
      { jsc: { target: 'es2022', parser: { syntax: 'typescript', tsx: true } }, module: { type: 'commonjs' } },
    ],
  },
  moduleFileExtensions: ['ts', 'tsx', 'js', 'cjs', 'json', 'sql'],
  setupFiles: ['<rootDir>/scripts/jestSetup.cjs'],
  maxWorkers: 2,
  testTimeout: 120000,
};

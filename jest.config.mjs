// @ts-check
/** @type {import('jest').Config} */
const config = {
  testEnvironment: 'node',
  // Tests run as the application does, in plain Node: in a sandbox every mention of a global is a slow look-up, and each
  // file loads all its modules again.
  runner: 'jest-light-runner',
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  transform: {},
  reporters: ['default', '<rootDir>/scripts/lib/timesReporter.mjs'],
  testPathIgnorePatterns: ['/node_modules/', '/tests/e2e/', '/.next/', '/build/', '<rootDir>/data/'],
  modulePathIgnorePatterns: ['<rootDir>/build/', '<rootDir>/.next/', '<rootDir>/data/'],
};
export default config;

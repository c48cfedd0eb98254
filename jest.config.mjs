// @ts-check
/** @type {import('jest').Config} */
const config = {
  testEnvironment: 'node',
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  transform: { '^.+\\.tsx?$': '<rootDir>/scripts/lib/jestTransform.mjs' },
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/src/$1' },
  testPathIgnorePatterns: ['/node_modules/', '/tests/e2e/', '/.next/', '/build/', '<rootDir>/data/'],
  modulePathIgnorePatterns: ['<rootDir>/build/', '<rootDir>/.next/', '<rootDir>/data/'],
  // Only against hanging: shared machines can be many times slower than usual.
  testTimeout: 300_000,
};
export default config;

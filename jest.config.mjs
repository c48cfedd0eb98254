// @ts-check
/** @type {import('jest').Config} */
const config = {
  testEnvironment: 'node',
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  transform: {
    '^.+\\.tsx?$': [
      '@swc/jest',
      {
        jsc: {
          parser: { syntax: 'typescript', tsx: true },
          target: 'es2022',
          transform: { react: { runtime: 'automatic' } },
        },
        module: { type: 'es6' },
      },
    ],
  },
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/src/$1' },
  testPathIgnorePatterns: ['/node_modules/', '/tests/e2e/', '/.next/', '/build/', '/data/'],
  modulePathIgnorePatterns: ['<rootDir>/build/', '<rootDir>/.next/', '<rootDir>/data/'],
  testTimeout: 60_000,
};
export default config;

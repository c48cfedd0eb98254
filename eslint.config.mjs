// @ts-check
import next from 'eslint-config-next';
import prettier from 'eslint-config-prettier';
import tseslint from 'typescript-eslint';

/**
 * The house rule: which room may import from which. A room not listed as allowed is forbidden,
 * also under a relative path.
 * @type {Record<string, string[]>}
 */
const mayImport = {
  core: [],
  demo: ['core'],
  store: ['core'],
  server: ['core', 'store', 'demo'],
  workers: ['core', 'server', 'store'],
  delivery: ['core', 'demo'],
  ui: ['core'],
  app: ['core', 'ui', 'server'],
};

const rooms = Object.keys(mayImport);

const houseRules = rooms.map((room) => {
  const forbidden = rooms.filter((other) => other !== room && !mayImport[room].includes(other));
  const groups = forbidden.flatMap((other) => [`@/${other}/*`, `@/${other}`, `**/../${other}/*`]);
  if (room === 'core' || room === 'demo' || room === 'ui') groups.push('node:*', 'pg', 'fs', 'path');
  if (room === 'core' || room === 'demo') groups.push('react', 'react-dom', 'next/*');
  return {
    files: [`src/${room}/**/*.{ts,tsx}`],
    ignores: ['**/*.test.ts', '**/*.test.tsx'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [{ group: groups, message: `src/${room} may not import this: see docs/architecture.md` }],
        },
      ],
    },
  };
});

const sqlOnlyInStore = {
  files: ['src/**/*.{ts,tsx}'],
  ignores: ['src/store/**', '**/*.test.ts'],
  rules: {
    'no-restricted-syntax': [
      'error',
      {
        selector: 'TemplateElement[value.raw=/^\\s*(SELECT|INSERT INTO|UPDATE|DELETE FROM)\\s/]',
        message: 'SQL stands in src/store only.',
      },
    ],
  },
};

const config = [
  {
    ignores: [
      'node_modules/',
      '.next/',
      'data/',
      'build/',
      'public/built/',
      'next-env.d.ts',
      'test-results/',
    ],
  },
  ...next,
  ...tseslint.configs.recommended,
  prettier,
  {
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': 'error',
      eqeqeq: ['error', 'smart'],
    },
  },
  ...houseRules,
  sqlOnlyInStore,
];

export default config;

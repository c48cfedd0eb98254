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
  contract: ['core'],
  library: ['core', 'contract'],
  words: ['core', 'contract', 'library'],
  demo: ['core', 'contract', 'library'],
  store: ['core', 'contract', 'library'],
  server: ['core', 'contract', 'library', 'store', 'demo', 'words'],
  workers: ['core', 'contract', 'library', 'server', 'store', 'words'],
  delivery: ['core', 'contract', 'demo'],
  ui: ['core', 'contract', 'library', 'words'],
  app: ['core', 'contract', 'ui', 'server'],
};

const rooms = Object.keys(mayImport);
/** They know no Node, DOM, React or database. */
const PURE = ['core', 'contract', 'library', 'words', 'demo'];

const houseRules = rooms.map((room) => {
  const forbidden = rooms.filter((other) => other !== room && !mayImport[room].includes(other));
  const groups = [
    '**/lab/**',
    ...forbidden.flatMap((other) => [`@/${other}/*`, `@/${other}`, `**/../${other}/*`]),
  ];
  if (PURE.includes(room) || room === 'ui') groups.push('node:*', 'pg', 'fs', 'path');
  if (PURE.includes(room)) groups.push('react', 'react-dom', 'next/*');
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

/** The laboratory trains and judges the heart; nothing of the application or its tools needs it. */
const laboratory = [
  {
    files: ['lab/**/*.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              regex: '^@/(?!core/|contract/|library/|demo/)',
              message: 'lab may import core, contract, library and demo only: see docs/architecture.md',
            },
            { group: ['**/src/**', '**/scripts/**'], message: 'by its name (@/…)' },
          ],
        },
      ],
    },
  },
  {
    files: ['scripts/**/*.{ts,mjs}', 'tests/**/*.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        { patterns: [{ group: ['**/lab/**'], message: 'nothing outside lab may import it' }] },
      ],
    },
  },
];

const sqlOnlyInStore = {
  files: ['src/**/*.{ts,tsx}'],
  ignores: ['src/store/**', '**/*.test.ts'],
  rules: {
    'no-restricted-syntax': [
      'error',
      {
        // In templates and plain strings, in whatever case; `update` alone is an English word.
        selector:
          ':matches(TemplateElement[value.raw=/^\\s*(select\\s[^]*\\sfrom\\s|insert\\s+into\\s|update\\s+\\w+\\s+set\\s|delete\\s+from\\s|with\\s+\\w+\\s+as\\s*\\()/i], Literal[value=/^\\s*(select\\s[^]*\\sfrom\\s|insert\\s+into\\s|update\\s+\\w+\\s+set\\s|delete\\s+from\\s|with\\s+\\w+\\s+as\\s*\\()/i])',
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
  ...laboratory,
  sqlOnlyInStore,
];

export default config;

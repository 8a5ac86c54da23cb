import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/** Imports go one way: core knows nothing of web and server, and these two know nothing of each other. */
const forbid = (...patterns) => ({
  'no-restricted-imports': [
    'error',
    {
      patterns: patterns.map((group) => ({
        group: [group],
        message: 'Imports go one way: web → core ← server.',
      })),
    },
  ],
});

export default tseslint.config(
  { ignores: ['**/dist/**', '**/node_modules/**', '.data/**', '.tmp/**'] },
  ...tseslint.configs.recommended,
  {
    rules: {
      eqeqeq: 'error',
      'no-var': 'error',
      'prefer-const': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/no-explicit-any': 'error',
    },
  },
  {
    files: ['core/src/**'],
    rules: forbid(
      '@urnsmith/web*',
      '@urnsmith/server*',
      '**/web/**',
      '**/server/**',
      'react*',
      'three*',
      'node:*',
      'hono*',
      'better-sqlite3',
    ),
  },
  {
    files: ['web/src/**'],
    rules: {
      ...forbid('@urnsmith/server*', '**/server/**', 'node:*', 'hono*', 'better-sqlite3'),
      ...hooks.configs.recommended.rules,
    },
    plugins: { 'react-hooks': hooks },
  },
  { files: ['server/src/**'], rules: forbid('@urnsmith/web*', '**/web/**', 'react*', 'three*') },
);

import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/** Folders from the ground up: each may import those before it, and none after it. */
const ORDER = {
  'core/src': ['mesh', 'births', 'planar', 'spatial', 'schema', 'select', 'inspect', 'shading', 'solid', 'subdivide', 'primitives', 'ops', 'actions', 'cutting', 'steps', 'document', 'formats', 'settings', 'build'], // prettier-ignore
  'web/src': ['api', 'workers', 'viewport', 'state', 'ui', 'hands', 'modes', 'commands', 'app', 'views'],
  'server/src': ['store', 'jobs', 'routes', 'cli'],
};

const restricted = (groups) => ({
  'no-restricted-imports': [
    'error',
    { patterns: groups.map(([group, message]) => ({ group: [group].flat(), message })) },
  ],
});

/** Core knows nothing of web and server, and these two know nothing of each other. */
const across = (...patterns) => patterns.map((p) => [p, 'Imports go one way: web → core ← server.']);

/** One rule set for a part's own files and one for each of its folders; the last that fits a file counts. */
const oneWay = (part, outside) => [
  { files: [`${part}/**`], rules: restricted(outside) },
  ...(ORDER[part] ?? []).map((folder, k, order) => ({
    files: [`${part}/${folder}/**`],
    rules: restricted([
      ...outside,
      ...order.slice(k + 1).map((above) => [
        // The folder by its index too.
        [`**/${above}`, `**/${above}/**`],
        `${folder}/ lies below ${above}/. Move what both need down, or hand it in.`,
      ]),
    ]),
  })),
];

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
  ...oneWay(
    'core/src',
    across('@urnsmith/web*', '@urnsmith/server*', '**/web/**', '**/server/**', 'react*', 'three*', 'node:*', 'hono*', 'better-sqlite3'), // prettier-ignore
  ),
  ...oneWay('web/src', across('@urnsmith/server*', '**/server/**', 'node:*', 'hono*', 'better-sqlite3')),
  ...oneWay('server/src', across('@urnsmith/web*', '**/web/**', 'react*', 'three*')),
  {
    files: ['web/src/**'],
    rules: hooks.configs.recommended.rules,
    plugins: { 'react-hooks': hooks },
  },
);

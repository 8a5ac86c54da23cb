// npm run urnsmith -- …: the command line, also from a fresh clone.
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { ensurePackages, root } from './ensure.mjs';

ensurePackages();
const { status } = spawnSync(
  process.execPath,
  ['--import', 'tsx', join(root, 'server/src/cli/index.ts'), ...process.argv.slice(2)],
  {
    stdio: 'inherit',
    cwd: process.env.INIT_CWD ?? process.cwd(),
    env: { ...process.env, NODE_PATH: join(root, 'node_modules') },
  },
);
process.exit(status ?? 1);

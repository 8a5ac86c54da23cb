// npm run demo: installs, builds, seeds, serves.
import { spawn } from 'node:child_process';
import { buildInterface, ensurePackages, root } from './ensure.mjs';

ensurePackages();
buildInterface();
const server = spawn(process.execPath, ['--import', 'tsx', 'demo/start.ts'], { cwd: root, stdio: 'inherit' });
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
server.on('exit', (code) => process.exit(code ?? 0));

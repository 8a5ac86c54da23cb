// npm run urnsmith -- …: the command line, also from a fresh clone.
import { pathToFileURL } from 'node:url';
import { bundleServer } from '../server/bundle.mjs';
import { ensurePackages } from './ensure.mjs';

ensurePackages();
const cli = `${await bundleServer()}/cli.mjs`;
// Files are named from where the command was typed.
process.chdir(process.env.INIT_CWD ?? process.cwd());
await import(pathToFileURL(cli).href);

// npm run demo: installs, builds, seeds, serves. What is built already is not built again.
import { pathToFileURL } from 'node:url';
import { bundleServer } from '../server/bundle.mjs';
import { buildInterface, ensurePackages } from './ensure.mjs';

ensurePackages();
buildInterface();
await import(pathToFileURL(`${await bundleServer()}/start.mjs`).href);

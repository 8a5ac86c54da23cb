// The job worker for a server that runs from its sources, as tests do; the bundled server has a bundled worker.
import { pathToFileURL } from 'node:url';
import { bundleServer } from '../../bundle.mjs';

await import(pathToFileURL(`${await bundleServer()}/worker.mjs`).href);

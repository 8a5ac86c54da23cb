// npm run shots: remakes docs/screenshots from the demo data.
import { buildInterface, ensureBrowser, ensurePackages, run } from './ensure.mjs';

ensurePackages();
ensureBrowser();
buildInterface();
run(process.execPath, ['--import', 'tsx', 'scripts/takeShots.ts']);

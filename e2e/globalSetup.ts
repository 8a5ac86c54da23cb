/** Ends the browsers of the test workers once all files have run. */
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { bundleServer } from '../server/bundle.mjs';

export async function setup(): Promise<() => Promise<void>> {
  await bundleServer();
  const left = mkdtempSync(join(tmpdir(), 'urnsmith-e2e-'));
  process.env.URNSMITH_E2E_LEFT = left;
  return async () => {
    for (const name of readdirSync(left)) {
      const { url, folder } = JSON.parse(readFileSync(join(left, name), 'utf8')) as {
        url: string;
        folder: string;
      };
      // ChromeDriver ends its browser with itself.
      await fetch(`${url}shutdown`).catch(() => {});
      rmSync(folder, { recursive: true, force: true, maxRetries: 10 });
    }
    rmSync(left, { recursive: true, force: true });
  };
}

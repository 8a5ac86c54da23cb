/** The folder of the checkout, found from the sources and from the bundle alike. */
import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';

export const ROOT = rootAbove(import.meta.dirname);

function rootAbove(folder: string): string {
  if (existsSync(join(folder, 'server/migrations'))) return folder;
  const above = dirname(folder);
  if (above === folder) throw new Error(`No checkout of Urnsmith lies above ${import.meta.dirname}.`);
  return rootAbove(above);
}

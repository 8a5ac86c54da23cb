/** The most memory reading a text takes at any moment, in a process that does nothing else. Run with a file, or asked. */
import { spawnSync } from 'node:child_process';
import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { OperationError } from '../core/src/mesh/errors';
import { readObj } from '../core/src/formats/readObj';

/** The most memory this process ever had, bytes. */
const highWater = (): number =>
  1024 * Number(/VmHWM:\s+(\d+)/.exec(readFileSync('/proc/self/status', 'utf8'))?.[1] ?? NaN);

/** @returns the peak beyond the empty process, the text included, as a multiple of the text */
export function readPeak(text: Uint8Array): number {
  const file = join(tmpdir(), `urnsmith-soak-${process.pid}.obj`);
  writeFileSync(file, text);
  const { stdout } = spawnSync(process.execPath, ['--import', 'tsx', import.meta.filename, file], { encoding: 'utf8' }); // prettier-ignore
  rmSync(file);
  return Number(stdout) / text.length;
}

if (process.argv[1] === import.meta.filename) {
  const before = highWater();
  try {
    readObj(readFileSync(process.argv[2]));
  } catch (e) {
    if (!(e instanceof OperationError)) throw e;
  }
  console.log(highWater() - before);
}

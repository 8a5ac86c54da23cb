/** Ending a build from outside: a number both sides see, where the page may share memory with its workers. */
import type { Fault } from '@urnsmith/core/mesh/errors';

export const STOPPED: Fault = {
  code: 'stopped',
  message: 'Building this piece was stopped; what is shown is older than its numbers.',
  fix: 'Change a number, switch off the slow step, or build it again.',
};

export const isStopped = (flag: Int32Array | null): boolean => flag !== null && Atomics.load(flag, 0) !== 0;

/** Null where the page is not isolated from others, as on an address that is not secure. */
export const newStopFlag = (): Int32Array<SharedArrayBuffer> | null =>
  globalThis.crossOriginIsolated ? new Int32Array(new SharedArrayBuffer(4)) : null;

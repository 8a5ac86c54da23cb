/** A build is made of the same bytes whatever was built before it. The long run of this law is in the soak. */
import fc from 'fast-check';
import { beforeAll, describe, it } from 'vitest';
import { loadKernel } from '../src/solid/kernel';
import { walkedBuilds } from './walkedBuilds';

beforeAll(() => loadKernel());

describe('a build of several cutters', () => {
  it('has the same bytes at every stage, on the way back, and from nothing', () => {
    fc.assert(walkedBuilds(2, 3), { numRuns: 4 });
  });
});

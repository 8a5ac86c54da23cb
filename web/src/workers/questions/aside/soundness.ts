/** Checks the mesh of a built piece for faults. */
import { inspectMesh } from '@urnsmith/core/inspect/inspectMesh';
import type { Finding } from '@urnsmith/core/mesh/checkMesh';
import { defineAside } from './define';

/** Open edges are told with the display; a sheet has them. */
export type Unsound = Array<Pick<Finding, 'code' | 'message' | 'count'>>;

export const soundness = defineAside('soundness', (_: object, { mesh }, watch): { unsound: Unsound } => {
  watch(0);
  const { findings } = inspectMesh(mesh);
  return {
    unsound: findings
      .filter((f) => f.code !== 'open-edge')
      .map(({ code, message, count }) => ({ code, message, count })),
  };
});

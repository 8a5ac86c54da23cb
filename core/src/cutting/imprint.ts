/** The lines where cutters meet a host's surface, as edges of the host. */
import { OperationError } from '../mesh/errors';
import { sizeOf } from '../mesh/measure';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { isClosed, topologyOf } from '../mesh/Topology';
import { TOLERANCE } from '../mesh/tolerance';
import { mergePoints, nearGroups } from '../ops/mergePoints';
import type { Cutter } from '../solid/boolean';
import type { CutMode, CutResult } from '../solid/cutResult';
import { markSound } from '../solid/Solid';
import type { Host, Plain } from './plain';
import { besideEachOther, facesOfCut } from './partOfCut';

/**
 * One cutter after the other: what the host keeps of its faces outside the cutter and inside it, sewn together along the
 * rim.
 * @returns also, per cutter, whether it drew a line
 * @throws OperationError `no-imprint` where the two do not fit together
 */
export function imprinted(
  host: Host,
  cutters: ReadonlyArray<Cutter>,
  plain: Plain,
): { mesh: PolyMesh; drew: boolean[] } {
  const drew: boolean[] = [];
  const all = cutters.reduce((sofar: PolyMesh, cutter) => {
    const mine = (mode: CutMode): CutResult => {
      const r = plain({ ...host, mesh: sofar }, [cutter], mode);
      return facesOfCut(r, (f) => r.operandOfFace[f] === 0);
    };
    const [outside, inside] = [mine('subtract'), mine('intersect')];
    const meets = faceCount(inside.mesh) > 0 && faceCount(outside.mesh) > 0;
    drew.push(meets);
    if (!meets) return sofar;
    const both = besideEachOther([outside, inside]).mesh;
    const mesh = sewn(both, sizeOf(host.mesh) * TOLERANCE.weld);
    if (faceCount(mesh) !== faceCount(both) || (isClosed(sofar) && !isClosed(mesh)))
      throw new OperationError(
        'no-imprint',
        `“${cutter.name}” leaves no clean line on “${host.name}”: their faces lie in each other.`,
        undefined,
        'Move the cutter a little.',
        cutter.id,
      );
    return markSound(mesh);
  }, host.mesh);
  return { mesh: all, drew };
}

/** Points at open edges that lie in one place become one. */
function sewn(mesh: PolyMesh, reach: number): PolyMesh {
  const t = topologyOf(mesh);
  const open = new Set<number>();
  for (let e = 0; e < t.edgeCount; e++)
    if (t.edgeUse[e] === 1) open.add(t.edges[2 * e]).add(t.edges[2 * e + 1]);
  const groups = nearGroups(
    mesh,
    [...open].sort((a, b) => a - b),
    reach,
  ).filter((g) => g.length > 1);
  return groups.length ? mergePoints(mesh, groups).mesh : mesh;
}

/**
 * Open sheets as targets: a closed cutter trims them, and leaves no walls. The sheet is made a thin plate for the kernel,
 * with its own faces as the front; of what comes back only the front is kept, so faces stay where they are exactly.
 */
import { OperationError } from '../mesh/errors';
import { sizeOf } from '../mesh/measure';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';
import { thickened } from '../mesh/thickened';
import { selfCrossings } from '../inspect/selfCross';
import type { Cutter } from '../solid/boolean';
import type { CutMode, CutResult } from '../solid/cutResult';
import { markSound } from '../solid/Solid';
import type { Host, Plain } from './plain';
import { facesOfCut } from './partOfCut';

/** Thickness of the plate, as a share of the sheet's size, tried in turn. */
const THIN = [1e-3, 1e-4, 1e-5];

/** Whether a mesh is a clean sheet: it has open edges, and no others but those of two faces. */
export function isSheet(mesh: PolyMesh): boolean {
  const t = topologyOf(mesh);
  let open = 0;
  for (let e = 0; e < t.edgeCount; e++) {
    if (t.edgeUse[e] === 1) open++;
    else if (t.twin[t.cornerOfEdge[e]] < 0) return false;
  }
  return open > 0;
}

/**
 * @param mode subtract keeps what lies outside the cutters, intersect what lies in all of them
 * @throws OperationError `crossed-operand` where the sheet crosses itself
 */
export function trimmed(
  host: Host,
  cutters: ReadonlyArray<Cutter>,
  mode: Exclude<CutMode, 'union'>,
  plain: Plain,
): CutResult {
  const plate = plateOf(host);
  const cut = plain({ ...host, mesh: plate }, cutters, mode);
  // Faces of the sheet come first in the plate, each followed by its copy turned over and its walls.
  const front = frontsOf(host.mesh);
  const kept = facesOfCut(cut, (f) => cut.operandOfFace[f] === 0 && front.has(cut.sourceFace[f]));
  return { ...kept, sourceFace: kept.sourceFace.map((s) => front.get(s)!) };
}

const plates = new WeakMap<PolyMesh, PolyMesh>();

/** A thin plate whose front is the sheet. */
export function plateOf({ mesh, name, id }: Host): PolyMesh {
  const known = plates.get(mesh);
  if (known) return known;
  const all = Array.from({ length: faceCount(mesh) }, (_, f) => f);
  const size = sizeOf(mesh);
  for (const share of THIN) {
    const plate = thickened(mesh, all, -share * size, 0).out.mesh;
    if (selfCrossings(plate).edges.length) continue;
    plates.set(mesh, markSound(plate));
    return plate;
  }
  const { edges } = selfCrossings(mesh);
  throw new OperationError(
    'crossed-operand',
    `“${name}” cannot be trimmed: it crosses itself, or folds back on itself.`,
    edges.length ? { domain: 'edge', indices: edges } : undefined,
    'Pull its faces apart first.',
    id,
  );
}

/** The face of a sheet each front face of its plate is; in the plate, each is followed by its back and its walls. */
function frontsOf(sheet: PolyMesh): Map<number, number> {
  const t = topologyOf(sheet);
  const out = new Map<number, number>();
  let at = 0;
  for (let f = 0; f < faceCount(sheet); f++) {
    out.set(at, f);
    at += 2;
    for (let c = sheet.faceStart[f]; c < sheet.faceStart[f + 1]; c++) if (t.twin[c] < 0) at++;
  }
  return out;
}

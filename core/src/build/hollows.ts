/** Closed hollows that are left in a built piece, and the cutters that made them. */
import { CAME_FROM, CUTS } from '../births/cameFrom';
import { makerOf } from '../births/births';
import type { Makers } from '../births/Makers';
import type { IdleCutter } from '../cutting/idle';
import type { Piece } from '../document/schema';
import { warn } from '../mesh/errors';
import { areaVectors } from '../mesh/measure';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { shellsOf } from '../mesh/shells';
import type { StepReport } from './report';

/**
 * Reports in which cutters are told to leave a hollow only where it is still there at the end: a later cut may have opened
 * it.
 */
export function withHollows(
  reports: ReadonlyArray<StepReport>,
  mesh: PolyMesh,
  makers: Makers,
  pieces: ReadonlyMap<string, Piece>,
): StepReport[] {
  const some = reports.some((r) => r.idle?.some((i) => i.why === 'hollow'));
  if (!some) return [...reports];
  const left = makersOfHollows(mesh, makers);
  return reports.map((r) => {
    if (!r.idle?.some((i) => i.why === 'hollow')) return r;
    const idle = r.idle.filter((i) => i.why !== 'hollow' || left.has(originOf(i.operand, pieces)));
    const told = idle
      .filter((i) => i.why === 'hollow')
      .map((i) => warn('hollow', hollowOf(i, pieces.get(i.operand)?.name ?? i.operand)));
    const { idle: _, ...rest } = r;
    return { ...rest, ...(idle.length && { idle }), warnings: [...r.warnings, ...told] };
  });
}

function hollowOf({ parts }: IdleCutter, name: string): string {
  if (!parts) return `“${name}” lies entirely inside the piece: it leaves a closed hollow.`;
  const what = `${parts.some} of the ${parts.of} parts of “${name}”`;
  return parts.some === 1
    ? `${what} lies entirely inside the piece: it leaves a closed hollow.`
    : `${what} lie entirely inside the piece: they leave closed hollows.`;
}

/** The piece whose faces a twin has. */
function originOf(id: string, pieces: ReadonlyMap<string, Piece>): string {
  for (let at = id, k = 0; k <= pieces.size; k++) {
    const base = pieces.get(at)?.base;
    if (!base || !('twin' in base)) return at;
    at = base.twin;
  }
  return id;
}

/** The pieces that faces of inside-out shells come from, where cuts made all of these. */
function makersOfHollows(mesh: PolyMesh, makers: Makers): Set<string> {
  const out = new Set<string>();
  const from = mesh.layers.face[CAME_FROM]?.data;
  if (!from) return out;
  const { ofFace, count } = shellsOf(mesh);
  if (count < 2) return out;
  const cut = new Uint8Array(count).fill(1);
  const volume = new Float64Array(count);
  const areas = areaVectors(mesh);
  for (let f = 0; f < faceCount(mesh); f++) {
    if (from[f] !== CUTS) cut[ofFace[f]] = 0;
    const p = 3 * mesh.corners[mesh.faceStart[f]];
    for (let k = 0; k < 3; k++) volume[ofFace[f]] += areas[3 * f + k] * mesh.positions[p + k];
  }
  const seen = new Set<number>();
  for (let f = 0; f < faceCount(mesh); f++) {
    const maker = makerOf(mesh, f);
    if (!cut[ofFace[f]] || volume[ofFace[f]] >= 0 || seen.has(maker)) continue;
    seen.add(maker);
    for (const by of makers.story(maker)) out.add(by.split(/[/#]/)[0]);
  }
  return out;
}

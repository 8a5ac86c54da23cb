/** The bodies of a mesh: shells that look outward, each with the hollows in it; open shells are bodies of their own. */
import { volume } from '../mesh/measure';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { partOf } from '../mesh/part';
import { shellsOf } from '../mesh/shells';
import { isClosed } from '../mesh/Topology';
import { pointOf } from '../mesh/vec3';
import { windingNumber } from './winding';

/** @returns a mesh per body, in the order of their first faces */
export function bodiesOf(mesh: PolyMesh): PolyMesh[] {
  const { ofFace, count } = shellsOf(mesh);
  if (count < 2) return [mesh];
  const shells = Array.from({ length: count }, (_, k) => {
    const part = partOf(
      mesh,
      Uint8Array.from(ofFace, (s) => Number(s === k)),
    ).mesh;
    return { part, volume: isClosed(part) ? volume(part) : null };
  });
  const outer = shells.filter((s) => s.volume === null || s.volume >= 0);
  /** The body each shell belongs to, by its place among the shells. */
  const bodyOf = shells.map((s, k) => {
    if (s.volume === null || s.volume >= 0) return k;
    const at = pointOf(s.part.positions, 0);
    const around = outer
      .filter((o) => o.volume !== null && o.volume > -s.volume! && windingNumber(o.part, at) > 0.5)
      .sort((a, b) => a.volume! - b.volume!);
    return around.length ? shells.indexOf(around[0]) : k;
  });
  return [...new Set(bodyOf)].map((k) => {
    const own = bodyOf.flatMap((b, i) => (b === k ? [i] : []));
    if (own.length === 1) return shells[k].part;
    return partOf(
      mesh,
      Uint8Array.from({ length: faceCount(mesh) }, (_, f) => Number(own.includes(ofFace[f]))),
    ).mesh;
  });
}

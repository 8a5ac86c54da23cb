/** The new faces of a rounded unit as lists of numbers: they are kept, and read again whenever something else moves. */
import { ROLES, type Made } from '../../mesh/made';
import type { OutFace } from './shape';

export interface MadeFaces {
  /** Per face, and one more: where its corners begin. */
  start: Int32Array;
  /** Per corner: its point. */
  points: Int32Array;
  /** Per corner: two slots between whose corners its layers lie, the second −1 where it is the first; its share. */
  between: Int32Array;
  share: Float64Array;
  /** Per corner: the point of a rail it is mixed with, or −1; the region it has it in; the rail's share. */
  rail: Int32Array;
  region: Int32Array;
  railShare: Float64Array;
  /** Per face: a slot of the face its layers come from, and of the one on the other side; −1 for none. */
  from: Int32Array;
  other: Int32Array;
  /** Per face: the slot of the edge it lies along, or −1. */
  edge: Int32Array;
  /** Per face: number of its role, and which of several it is. */
  role: Uint8Array;
  which: Int32Array;
}

export const madeCount = (m: MadeFaces): number => m.from.length;

/** Bytes it takes. */
export const bytesOfMade = (m: MadeFaces): number =>
  Object.values(m).reduce((sum, list: { byteLength: number }) => sum + list.byteLength, 0);

/** The role of a face, with its other face and its edge as functions of their slots. */
export const madeAt = (
  m: MadeFaces,
  f: number,
  faceAt: (slot: number) => number,
  edgeAt: (slot: number) => number,
): Made => ({
  role: ROLES[m.role[f]],
  which: m.which[f],
  other: m.other[f] < 0 ? -1 : faceAt(m.other[f]),
  edge: m.edge[f] < 0 ? -1 : edgeAt(m.edge[f]),
});

/**
 * @param faces new ones, over points of the unit
 * @param slotOfCorner and the others: numbers of the unit's mesh in those of the unit
 */
export function listMade(
  faces: ReadonlyArray<OutFace>,
  slotOfCorner: Int32Array,
  slotOfEdge: Int32Array,
  regionOf: (region: number) => number,
): MadeFaces {
  const F = faces.length;
  const start = new Int32Array(F + 1);
  faces.forEach((f, i) => (start[i + 1] = start[i] + f.loop.length));
  const n = start[F];
  const m: MadeFaces = {
    start,
    points: new Int32Array(n),
    between: new Int32Array(2 * n).fill(-1),
    share: new Float64Array(n),
    rail: new Int32Array(n).fill(-1),
    region: new Int32Array(n).fill(-1),
    railShare: new Float64Array(n),
    from: new Int32Array(F),
    other: new Int32Array(F).fill(-1),
    edge: new Int32Array(F).fill(-1),
    role: new Uint8Array(F),
    which: new Int32Array(F),
  };
  let at = 0;
  faces.forEach(({ loop, sources, from, made }, f) => {
    m.from[f] = slotOfCorner[from];
    m.role[f] = ROLES.indexOf(made!.role);
    m.which[f] = made!.which ?? 0;
    if (made!.other !== undefined && made!.other >= 0) m.other[f] = slotOfCorner[made!.other];
    if (made!.edge !== undefined) m.edge[f] = slotOfEdge[made!.edge];
    for (let k = 0; k < loop.length; k++, at++) {
      m.points[at] = loop[k];
      const s = sources[k];
      if (typeof s === 'number') {
        m.between[2 * at] = slotOfCorner[s];
        continue;
      }
      if (s.kind === 'place') throw new Error('a new face has no place in old ones');
      m.between[2 * at] = slotOfCorner[s.corners[0]];
      m.between[2 * at + 1] = slotOfCorner[s.corners[1]];
      m.share[at] = s.share;
      if (s.kind !== 'between') continue;
      m.rail[at] = s.point;
      m.region[at] = regionOf(s.region);
      m.railShare[at] = s.t;
    }
  });
  return m;
}

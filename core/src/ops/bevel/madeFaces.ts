/** The new faces of a rounded unit as lists of numbers: they are kept, and read again whenever something else moves. */
import { ROLES, type Made } from '../../mesh/made';
import type { NormalRows } from './rowNormals';
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
  /** Per corner: the number of its normal, or −1. */
  normal: Int32Array;
  normals: NormalList;
  /** Per face: a slot of the face its layers come from, and of the one on the other side; −1 for none. */
  from: Int32Array;
  other: Int32Array;
  /** Per face: the slot of the edge it lies along, or −1. */
  edge: Int32Array;
  /** Per face: number of its role, and which of several it is. */
  role: Uint8Array;
  which: Int32Array;
}

/** Normals of rows as lists of numbers; which walls and others each is made of. */
export interface NormalList {
  /** Per wall: two slots between which it is where nothing is left of it, and the share of the second. */
  between: Int32Array;
  share: Float64Array;
  /** Per wall: the point on its rail, and the region it is of. */
  rail: Int32Array;
  region: Int32Array;
  /** As in `NormalRows`. */
  right: Int32Array;
  left: Int32Array;
  lean: Float64Array;
  /** Per normal, and one more: the first of what it is a mean of. */
  start: Int32Array;
  of: Int32Array;
  by: Float64Array;
  given: Float64Array;
}

function listNormals(
  { walls, ...rows }: NormalRows,
  slotOfCorner: Int32Array,
  regionOf: (region: number) => number,
): NormalList {
  const between = new Int32Array(2 * walls.length);
  walls.forEach(({ corners: [a, b] }, i) => {
    between[2 * i] = slotOfCorner[a];
    between[2 * i + 1] = slotOfCorner[b];
  });
  return {
    between,
    share: Float64Array.from(walls, (w) => w.share),
    rail: Int32Array.from(walls, (w) => w.point),
    region: Int32Array.from(walls, (w) => regionOf(w.region)),
    right: Int32Array.from(rows.right),
    left: Int32Array.from(rows.left),
    lean: Float64Array.from(rows.lean),
    start: Int32Array.from([...rows.start, rows.of.length]),
    of: Int32Array.from(rows.of),
    by: Float64Array.from(rows.by),
    given: Float64Array.from(rows.given),
  };
}

export const madeCount = (m: MadeFaces): number => m.from.length;

/** Bytes it takes. */
export const bytesOfMade = ({ normals, ...m }: MadeFaces): number =>
  [...Object.values(m), ...Object.values(normals)].reduce(
    (sum, list: { byteLength: number }) => sum + list.byteLength,
    0,
  );

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
 * @param normals that their corners refer to
 * @param slotOfCorner and the others: numbers of the unit's mesh in those of the unit
 */
export function listMade(
  faces: ReadonlyArray<OutFace>,
  normals: NormalRows,
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
    normal: new Int32Array(n).fill(-1),
    normals: listNormals(normals, slotOfCorner, regionOf),
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
      m.normal[at] = s.normal ?? -1;
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

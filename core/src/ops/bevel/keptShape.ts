/** The rounding of a unit, in the unit's own numbers: it holds wherever the same unit is met again. */
import { notRounded, type BevelGroup } from './groups';
import { growAll } from './growAll';
import { speedOf } from './layOut';
import { BoxTree } from '../../spatial/BoxTree';
import { PairMap } from '../../spatial/PairMap';
import { topologyOf } from '../../mesh/Topology';
import { OperationError } from '../../mesh/errors';
import type { Watch } from '../../watch';
import type { BevelOptions } from './options';
import { APART, boxesOf } from './clusters';
import { listMade, type MadeFaces } from './madeFaces';
import { NO_NORMALS } from './rowNormals';
import type { OutFace, Shape, Source } from './shape';
import type { Unit } from './Unit';
import type { UnitMesh } from './unitMesh';

/** The result of a region of the unit. */
export interface Change {
  /** The first of its entries. */
  entry: number;
  /** Slots at which outlines that are not as they were begin. */
  outlines: number[];
  /** Its new sides, as pairs of points, without those of outlines that stay. */
  sides: Array<[number, number]>;
  /** Its remains. */
  faces: OutFace[];
}

/**
 * Faces, corners and edges are told by entries and slots of the unit; regions by entries, or by numbers past them for
 * triangles of a face that is not flat.
 */
export interface KeptShape {
  changes: Change[];
  made: MadeFaces;
  /** From the unit's origin. */
  positions: Float64Array;
  /** Per point: the unit's vertex it is or comes from. */
  source: Int32Array;
  stays: Uint8Array;
  /** Slot of the source edge per surviving side, by its two points in ascending order. */
  keptEdges: PairMap;
  /** Places in it count from the unit's origin. */
  groups: BevelGroup[];
  consumedSides: number;
  /** How far new points are from the edges, mm, at most. */
  spread: number;
}

export function growUnit(unit: Unit, u: UnitMesh, o: BevelOptions, size: number, watch: Watch): KeptShape {
  try {
    const { shape, groups, consumedSides } = growAll(u.mesh, u.rounded, o, { size, rim: u.rim, watch });
    const given = new Set(shape?.faces.flatMap((f) => f.made?.edge ?? []));
    // A single edge in the middle of a straight run goes from nothing to nothing.
    const told = groups.map((g) =>
      g.edges.some((e) => given.has(e)) ? g : notRounded(u.mesh, topologyOf(u.mesh), g.edges),
    );
    const toSlots = (edges: number[]): number[] => edges.map((e) => u.slotOfEdge[e]);
    return {
      ...(shape ? inUnit(shape, unit, u) : NOTHING),
      groups: told.map((g) => ({
        ...g,
        edges: toSlots(g.edges),
        sharp: toSlots(g.sharp),
        stops: g.stops.map((s) => ({ ...s, edges: toSlots(s.edges) })),
      })),
      consumedSides,
      spread: shape ? spreadOf(shape, u, o, size) : 0,
    };
  } catch (e) {
    if (e instanceof OperationError && e.elements?.domain === 'edge')
      e.elements.indices = e.elements.indices.map((k) => unit.edgeAt(u.slotOfEdge[k]));
    throw e;
  }
}

const NOTHING = {
  changes: [],
  made: listMade([], NO_NORMALS, new Int32Array(0), new Int32Array(0), () => -1),
  positions: new Float64Array(0),
  source: new Int32Array(0),
  stays: new Uint8Array(0),
  keptEdges: new PairMap(),
};

type InUnit = Omit<KeptShape, 'groups' | 'consumedSides' | 'spread'>;

function inUnit(s: Shape, unit: Unit, u: UnitMesh): InUnit {
  const F = u.entryOfFace.length;
  const regionOf = (r: number): number =>
    r < 0 ? -1 : r < F ? u.entryOfFace[r] : unit.entries.length + r - F;
  const slots = ([a, b]: [number, number]): [number, number] => [u.slotOfCorner[a], u.slotOfCorner[b]];
  const sourceOf = (x: Source): Source => {
    if (typeof x === 'number') return u.slotOfCorner[x];
    if (x.kind === 'place')
      return { kind: 'place', faces: [...new Set(x.faces.map((f) => u.entryOfFace[f]))] };
    if (x.kind === 'on') return { ...x, corners: slots(x.corners) };
    return { ...x, corners: slots(x.corners), region: regionOf(x.region) };
  };
  const left = s.faces
    .filter((f) => !f.made)
    .map((f): OutFace => ({
      ...f,
      sources: f.sources.map(sourceOf),
      from: u.entryOfFace[f.from],
      region: regionOf(f.region),
    }));
  const keptEdges = new PairMap();
  s.keptEdges.each((a, b, e) => {
    if (u.slotOfEdge[e] >= 0) keptEdges.set(a, b, u.slotOfEdge[e]);
  });
  const made = s.faces.filter((f) => f.made);
  return {
    changes: changesOf(left, s, unit),
    made: listMade(made, s.normals, u.slotOfCorner, u.slotOfEdge, regionOf),
    positions: s.positions,
    source: s.source,
    stays: s.stays,
    keptEdges,
  };
}

function changesOf(faces: OutFace[], s: Shape, unit: Unit): Change[] {
  const first = unit.firstEntries();
  const left = new Map<number, OutFace[]>();
  for (const f of faces) {
    const list = left.get(first[f.from]);
    if (list) list.push(f);
    else left.set(first[f.from], [f]);
  }
  const loopsOf = new Map<number, ReturnType<Unit['loopsOf']>>();
  unit.entries.forEach((_, k) => {
    const loops = loopsOf.get(first[k]);
    if (loops) loops.push(...unit.loopsOf(k));
    else loopsOf.set(first[k], [...unit.loopsOf(k)]);
  });
  const n = unit.vertices.length;
  const pointOf = new Int32Array(n).fill(-1);
  s.source.forEach((v, p) => {
    if (s.stays[p] && v < n) pointOf[v] = p;
  });
  const isBox = (p: number): boolean => s.source[p] >= n;
  const out: Change[] = [];
  for (const [entry, loops] of loopsOf) {
    const list = left.get(entry) ?? [];
    const now = new Sides(list.map((f) => f.loop));
    const before = new Sides(loops.map((l) => l.vertices));
    const outlines: number[] = [];
    for (const { vertices, slot } of loops) {
      const sides = vertices
        .map((v, k): [number, number] => [v, vertices[(k + 1) % vertices.length]])
        .filter(([v, w]) => before.has(v, w));
      const points = sides.map(([v, w]): [number, number] => [pointOf[v], pointOf[w]]);
      const stays = points.every(([a, b]) => a >= 0 && b >= 0 && now.has(a, b));
      if (!stays) outlines.push(slot);
      else for (const [a, b] of points) now.delete(a, b);
    }
    const sides = now.all().filter(([a, b]) => !isBox(a) && !isBox(b));
    if (outlines.length || sides.length) out.push({ entry, outlines, sides, faces: list });
  }
  return out;
}

/** The directed sides of some loops that no other runs against. */
class Sides {
  private readonly list: Array<[number, number] | null> = [];
  /** The place of each in the list. */
  private readonly at = new PairMap();

  constructor(loops: ReadonlyArray<ReadonlyArray<number>>) {
    for (const loop of loops)
      loop.forEach((a, k) => {
        const b = loop[(k + 1) % loop.length];
        if (!this.delete(b, a) && !this.has(a, b)) this.at.set(a, b, this.list.push([a, b]) - 1);
      });
  }

  has(a: number, b: number): boolean {
    return this.at.has(a, b);
  }

  delete(a: number, b: number): boolean {
    const at = this.at.delete(a, b);
    if (at >= 0) this.list[at] = null;
    return at >= 0;
  }

  all(): Array<[number, number]> {
    return this.list.filter((s) => s !== null);
  }
}

/** How far new points are from rounded edges, in steps of twice the width. */
function spreadOf(s: Shape, u: UnitMesh, o: BevelOptions, size: number): number {
  const t = topologyOf(u.mesh);
  const edges = [...u.rounded.keys()].filter((e) => u.rounded[e]);
  const tree = new BoxTree(boxesOf(u.mesh, t, edges));
  const speed = speedOf(u.mesh);
  let spread = (APART / 2) * o.width * Math.max(...edges.map(speed));
  const [lo, hi] = [new Float64Array(3), new Float64Array(3)];
  for (let p = 0; p < s.stays.length; p++) {
    if (s.stays[p]) continue;
    const isNear = (): boolean => {
      for (let k = 0; k < 3; k++) {
        lo[k] = s.positions[3 * p + k] - spread;
        hi[k] = s.positions[3 * p + k] + spread;
      }
      return tree.someIn(lo, hi);
    };
    while (!isNear() && spread < size) spread *= 2;
  }
  return spread;
}

/** The shape of a rounded mesh before it has layers: faces over points, and where each takes its layers from. */
import type { Made } from '../../mesh/made';
import { PairMap } from '../../spatial/PairMap';
import type { NormalRows, Wall } from './rowNormals';
import type { Between } from './widths';

/** The source of a corner's attributes. */
export type Source =
  /** A corner of the mesh that was given, as it is. */
  | number
  /** A place in some of its faces. */
  | { kind: 'place'; faces: ReadonlyArray<number> }
  /** Between two of its corners; the share is the second's. */
  | { kind: 'on'; corners: [number, number]; share: number; normal?: number }
  /** The same, mixed with the corner of a region at a point on a rail (share t of that). */
  | {
      kind: 'between';
      corners: [number, number];
      share: number;
      point: number;
      region: number;
      t: number;
      /** Of a new face: the number of its normal, −1 for none. */
      normal?: number;
    };

export interface OutFace {
  /** Points of the shape. */
  loop: number[];
  sources: Source[];
  /** Face of the mesh given that face layers come from; of a new face, a corner of it. */
  from: number;
  /** For a new face: its role; the other face is given by one of its corners. */
  made: Made | null;
  /** The face is all that is left of its region. */
  whole?: boolean;
  /**
   * Its source, −1 for new faces: the first face of those joined across bridges, or a number past all faces for a
   * triangle of a face that is not flat. Edges between faces of one region are bridges.
   */
  region: number;
  /** For a new face: the rim points its shape depends on. */
  shapedBy?: number[];
}

export interface Shape {
  faces: OutFace[];
  /** 3 numbers per point. */
  positions: Float64Array;
  /** Per point: the vertex it is or comes from. */
  source: Int32Array;
  /** 1 per point that still is the vertex it comes from. */
  stays: Uint8Array;
  /** Source edge per surviving side, by its two points in ascending order. */
  keptEdges: PairMap;
  /** Of new faces. */
  normals: NormalRows;
}

/** The same normals with their walls told by other numbers. */
export const withWalls = (normals: NormalRows, wallOf: (w: Wall) => Wall): NormalRows => ({
  ...normals,
  walls: normals.walls.map(wallOf),
});

/** A shape over a mesh with points put into its edges, as one over the mesh itself. */
export function overUndivided(
  s: Shape,
  d: { between: Between | null; own: Int32Array; source: Int32Array; edgeOf: Int32Array },
): Shape {
  const { between } = d;
  if (!between) return s;
  const keptEdges = new PairMap();
  s.keptEdges.each((a, b, e) => keptEdges.set(a, b, d.edgeOf[e]));
  const faces = s.faces.map((f) => ({
    ...f,
    sources: f.sources.map((x) => sourceOver(between, x)),
    ...(f.made && { from: cornerOver(between, f.from), made: madeOver(d.edgeOf, between, f.made) }),
  }));
  return {
    faces,
    positions: s.positions,
    source: s.source.map((v) => d.source[v]),
    stays: s.stays.map((x, p) => Number(x && d.own[s.source[p]] >= 0)),
    keptEdges,
    normals: withWalls(s.normals, (w) => ({ ...w, ...sidesOver(between, w) })),
  };
}

/** The corner whose half-edge begins at a corner, or runs through it. */
const cornerOver = (between: Between, c: number): number => (c < 0 ? c : between.corners[2 * c]);

const madeOver = (edgeOf: Int32Array, between: Between, made: Made): Made => ({
  ...made,
  ...(made.other !== undefined && { other: cornerOver(between, made.other) }),
  ...(made.edge !== undefined && { edge: edgeOf[made.edge] }),
});

function sourceOver(between: Between, s: Source): Source {
  const { corners, share } = between;
  if (typeof s === 'number')
    return share[s]
      ? { kind: 'on', corners: [corners[2 * s], corners[2 * s + 1]], share: share[s] }
      : corners[2 * s];
  return s.kind === 'place' ? s : { ...s, ...sidesOver(between, s) };
}

function sidesOver(
  { corners, share }: Between,
  s: { corners: [number, number]; share: number },
): { corners: [number, number]; share: number } {
  // Both lie on one side of a face, so there are no more than its two ends.
  const by = new Map<number, number>();
  s.corners.forEach((c, k) => {
    const weight = k ? s.share : 1 - s.share;
    for (const [end, w] of [
      [corners[2 * c], 1 - share[c]],
      [corners[2 * c + 1], share[c]],
    ])
      by.set(end, (by.get(end) ?? 0) + weight * w);
  });
  const ends = [...by.keys()].filter((c) => by.get(c)! > 0);
  const pair: [number, number] = [ends[0], ends[1] ?? ends[0]];
  return { corners: pair, share: ends.length > 1 ? by.get(ends[1])! : 0 };
}

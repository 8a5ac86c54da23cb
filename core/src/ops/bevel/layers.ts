/** Carries layers over a rounding: faces keep theirs, strips run on from the faces beside them. */
import { DIRECTIONS } from '../../mesh/layerKinds';
import type { PolyMesh } from '../../mesh/PolyMesh';
import {
  blendLayers,
  concatLayers,
  copyLayers,
  makeBlend,
  RANK,
  type Layer,
  type LayerSet,
} from '../../mesh/layers';
import { topologyOf } from '../../mesh/Topology';
import { writeJoined, writeMade } from '../../mesh/lineage';
import type { Made } from '../../mesh/made';
import { locateInFace } from '../../planar/locateInFace';
import type { Grown } from './grown';
import { edgeKey, pairKey } from './divide';

/** Where a corner of the result takes its attributes from. */
export type Source =
  /** A corner of the source mesh, as it is. */
  | number
  | { kind: 'place'; faces: number[] }
  /** Mixed between the corners at the edge's ends and the face's corner on the rail (share t of the latter). */
  | {
      kind: 'between';
      corners: [number, number];
      /** Share of the edge's length. */
      share: number;
      point: number;
      region: number;
      t: number;
    };

export interface OutFace {
  loop: number[];
  sources: Source[];
  /** Source face for face layers. */
  from: number;
  made: Made | null;
  /** All source faces, where it stands for several. */
  also?: ReadonlyArray<number>;
  /** The plate it is left of: edges between faces of one are bridges. */
  region: number;
  /** Of a new face: the points of rims its shape depends on. */
  shapedBy?: number[];
}

/** What the assembly has made, before layers. */
export interface Assembled {
  g: Pick<Grown, 'mesh' | 'points'>;
  faces: OutFace[];
  /** Source edge per surviving side, keyed by its two points in ascending order. */
  keptEdges: ReadonlyMap<number, number>;
}

export function faceLayers({ g, faces }: Assembled): LayerSet {
  const copied = copyLayers(
    g.mesh.layers.face,
    Int32Array.from(faces, (f) => f.from),
  );
  const rank = new Uint8Array(faces.length);
  faces.forEach((f, i) => (rank[i] = f.made ? RANK.follow : (copied.rank?.data[i] ?? RANK.plain)));
  faces.forEach(({ made, also }, i) => {
    if (made) writeMade(copied, i, g.mesh.layers, made);
    if (also) writeJoined(copied, i, g.mesh.layers.face, also);
  });
  return { ...copied, rank: { size: 1, data: rank } };
}

export function edgeLayers({ g, faces, keptEdges }: Assembled, bare: PolyMesh, order: number[]): LayerSet {
  const t = topologyOf(bare);
  const source = new Int32Array(t.edgeCount).fill(-1);
  const bridge = new Uint8Array(t.edgeCount);
  for (let e = 0; e < t.edgeCount; e++) {
    const a = order[t.edges[2 * e]];
    const b = order[t.edges[2 * e + 1]];
    const kept = keptEdges.get(edgeKey(a, b));
    if (kept !== undefined) source[e] = kept;
    const c = t.cornerOfEdge[e];
    if (t.twin[c] < 0) continue;
    const f = faces[t.faceOfCorner[c]];
    const h = faces[t.faceOfCorner[t.twin[c]]];
    if (kept === undefined && f.region >= 0 && f.region === h.region) bridge[e] = 1;
  }
  const copied = copyLayers(g.mesh.layers.edge, source);
  const before = copied.bridge?.data;
  if (before) for (let e = 0; e < bridge.length; e++) bridge[e] ||= before[e];
  return { ...copied, bridge: { size: 1, data: bridge } };
}

export function cornerLayers(a: Assembled, faceStart: Uint32Array): LayerSet {
  const { faces: all } = a;
  const { mesh, points } = a.g;
  const set = mesh.layers.corner;
  if (!Object.keys(set).length) return set;
  const kept = all.filter((f) => !f.made).length;
  const first = makeBlend(faceStart[kept]);
  const cornerAt = new Map<number, number>();
  let slot = 0;
  // Faces come first, strips after them, so strips can mix from the faces' finished corners.
  for (const f of all.slice(0, kept))
    f.sources.forEach((s, i) => {
      const p = f.loop[i];
      if (typeof s === 'number') {
        first.index[3 * slot] = s;
        first.weight[3 * slot] = 1;
        cornerAt.set(pairKey(f.region, p), slot);
      } else if (s.kind === 'place') {
        cornerAt.set(pairKey(f.region, p), slot);
        locateInFace(mesh, s.faces, points.at(p), first, slot, points.source[p], points.triangles.get(p));
      }
      slot++;
    });
  const faces = blendLayers(set, first);
  const total = mesh.corners.length;
  const both = concatLayers([set, faces], [total, slot]);
  const second = makeBlend(faceStart[all.length] - slot);
  let k = 0;
  for (const f of all.slice(kept))
    for (const s of f.sources) {
      const between = typeof s === 'object' && s.kind === 'between' ? s : null;
      second.index[3 * k] = between ? between.corners[0] : (s as number);
      second.weight[3 * k] = 1;
      if (between) {
        const moved = cornerAt.get(pairKey(between.region, between.point));
        const rest = moved === undefined ? 1 : 1 - between.t;
        second.weight[3 * k] = rest * (1 - between.share);
        second.index[3 * k + 1] = between.corners[1];
        second.weight[3 * k + 1] = rest * between.share;
        second.index[3 * k + 2] = moved === undefined ? 0 : total + moved;
        second.weight[3 * k + 2] = 1 - rest;
      }
      k++;
    }
  const strips = withoutNormals(blendLayers(both, second));
  return concatLayers([faces, strips], [slot, k]);
}

/** New faces have no old shading to keep. */
function withoutNormals(set: LayerSet): LayerSet {
  const out: Record<string, Layer> = { ...set };
  for (const name of DIRECTIONS)
    if (out[name]) out[name] = { size: 3, data: out[name].data.map(() => 0) as Layer['data'] };
  return out;
}

/** A rounding before it grows: which edges hang together, and the sides of every sheet's outline. */
import { DisjointSets } from '../../mesh/DisjointSets';
import type { PolyMesh } from '../../mesh/PolyMesh';
import { nextCorner, type Topology } from '../../mesh/Topology';
import { distance, pointOf } from '../../mesh/vec3';
import type { Planner, Speed } from './sectors';
import type { Surface } from './Surface';

/** One side of a sheet's outline: from its node to the next side's node, the sheet on its left. */
export interface Side {
  node: number;
  /** Corner of the mesh whose half-edge it is, or −1 for the chord of a cut-off corner. */
  corner: number;
  /** Mesh edge, or −1 for a chord. */
  edge: number;
  rounded: boolean;
  /** How fast it goes inward, per unit of width. */
  speed: number;
  /** Angles between the side and the paths of its first and last node, radians. */
  first: number;
  last: number;
  /** Length at width `since`, mm. */
  length: number;
  since: number;
  next: number;
  prev: number;
  alive: boolean;
  /** Bumped whenever the side's motion changes; events of older versions are void. */
  version: number;
}

/** The share of the width an edge's mark asks for; 1 without one. */
export function speedOf(mesh: PolyMesh): Speed {
  const share = mesh.layers.edge.round?.data;
  return (e) => share?.[e] || 1;
}

export function* edgesOf(flags: Uint8Array): Generator<number> {
  for (let e = 0; e < flags.length; e++) if (flags[e]) yield e;
}

/** Connected rounded edges are a group: its number per vertex, −1 away from them. */
export function groupVertices(
  mesh: PolyMesh,
  t: Topology,
  rounded: Uint8Array,
): { ofVertex: Int32Array; count: number } {
  const V = mesh.positions.length / 3;
  const sets = new DisjointSets(V);
  const used = new Uint8Array(V);
  for (const e of edgesOf(rounded)) {
    const [a, b] = [t.edges[2 * e], t.edges[2 * e + 1]];
    used[a] = used[b] = 1;
    sets.join(a, b);
  }
  const ofVertex = new Int32Array(V).fill(-1);
  const number = new Map<number, number>();
  for (let v = 0; v < V; v++) {
    if (!used[v]) continue;
    const r = sets.find(v);
    if (!number.has(r)) number.set(r, number.size);
    ofVertex[v] = number.get(r)!;
  }
  return { ofVertex, count: number.size };
}

export interface Laid {
  sides: Side[];
  /** The side that lies on each corner's half-edge, or −1. */
  sideOfCorner: Int32Array;
}

/** Lays the outlines of all sheets that have a rounded edge. */
export function laySides(
  mesh: PolyMesh,
  t: Topology,
  rounded: Uint8Array,
  soft: Uint8Array,
  planner: Planner,
  surface: Surface,
  speed: Speed,
): Laid {
  const sides: Side[] = [];
  const sideOfCorner = new Int32Array(mesh.corners.length).fill(-1);
  const { nodes, stations } = planner.plan;
  const seen = new Uint8Array(mesh.corners.length);
  for (let first = 0; first < seen.length; first++) {
    if (seen[first] || soft[t.edgeOfCorner[first]]) continue;
    const loop: Array<{ corner: number; turns: number[] }> = [];
    for (let h = first; !seen[h];) {
      seen[h] = 1;
      const turns = cornersAfter(mesh, t, soft, h);
      loop.push({ corner: h, turns });
      h = turns[turns.length - 1];
    }
    const moves = ({ turns }: { turns: number[] }): boolean => turns.some((c) => stations[c]);
    if (!loop.some(moves)) continue;
    const from = sides.length;
    const lastAngles: Array<[corner: number, angle: number]> = [];
    const add = (node: number, corner: number, length: number): void => {
      const edge = corner < 0 ? -1 : t.edgeOfCorner[corner];
      sides.push({
        node,
        corner,
        edge,
        rounded: edge >= 0 && rounded[edge] === 1,
        speed: edge >= 0 ? speed(edge) : 1,
        first: 0,
        last: 0,
        length,
        since: 0,
        next: sides.length + 1,
        prev: sides.length - 1,
        alive: true,
        version: 0,
      });
    };
    loop.forEach(({ corner }, i) => {
      const before = loop[(i + loop.length - 1) % loop.length];
      const list: number[] = [];
      for (const c of before.turns)
        for (const n of stations[c] ?? [planner.fixedNode(mesh.corners[corner])])
          if (list[list.length - 1] !== n) list.push(n);
      const whole = surface.fanAngle(surface.sideOfCorner[corner]);
      for (let k = 0; k + 1 < list.length; k++) add(list[k], -1, 0);
      const a = pointOf(mesh.positions, mesh.corners[corner]);
      const b = pointOf(mesh.positions, mesh.corners[nextCorner(mesh, t, corner)]);
      add(list[list.length - 1], corner, distance(a, b));
      const side = sides[sides.length - 1];
      sideOfCorner[corner] = sides.length - 1;
      // Between a chord's ends each node runs along the side beside it.
      if (list.length > 1) return;
      const n = nodes[list[0]];
      const onNext = n.slidesOn === side.edge;
      side.first = n.moves === 'mitre' ? n.turn : onNext ? 0 : whole;
      // The side before may not be laid yet.
      lastAngles.push([before.corner, n.moves === 'mitre' ? whole - n.turn : onNext ? whole : 0]);
    });
    for (const [corner, angle] of lastAngles) sides[sideOfCorner[corner]].last = angle;
    sides[from].prev = sides.length - 1;
    sides[sides.length - 1].next = from;
  }
  return { sides, sideOfCorner };
}

/**
 * The face corners passed at the end of half-edge h, from its own face across soft edges to the half-edge that goes on
 * along the sheet's outline, which is the last entry.
 */
function cornersAfter(mesh: PolyMesh, t: Topology, soft: Uint8Array, h: number): number[] {
  const out = [nextCorner(mesh, t, h)];
  while (soft[t.edgeOfCorner[out[out.length - 1]]])
    out.push(nextCorner(mesh, t, t.twin[out[out.length - 1]]));
  return out;
}

/** A bevel before it grows: which edges lead, which of them hang together, and the sides of every face's outline. */
import type { PolyMesh } from '../../mesh/PolyMesh';
import { nextCorner, type Topology } from '../../mesh/Topology';
import { areaVectors, faceNormal } from '../../mesh/measure';
import { TOLERANCE } from '../../mesh/tolerance';
import { cross, pointOf, sub, unit, type Vec3 } from '../../mesh/vec3';
import { type Side } from './fronts';
import { cornersBetween, type Region } from './outlines';
import { Planner, type Speed } from './sectors';
import type { Growth } from './growth';

/** The share of the width an edge's mark asks for; 1 without one. */
export function speedOf(mesh: PolyMesh): Speed {
  const share = mesh.layers.edge.round?.data;
  return (e) => share?.[e] || 1;
}

export function* edgesOf(flags: Uint8Array): Generator<number> {
  for (let e = 0; e < flags.length; e++) if (flags[e]) yield e;
}

/** Bridges and edges between faces of one plane: they follow, never lead. */
export function flatEdges(mesh: PolyMesh, t: Topology): Uint8Array {
  const out = new Uint8Array(t.edgeCount);
  const bridge = mesh.layers.edge.bridge?.data;
  const n = areaVectors(mesh);
  const sin = Math.sin(TOLERANCE.coplanarAngle * 100);
  for (let e = 0; e < t.edgeCount; e++) {
    const c = t.cornerOfEdge[e];
    if (t.twin[c] < 0) continue;
    if (bridge?.[e]) {
      out[e] = 1;
      continue;
    }
    const f = 3 * t.faceOfCorner[c];
    const g = 3 * t.faceOfCorner[t.twin[c]];
    const x = n[f + 1] * n[g + 2] - n[f + 2] * n[g + 1];
    const y = n[f + 2] * n[g] - n[f] * n[g + 2];
    const z = n[f] * n[g + 1] - n[f + 1] * n[g];
    const cos = n[f] * n[g] + n[f + 1] * n[g + 1] + n[f + 2] * n[g + 2];
    // |a×b| < sin·|a||b|, with a·b standing for |a||b| at such small angles.
    if (cos > 0 && x * x + y * y + z * z < sin * sin * cos * cos) out[e] = 1;
  }
  return out;
}

export function groupVertices(
  mesh: PolyMesh,
  t: Topology,
  rounded: Uint8Array,
): { ofVertex: Int32Array; count: number } {
  const V = mesh.positions.length / 3;
  const parent = Int32Array.from({ length: V }, (_, v) => v);
  const find = (v: number): number => {
    while (parent[v] !== v) v = parent[v] = parent[parent[v]];
    return v;
  };
  const used = new Uint8Array(V);
  for (let e = 0; e < t.edgeCount; e++) {
    if (!rounded[e]) continue;
    const [a, b] = [t.edges[2 * e], t.edges[2 * e + 1]];
    used[a] = used[b] = 1;
    parent[find(a)] = find(b);
  }
  const ofVertex = new Int32Array(V).fill(-1);
  const number = new Map<number, number>();
  for (let v = 0; v < V; v++) {
    if (!used[v]) continue;
    const r = find(v);
    if (!number.has(r)) number.set(r, number.size);
    ofVertex[v] = number.get(r)!;
  }
  return { ofVertex, count: number.size };
}

interface Laid {
  sides: Side[];
  touched: Uint8Array;
  loops: Growth['loops'];
}

export function laySides(
  mesh: PolyMesh,
  t: Topology,
  rounded: Uint8Array,
  regions: Region[],
  planner: Planner,
  groupOfVertex: Int32Array,
  speed: Speed,
): Laid {
  const bridge = mesh.layers.edge.bridge?.data;
  const sides: Side[] = [];
  const touched = new Uint8Array(regions.length);
  const loops: Laid['loops'] = new Array(regions.length);
  const { nodes, stations } = planner.plan;
  regions.forEach((region, r) => {
    if (!region.loops.some((l) => l.some((h) => groupOfVertex[mesh.corners[h]] >= 0))) return;
    touched[r] = 1;
    const normal = faceNormal(mesh, largestFace(mesh, region.faces));
    loops[r] = region.loops.map((loop) => {
      const nodesOut: number[] = [];
      const sidesOut: number[] = [];
      const addSide = (node: number, edge: number, along: Vec3): void => {
        nodesOut.push(node);
        sidesOut.push(
          sides.push({
            node,
            edge,
            rounded: edge >= 0 && rounded[edge] === 1,
            along,
            inward: cross(normal, along),
            speed: edge >= 0 ? speed(edge) : 1,
            next: -1,
            prev: -1,
            region: r,
            alive: true,
            version: 0,
          }) - 1,
        );
      };
      loop.forEach((h, i) => {
        const before = loop[(i + loop.length - 1) % loop.length];
        const list: number[] = [];
        for (const c of cornersBetween(mesh, t, bridge, before))
          for (const n of stations[c] ?? [planner.fixedNode(mesh.corners[h])])
            if (list[list.length - 1] !== n) list.push(n);
        for (let k = 0; k + 1 < list.length; k++)
          addSide(list[k], -1, unit(sub(nodes[list[k + 1]].velocity, nodes[list[k]].velocity)));
        const a = pointOf(mesh.positions, mesh.corners[h]);
        const b = pointOf(mesh.positions, mesh.corners[nextCorner(mesh, t, h)]);
        addSide(list[list.length - 1], t.edgeOfCorner[h], unit(sub(b, a)));
      });
      sidesOut.forEach((s, k) => {
        sides[s].next = sidesOut[(k + 1) % sidesOut.length];
        sides[s].prev = sidesOut[(k + sidesOut.length - 1) % sidesOut.length];
      });
      return { nodes: nodesOut, sides: sidesOut };
    });
  });
  return { sides, touched, loops };
}

export function largestFace(mesh: PolyMesh, faces: number[]): number {
  const a = areaVectors(mesh);
  let best = faces[0];
  let most = -1;
  for (const f of faces) {
    const s = Math.hypot(a[3 * f], a[3 * f + 1], a[3 * f + 2]);
    if (s > most) [best, most] = [f, s];
  }
  return best;
}

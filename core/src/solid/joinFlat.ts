/**
 * Flat neighbours join: where faces of different operands lie in one plane and meet along an edge, they become one face,
 * as a person would draw it. Each face joins at most one of any other operand, so an operand's own edges stay.
 */
import type { PolyMesh } from '../mesh/PolyMesh';
import { GONE, nextSide, type Twins } from './cleanTriangles';
import { edgeUnder, markedSides, middle } from './edgeUnder';
import { facetsOf } from './facets';
import type { FlushPair } from './flush';
import type { Groups } from './Groups';

/**
 * Finds which groups join and records it in `g.joined`; groups that join count as touched.
 * @param p positions of points
 * @param pairs facets of operands that lie in one plane
 * @param reach what is nearer than this is in the same place
 */
export function joinFlat(
  g: Groups,
  p: Float64Array,
  pairs: ReadonlyArray<FlushPair>,
  twins: Twins,
  reach: number,
): void {
  const flush = flushGroups(g, pairs);
  if (!flush.size) return;
  const shared = sharedBorders(g, p, flush, twins, reach);
  const total = g.joined.length;
  const members = new Map<number, number[]>();
  const membersOf = (root: number): number[] => members.get(root) ?? [root];
  const root = (group: number): number => {
    while (g.joined[group] !== group) group = g.joined[group];
    return group;
  };
  // Pairs with the longest common border come first.
  for (const [key] of [...shared].sort((a, b) => b[1] - a[1] || a[0] - b[0])) {
    const [a, b] = [root(Math.floor(key / total)), root(key % total)];
    if (a === b) continue;
    const all = [...membersOf(a), ...membersOf(b)];
    if (new Set(all.map((x) => g.operandOf(x))).size < all.length) continue;
    const [low, high] = [Math.min(a, b), Math.max(a, b)];
    g.joined[high] = low;
    members.set(low, all);
  }
  for (const list of members.values()) for (const group of list) g.touched[group] = 1;
  for (let group = 0; group < total; group++) g.joined[group] = root(group);
}

/** Pairs of groups (low · total + high) that may join: one plane, one way out, one material, no UVs laid out. */
function flushGroups(g: Groups, pairs: ReadonlyArray<FlushPair>): Set<number> {
  const out = new Set<number>();
  for (const { a, facetA, b, facetB, same } of pairs) {
    if (same === (g.flipped[a] !== g.flipped[b])) continue;
    const [fa, fb] = [planarFace(g, a, facetA), planarFace(g, b, facetB)];
    if (fa < 0 || fb < 0 || !alike(g.operands[a].solid.mesh, fa, g.operands[b].solid.mesh, fb)) continue;
    out.add(
      (g.base[a] + g.operands[a].solid.region[fa]) * g.joined.length +
        g.base[b] +
        g.operands[b].solid.region[fb],
    );
  }
  return out;
}

/** The face a facet is the whole of, or −1 for a part of one that is not planar. */
function planarFace(g: Groups, o: number, facet: number): number {
  const { mesh } = g.operands[o].solid;
  const { face, start } = facetsOf(mesh);
  const f = face[facet];
  return start[facet + 1] - start[facet] === mesh.faceStart[f + 1] - mesh.faceStart[f] ? f : -1;
}

function alike(a: PolyMesh, f: number, b: PolyMesh, k: number): boolean {
  // UVs someone laid out stay as they are.
  if (a.layers.face.uvLaid?.data[f] || b.layers.face.uvLaid?.data[k]) return false;
  return (a.layers.face.material?.data[f] ?? 0) === (b.layers.face.material?.data[k] ?? 0);
}

/** Length of the border that groups of the set have in common; borders along a marked edge do not count. */
function sharedBorders(
  g: Groups,
  p: Float64Array,
  flush: ReadonlySet<number>,
  twins: Twins,
  reach: number,
): Map<number, number> {
  const out = new Map<number, number>();
  const marks = g.operands.map(({ solid }) => markedSides(solid.mesh));
  for (let h = 0; h < twins.length; h++) {
    if (twins[h] <= h) continue;
    const [a, b] = [g.groupOf[Math.floor(h / 3)], g.groupOf[Math.floor(twins[h] / 3)]];
    if (a === b || a === GONE || b === GONE) continue;
    const key = Math.min(a, b) * g.joined.length + Math.max(a, b);
    if (!flush.has(key)) continue;
    const [u, v] = [g.triVerts[h], g.triVerts[nextSide(h)]];
    const at = middle(p, u, v);
    const isMarked = [a, b].some((group) => {
      const o = g.operandOf(group);
      const marked = marks[o];
      return marked && edgeUnder(g.operands[o].solid, group - g.base[o], at, reach, marked) >= 0;
    });
    if (isMarked) continue;
    const long = Math.hypot(...[0, 1, 2].map((k) => p[3 * u + k] - p[3 * v + k]));
    out.set(key, (out.get(key) ?? 0) + long);
  }
  return out;
}

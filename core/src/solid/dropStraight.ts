/** Drops the points that a cut leaves on straight runs of polygons. The polygons stay edge to edge. */
import { type PolyMesh, vertexCount } from '../mesh/PolyMesh';
import { alongLine, distance, offLine } from '../planar/thinFaces';
import type { Groups } from './Groups';
import type { Loop, Traced } from './outlines';

/** Calls `each` with every point of the kept faces. */
function eachKeptPoint(t: Traced, g: Groups, each: (v: number) => void): void {
  for (let i = 0; i < t.keptFace.length; i++) {
    const { mesh, canonical } = g.operands[t.keptOperand[i]].solid;
    const points = g.pointOfVertex[t.keptOperand[i]];
    const f = t.keptFace[i];
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const v = mesh.corners[c];
      each(points[canonical ? canonical[v] : v]);
    }
  }
}

/**
 * Drops points that lie within `reach` of the line between their neighbours and belong to two polygons only.
 * @returns the polygons that are left; those of an operand stay together, in the order of operands
 */
export function dropStraight(traced: Traced, g: Groups, p: Float64Array, reach: number): Traced {
  const { loops } = traced;
  const uses = new Int32Array(g.pointCount);
  const straight = new Uint8Array(g.pointCount);
  const keep = new Uint8Array(g.pointCount);
  for (const loop of loops)
    for (const v of loop.points) {
      uses[v]++;
      if (!loop.touched) keep[v] = 1;
    }
  for (const loop of loops) {
    if (!loop.touched) continue;
    const n = loop.points.length;
    for (let i = 0; i < n; i++) {
      const v = loop.points[i];
      if (uses[v] !== 2 || keep[v] || wasTwoEdged(v, g)) continue;
      const a = loop.points[(i + n - 1) % n];
      const b = loop.points[(i + 1) % n];
      const s = alongLine(p, a, b, v);
      if (a !== b && s > 0 && s < 1 && offLine(p, a, b, v) <= reach) straight[v]++;
    }
  }
  // Only a point of an operand can be a kept face's too; ask for that only where it matters.
  if (straight.some((n, v) => n === 2 && g.sourceOperand[v] >= 0))
    eachKeptPoint(traced, g, (v) => {
      keep[v] = 1;
    });
  const drop = (v: number): boolean => straight[v] === 2 && !keep[v];
  for (const loop of loops) if (loop.touched && loop.points.some(drop)) withoutPoints(loop, drop, p);
  return {
    ...traced,
    loops: loops.filter((l) => l.points.length >= 3).sort((a, b) => a.operand - b.operand),
  };
}

/** Drops points of a loop; a side made of several takes after the longest of them. */
function withoutPoints(loop: Loop, drop: (v: number) => boolean, p: Float64Array): void {
  const { points, sides } = loop;
  const kept = points.flatMap((v, i) => (drop(v) ? [] : [i]));
  loop.points = kept.map((i) => points[i]);
  if (!sides) return;
  const n = points.length;
  loop.sides = kept.map((i, k) => {
    const end = kept[(k + 1) % kept.length];
    let [best, longest] = [sides[i], -1];
    for (let j = i; ; j = (j + 1) % n) {
      const long = distance(p, points[j], points[(j + 1) % n]);
      if (long > longest) [best, longest] = [sides[j], long];
      if ((j + 1) % n === end) return best;
    }
  });
}

/** A vertex its owner had already put on a straight run is the owner's wish and stays. */
function wasTwoEdged(v: number, g: Groups): boolean {
  const o = g.sourceOperand[v];
  return o >= 0 && valences(g.operands[o].solid.mesh)[g.sourceVertex[v]] === 2;
}

const valenceCache = new WeakMap<PolyMesh, Uint32Array>();
function valences(mesh: PolyMesh): Uint32Array {
  let n = valenceCache.get(mesh);
  if (n) return n;
  n = new Uint32Array(vertexCount(mesh));
  for (const v of mesh.corners) n[v]++;
  valenceCache.set(mesh, n);
  return n;
}

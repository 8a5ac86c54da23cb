/**
 * Cleans the traced polygons of what single precision leaves behind where surfaces lie in one another: welds
 * points closer than the kernel can tell apart, takes out faces thinner than that, and drops points left on
 * straight runs. The polygons stay edge to edge throughout.
 */
import type { PolyMesh } from '../mesh/PolyMesh';
import { vertexCount } from '../mesh/PolyMesh';
import { sizeOf } from '../mesh/measure';
import { TOLERANCE } from '../mesh/tolerance';
import { add, cross, dot, length, pointOf, sub, type Vec3 } from '../mesh/vec3';
import { alongLine, distance, offLine, planThinRemoval } from '../planar/thinFaces';
import { keptPoints, type Groups, type Loop, type Operand, type Traced } from './rebuild';

export function cleanLoops(
  traced: Traced,
  g: Groups,
  positions: Float64Array,
  operands: ReadonlyArray<Operand>,
): Traced {
  const size = sizeOf(operands[0].solid.mesh);
  const reach = 2 * TOLERANCE.kernel * size;
  let out = weldShortEdges(traced, g, positions, reach);
  out.loops = dropHollowShells(out.loops, positions, reach);
  if (out.loops.some((l) => l.touched && hasNoArea(l.points, positions, reach))) {
    out = withKeptAsLoops(out, g);
    out.loops = dropHollowShells(out.loops, positions, reach);
    out.loops = removeThinFaces(out.loops, positions, reach);
  }
  dropStraight(out, g, positions, TOLERANCE.straight * size, operands);
  out.loops = out.loops.filter((l) => l.points.length >= 3);
  // Faces of an operand stay together and in order for what follows.
  out.loops.sort((a, b) => a.operand - b.operand);
  return out;
}

/** The kept faces as loops like the others, for the rare cases in which they may have to give way. */
function withKeptAsLoops(t: Traced, g: Groups): Traced {
  const kept = Array.from(t.keptFace, (face, i): Loop => ({
    group: g.base[t.keptOperand[i]] + g.operands[t.keptOperand[i]].solid.region[face],
    operand: t.keptOperand[i],
    face,
    points: keptPoints(g, t.keptOperand[i], face),
    touched: false,
  }));
  return { keptOperand: new Uint16Array(0), keptFace: new Uint32Array(0), loops: [...kept, ...t.loops] };
}

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

/** Point pairs joined by an edge shorter than `reach` become one, unless one operand owns both. */
function weldShortEdges(traced: Traced, g: Groups, p: Float64Array, reach: number): Traced {
  const to = new Map<number, number>();
  const find = (v: number): number => {
    let r = v;
    while (to.has(r)) r = to.get(r)!;
    return r;
  };
  const owner = (v: number): number => (g.sourceOperand[v] < 0 ? 1e9 : g.sourceOperand[v]);
  for (const { points } of traced.loops)
    for (let i = 0; i < points.length; i++) {
      const u = points[i];
      const v = points[i + 1 < points.length ? i + 1 : 0];
      // Far most edges are long: the coordinate differences tell without a root.
      if (Math.abs(p[3 * u] - p[3 * v]) > reach || Math.abs(p[3 * u + 1] - p[3 * v + 1]) > reach) continue;
      const a = find(u);
      const b = find(v);
      if (a === b || distance(p, a, b) > reach) continue;
      if (owner(a) === owner(b) && g.sourceVertex[a] !== g.sourceVertex[b]) continue;
      const keepA = owner(a) !== owner(b) ? owner(a) < owner(b) : a < b;
      if (keepA) to.set(b, a);
      else to.set(a, b);
    }
  if (!to.size) return traced;
  let reachesKept = false;
  eachKeptPoint(traced, g, (v) => {
    if (to.has(v)) reachesKept = true;
  });
  const all = reachesKept ? withKeptAsLoops(traced, g) : traced;
  const loops = all.loops.flatMap((loop) =>
    loop.points.some((v) => to.has(v)) ? simplify(loop, loop.points.map(find)) : [loop],
  );
  return { ...all, loops };
}

/** The loop with other points: doubled neighbours dropped, and divided where it visits a point twice. */
function simplify(loop: Loop, points: number[]): Loop[] {
  const clean = points.filter((v, i) => v !== points[(i + 1) % points.length]);
  const parts: number[][] = [];
  const stack: number[] = [];
  const at = new Map<number, number>();
  for (const v of clean) {
    const i = at.get(v);
    if (i !== undefined) {
      const part = stack.splice(i);
      part.forEach((u) => at.delete(u));
      if (part.length >= 3) parts.push(part);
    }
    at.set(v, stack.push(v) - 1);
  }
  if (stack.length >= 3) parts.push(stack);
  return parts.map((part) => ({ ...loop, points: part, touched: true }));
}

/**
 * Where a surface was cut with itself, shells of no thickness may be left; they hold nothing and go. A set of
 * connected loops is a shell when its area vectors add up to nothing.
 */
function dropHollowShells(loops: Loop[], p: Float64Array, reach: number): Loop[] {
  const parent = new Map<number, number>();
  const find = (v: number): number => {
    let r = v;
    while (parent.has(r)) r = parent.get(r)!;
    if (r !== v) parent.set(v, r);
    return r;
  };
  for (const { points } of loops)
    for (let i = 1; i < points.length; i++) {
      const [a, b] = [find(points[0]), find(points[i])];
      if (a !== b) parent.set(b, a);
    }
  const shells = new Map<number, { volume: number; area: number; sum: Vec3 }>();
  for (const { points } of loops) {
    const root = find(points[0]);
    let s = shells.get(root);
    if (!s) shells.set(root, (s = { volume: 0, area: 0, sum: [0, 0, 0] }));
    for (let i = 1; i + 1 < points.length; i++) {
      const [a, b, c] = [points[0], points[i], points[i + 1]].map((v) => pointOf(p, v));
      const o = pointOf(p, root);
      const n = cross(sub(b, a), sub(c, a));
      s.area += length(n) / 2;
      s.sum = add(s.sum, n);
      s.volume += dot(sub(a, o), n) / 6;
    }
  }
  return loops.filter(({ points }) => {
    const s = shells.get(find(points[0]))!;
    return Math.abs(s.volume) > reach * s.area || length(s.sum) > 1e-6 * s.area;
  });
}

/**
 * A face all of whose points lie within `reach` of one line is taken out; its points go into the faces on
 * its other sides, so that those meet each other directly.
 */
function removeThinFaces(loops: Loop[], p: Float64Array, reach: number): Loop[] {
  let left = loops;
  for (let round = 0; round < 32; round++) {
    const plan = planThinRemoval(
      left.map((l) => l.points),
      (i) => left[i].touched,
      p,
      reach,
    );
    if (!plan) return left;
    left = left.flatMap((l, i) => {
      if (plan.removed.has(i)) return [];
      const add = plan.inserts.get(i);
      if (!add) return [l];
      const points = l.points.flatMap((v, k) => [v, ...(add.get(k) ?? [])]);
      return simplify({ ...l, touched: true }, points);
    });
  }
  return left;
}

/** Less area than a strip as thin as the kernel's precision, folded faces included. */
function hasNoArea(points: number[], p: Float64Array, reach: number): boolean {
  let area: Vec3 = [0, 0, 0];
  let rim = 0;
  const o = pointOf(p, points[0]);
  for (let i = 1; i < points.length; i++) {
    const a = sub(pointOf(p, points[i]), o);
    if (i + 1 < points.length) area = add(area, cross(a, sub(pointOf(p, points[i + 1]), o)));
    rim += distance(p, points[i - 1], points[i]);
  }
  return length(area) <= 2 * reach * rim;
}

function dropStraight(
  traced: Traced,
  g: Groups,
  p: Float64Array,
  reach: number,
  operands: ReadonlyArray<Operand>,
): void {
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
      if (uses[v] !== 2 || keep[v] || wasTwoEdged(v, g, operands)) continue;
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
  for (const loop of loops)
    if (loop.touched && loop.points.some(drop)) loop.points = loop.points.filter((v) => !drop(v));
}

/** A vertex its owner had already put on a straight run is the owner's wish and stays. */
function wasTwoEdged(v: number, g: Groups, operands: ReadonlyArray<Operand>): boolean {
  const o = g.sourceOperand[v];
  return o >= 0 && valences(operands[o].solid.mesh)[g.sourceVertex[v]] === 2;
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

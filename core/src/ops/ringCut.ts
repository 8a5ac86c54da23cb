/** Ring cut: new edge loops across the ring of quads through each picked edge, spaced evenly or slid to one side. */
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { edgeBetween, nextCorner, topologyOf } from '../mesh/Topology';
import { keepManifold } from '../mesh/makeManifold';
import { OperationError, warn } from '../mesh/errors';
import { selectionOf } from '../select/selection';
import { edgeRing } from '../select/walks';
import { lerp, pointOf, sub, unit, type Vec3 } from '../mesh/vec3';
import { FaceDivider } from './divideFaces';
import { count, params, share } from './fields';
import { counted, defineOperation, refuseTooMany } from './operation';
import { counter } from './pulls';
import { onBox } from './tool';

const schema = params({
  count: count('Loops', 1, 1, 256),
  slide: share('Slide', 0, -0.999, 0.999),
});

/** One edge for each ring the picked edges lie on. */
function ringsOf(mesh: PolyMesh, edges: ReadonlyArray<number>): number[] {
  const taken = new Set<number>();
  return edges.filter((e) => {
    if (taken.has(e)) return false;
    for (const r of edgeRing(mesh, e).edges) taken.add(r);
    return true;
  });
}

/** Positions of `n` loops between the two sides, as shares; slid towards one of them without meeting it. */
export function loopShares(n: number, slide: number): number[] {
  return Array.from({ length: n }, (_, k) => {
    const s = (k + 1) / (n + 1);
    return slide < 0 ? s * (1 + slide) : s + (1 - s) * slide;
  });
}

export const ringCut = defineOperation({
  kind: 'ringCut',
  title: 'Ring cut',
  on: ['edge'],
  params: schema,
  example: onBox({ op: 'ringCut', select: { edges: [0] }, count: 2 }),
  tools: [
    {
      draws: 'ring',
      actsOnPicks: true,
      words: 'cut slice divide insert',
      ring: { edge: 1, bare: 2 },
      next: { edge: 1 },
    },
  ],
  pulls(mesh, { indices: [e] }) {
    const t = topologyOf(mesh);
    const [a, b] = [0, 1].map((k) => pointOf(mesh.positions, t.edges[2 * e + k]));
    const zero = lerp(a, b, 0.5);
    const way = sub(b, a);
    return [
      { key: 'slide', zero, along: unit(way), rate: 2 / (Math.hypot(...way) || 1) },
      counter('count', zero),
    ];
  },
  refuses: ['no-ring'],
  says: ({ loops }) => `Cut ${counted(loops, 'loop')}.`,
  /** At least so many: where rings cross, each is longer by what the one before added. */
  faces(mesh, selection, p) {
    let quads = 0;
    for (const e of ringsOf(mesh, selection.indices)) walkRing(mesh, e, () => quads++);
    return faceCount(mesh) + quads * p.count;
  },
  run(mesh, selection, p, _, limits) {
    const t = topologyOf(mesh);
    // Picked edges of one ring mean one cut. Rings may cross, so each is cut in the result of the one before.
    const seeds = ringsOf(mesh, selection.indices).map((e): [number, number] => [
      t.edges[2 * e],
      t.edges[2 * e + 1],
    ]);
    let out = mesh;
    const ends: Array<[number, number]> = [];
    let stops = 0;
    for (const [a, b] of seeds) {
      const edge = edgeFrom(out, a, b, mesh.positions);
      let quads = 0;
      walkRing(out, edge, () => quads++);
      refuseTooMany(ringCut, faceCount(out) + quads * p.count, limits.faces);
      const done = cutRing(out, edge, loopShares(p.count, p.slide));
      // Old points keep their numbers: only new ones are added.
      out = done.mesh;
      ends.push(...done.lines);
      stops += done.stops;
    }
    // Loops that run over a face more than once may meet themselves.
    out = keepManifold(out, mesh);
    const after = topologyOf(out);
    const lines = ends.map(([a, b]) => edgeBetween(out, after, a, b)).filter((e) => e >= 0);
    if (!lines.length)
      throw new OperationError(
        'no-ring',
        'No quad lies beside the picked edge, so no ring runs through it.',
        { domain: 'edge', indices: [...selection.indices] },
        'Pick an edge between quads, or connect points instead.',
      );
    return {
      mesh: out,
      selection: selectionOf('edge', lines),
      counts: { loops: seeds.length * p.count },
      warnings: stops
        ? [warn('no-quad', `${counted(stops, 'end')} stopped at a face that is not a quad.`)]
        : undefined,
    };
  },
});

/**
 * The lines a ring cut would make, without cutting: two points per line, in the piece's frame.
 * @returns 6 numbers per line
 */
export function ringCutLines(
  mesh: PolyMesh,
  edge: number,
  p: { count: number; slide: number },
): Float64Array {
  const t = topologyOf(mesh);
  const out: number[] = [];
  const shares = loopShares(p.count, p.slide);
  const at = (c: number, s: number): Vec3 =>
    lerp(
      pointOf(mesh.positions, mesh.corners[c]),
      pointOf(mesh.positions, mesh.corners[nextCorner(mesh, t, c)]),
      s,
    );
  walkRing(mesh, edge, (c, opposite, forward) => {
    for (const s of shares) {
      const x = forward ? s : 1 - s;
      out.push(...at(c, x), ...at(opposite, 1 - x));
    }
  });
  return Float64Array.from(out);
}

/**
 * Walks the ring of quads through an edge, both ways.
 * @param each the corner a quad is entered by, the one opposite, and whether shares count as on the first edge
 * @returns how many ends stopped at a face that is not a quad
 */
function walkRing(
  mesh: PolyMesh,
  edge: number,
  each: (corner: number, opposite: number, forward: boolean) => void,
): number {
  const t = topologyOf(mesh);
  const crossed = new Set<number>();
  let stops = 0;
  const start = t.cornerOfEdge[edge];
  for (const forward of [true, false])
    for (let c = forward ? start : t.twin[start]; c >= 0;) {
      const f = t.faceOfCorner[c];
      if (crossed.has(f)) break;
      if (mesh.faceStart[f + 1] - mesh.faceStart[f] !== 4) {
        stops++;
        break;
      }
      crossed.add(f);
      const opposite = nextCorner(mesh, t, nextCorner(mesh, t, c));
      each(c, opposite, forward);
      c = t.twin[opposite];
    }
  return stops;
}

/** The edge that starts at `a` and runs towards `b`, which may have been divided since. */
function edgeFrom(mesh: PolyMesh, a: number, b: number, before: Float64Array): number {
  const t = topologyOf(mesh);
  const whole = edgeBetween(mesh, t, a, b);
  if (whole >= 0) return whole;
  const along = [0, 1, 2].map((k) => before[3 * b + k] - before[3 * a + k]);
  let best = -1;
  let most = -Infinity;
  for (let e = 0; e < t.edgeCount; e++) {
    if (t.edges[2 * e] !== a && t.edges[2 * e + 1] !== a) continue;
    const w = t.edges[2 * e] === a ? t.edges[2 * e + 1] : t.edges[2 * e];
    const d = [0, 1, 2].map((k) => mesh.positions[3 * w + k] - mesh.positions[3 * a + k]);
    const cos =
      (d[0] * along[0] + d[1] * along[1] + d[2] * along[2]) / (Math.hypot(...d) * Math.hypot(...along));
    if (cos > most) [best, most] = [e, cos];
  }
  return best;
}

function cutRing(
  mesh: PolyMesh,
  edge: number,
  shares: number[],
): { mesh: PolyMesh; lines: Array<[number, number]>; stops: number } {
  const t = topologyOf(mesh);
  const divider = new FaceDivider(mesh);
  let lines = 0;
  const pointsAt = (c: number, forward: boolean): number[] => {
    const e = t.edgeOfCorner[c];
    const along = (t.edges[2 * e] === mesh.corners[c]) === forward;
    return shares.map((x) => divider.pointOnEdge(e, along ? x : 1 - x));
  };
  const stops = walkRing(mesh, edge, (c, opposite, forward) => {
    const there = pointsAt(opposite, !forward);
    pointsAt(c, forward).forEach((p, k) => divider.divide(t.faceOfCorner[c], { from: p, to: there[k] }));
    lines++;
  });
  if (!lines) return { mesh, lines: [], stops };
  const out = divider.finish();
  return { mesh: out.mesh, lines: out.lines, stops };
}

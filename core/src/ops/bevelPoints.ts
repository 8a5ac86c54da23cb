/**
 * Bevel of points: each picked corner is cut off at one distance along its edges and filled with a flat face or a
 * rounded patch. All corners grow together; where two meet on an edge, or one reaches a point that stays, both stop
 * there and are welded. In the faces around, every cut runs between neighbouring edges, so faces stay in their planes.
 */
import { MeshDraft, type Source } from '../mesh/MeshDraft';
import { RANK, type Mix } from '../mesh/layers';
import { keepManifold } from '../mesh/makeManifold';
import { sizeOf } from '../mesh/measure';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { OperationError, warn } from '../mesh/errors';
import { edgesAt, nextCorner, prevCorner, topologyOf, type Topology } from '../mesh/Topology';
import { TOLERANCE } from '../mesh/tolerance';
import { add, dot, lerp, pointOf, scale, sub, unit, type Vec3 } from '../mesh/vec3';
import { Heap } from '../spatial/Heap';
import { selectionOf } from '../select/selection';
import { gridPatch, type PatchSide } from './bevel/patch';
import { onProfile, profileWeights } from './bevel/profile';
import { count, length, params, share } from './fields';
import { type CompleteParams, counted, defineOperation } from './operation';
import { counter } from './pulls';
import { onBox } from './tool';

const schema = params({
  width: length('Width', 2, 0.001, 10000),
  segments: count('Segments', 1, 1, 32),
  profile: share('Profile', 1, -1, 2),
});
type Params = CompleteParams<typeof schema>;

export const bevelPoints = defineOperation({
  kind: 'bevelPoints',
  title: 'Bevel points',
  on: ['vertex'],
  params: schema,
  example: onBox({ op: 'bevelPoints', select: { rule: 'all', of: 'points' }, width: 5 }),
  tools: [{ id: 'bevel', start: (hand) => ({ width: hand.share(0.01), segments: 2 }), ring: { point: 2 } }],
  pulls(mesh, { indices: [v] }) {
    const t = topologyOf(mesh);
    const zero = pointOf(mesh.positions, v);
    const [e] = edgesAt(mesh, v);
    if (e === undefined) return [];
    const to = t.edges[2 * e] === v ? t.edges[2 * e + 1] : t.edges[2 * e];
    const along = unit(sub(pointOf(mesh.positions, to), zero));
    return [{ key: 'width', zero, along, rate: 1 }, counter('segments', zero)];
  },
  refuses: ['pinched'],
  says: ({ points }) => `Bevelled ${counted(points, 'point')}.`,
  // A corner of n edges is cut by a patch of about n/2 × segments² faces; n is 4 on most meshes.
  faces: (mesh, s, p) => faceCount(mesh) + s.indices.length * 2 * p.segments ** 2,
  run(mesh, selection, p) {
    refusePinched(mesh, selection.indices);
    const reach = grow(mesh, selection.indices, p.width);
    const cutting = new Cutting(mesh, reach, p);
    const { mesh: out, firstNewFace, patches } = cutting.finish();
    const made = Array.from({ length: patches }, (_, i) => firstNewFace + cutting.shrunken + i);
    const early = [...reach].filter(([, r]) => r < p.width * (1 - 1e-12)).map(([v]) => v);
    return {
      mesh: keepManifold(following(out, made), mesh),
      selection: selectionOf('face', made),
      counts: { points: reach.size },
      warnings: early.length
        ? [
            warn(
              'stopped',
              `${counted(early.length, 'corner')} stopped early, where corners meet.`,
              'vertex',
              early,
            ),
          ]
        : undefined,
    };
  },
});

/**
 * How far each picked point is cut off along its edges, mm. Growth is even; an edge used up stops whoever was still
 * growing on it. O(n log n) in the edges around.
 */
function grow(mesh: PolyMesh, picked: ReadonlyArray<number>, width: number): Map<number, number> {
  const t = topologyOf(mesh);
  const stopped = new Map<number, number>();
  const on = new Set(picked);
  const growing = (v: number): boolean => on.has(v) && !stopped.has(v);
  const heap = new Heap<[number, number]>(([, t]) => t);
  const edges: Array<{ a: number; b: number; length: number }> = [];
  const due = (e: number): number => {
    const { a, b, length: l } = edges[e];
    return growing(a) && growing(b) ? l / 2 : l - (stopped.get(a) ?? 0) - (stopped.get(b) ?? 0);
  };
  const seen = new Set<number>();
  for (const v of on)
    for (const e of edgesAround(mesh, t, v)) {
      if (seen.has(e)) continue;
      seen.add(e);
      const [a, b] = [t.edges[2 * e], t.edges[2 * e + 1]];
      const d = sub(pointOf(mesh.positions, b), pointOf(mesh.positions, a));
      const i = edges.push({ a, b, length: Math.sqrt(dot(d, d)) }) - 1;
      heap.push([i, due(i)]);
    }
  for (let top = heap.pop(); top; top = heap.pop()) {
    const [e, time] = top;
    if (time >= width) break;
    const { a, b } = edges[e];
    if (!growing(a) && !growing(b)) continue;
    const now = due(e);
    // One end stopped since: what is left of the edge lasts longer.
    if (now > time) heap.push([e, now]);
    else for (const v of [a, b]) if (growing(v)) stopped.set(v, time);
  }
  for (const v of on) if (!stopped.has(v)) stopped.set(v, width);
  return stopped;
}

/** @throws OperationError `pinched` where sheets meet in a point only: it has no corner to cut off */
function refusePinched(mesh: PolyMesh, picked: ReadonlyArray<number>): void {
  const t = topologyOf(mesh);
  const bad = picked.filter((v) => fanOf(mesh, t, v).length !== t.vertexStart[v + 1] - t.vertexStart[v]);
  if (bad.length)
    throw new OperationError(
      'pinched',
      `${counted(bad.length, 'picked point')} joins sheets that touch in a point only.`,
      { domain: 'vertex', indices: bad },
      'Split the sheets apart first.',
    );
}

/** Face corners at a point, counter-clockwise; an open fan starts at its open outgoing edge. */
function fanOf(mesh: PolyMesh, t: Topology, v: number): number[] {
  let start = t.vertexCorners[t.vertexStart[v]];
  for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++)
    if (t.twin[t.vertexCorners[i]] < 0) start = t.vertexCorners[i];
  const out: number[] = [];
  let c = start;
  do {
    out.push(c);
    c = t.twin[prevCorner(mesh, t, c)];
  } while (c >= 0 && c !== start && out.length <= t.vertexCorners.length);
  return out;
}

/** New corners bend the light, and leave their neighbours flat. */
function following(mesh: PolyMesh, faces: number[]): PolyMesh {
  const data = new Uint8Array(faceCount(mesh));
  const before = mesh.layers.face.rank?.data;
  if (before) data.set(before);
  for (const f of faces) data[f] = RANK.follow;
  return { ...mesh, layers: { ...mesh.layers, face: { ...mesh.layers.face, rank: { size: 1, data } } } };
}

function* edgesAround(mesh: PolyMesh, t: Topology, v: number): Generator<number> {
  for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++) {
    const c = t.vertexCorners[i];
    yield t.edgeOfCorner[c];
    yield t.edgeOfCorner[prevCorner(mesh, t, c)];
  }
}

interface Arc {
  ids: number[];
  middle: Vec3;
}

class Cutting {
  private readonly t: Topology;
  private readonly draft: MeshDraft;
  /** Points where edges are cut, by edge and end. */
  private readonly cuts = new Map<string, number>();
  private readonly arcs = new Map<string, Arc>();
  /** The source of layers for the corners of new points. */
  private readonly from = new Map<number, Map<number, Source>>();
  private patchCount = 0;
  shrunken = 0;

  constructor(
    private readonly mesh: PolyMesh,
    private readonly reach: ReadonlyMap<number, number>,
    private readonly p: Params,
  ) {
    this.t = topologyOf(mesh);
    this.draft = new MeshDraft(mesh);
    const faces = new Set<number>();
    for (const v of reach.keys())
      for (let i = this.t.vertexStart[v]; i < this.t.vertexStart[v + 1]; i++)
        faces.add(this.t.faceOfCorner[this.t.vertexCorners[i]]);
    for (const f of [...faces].sort((a, b) => a - b)) this.shrink(f);
    for (const v of reach.keys()) this.fillCorner(v);
  }

  finish(): { mesh: PolyMesh; firstNewFace: number; patches: number } {
    const { mesh, firstNewFace } = this.draft.finish();
    return { mesh, firstNewFace, patches: this.patchCount };
  }

  /** The point where the edge leaving a corner, or entering it, is cut off at that corner's end. */
  private cutPoint(corner: number, entering: boolean): number {
    const { mesh, t } = this;
    const c = entering ? prevCorner(mesh, t, corner) : corner;
    const e = t.edgeOfCorner[c];
    const v = mesh.corners[corner];
    const u = entering ? mesh.corners[c] : mesh.corners[nextCorner(mesh, t, c)];
    const [V, U] = [pointOf(mesh.positions, v), pointOf(mesh.positions, u)];
    const d = sub(U, V);
    const l = Math.sqrt(dot(d, d));
    const [mine, other] = [this.reach.get(v)!, this.reach.get(u) ?? 0];
    const meets = mine + other >= l * (1 - TOLERANCE.weld);
    if (meets && !this.reach.has(u)) return u;
    const key = `${e}/${meets ? 'meet' : v}`;
    let point = this.cuts.get(key);
    if (point === undefined) {
      const s = l > 0 ? Math.min(1, mine / l) : 0;
      point = this.draft.addPoint(lerp(V, U, s), { of: [v, u], by: [1 - s, s] });
      this.cuts.set(key, point);
    }
    return point;
  }

  private shrink(f: number): void {
    const { mesh, t } = this;
    const loop: number[] = [];
    const corners: Source[] = [];
    const edges: number[] = [];
    const put = (p: number, source: Source, edge: number): void => {
      if (loop.length && loop[loop.length - 1] === p) {
        edges[edges.length - 1] = edge;
        return;
      }
      loop.push(p);
      corners.push(source);
      edges.push(edge);
    };
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const edge = t.edgeOfCorner[c];
      if (!this.reach.has(mesh.corners[c])) {
        put(mesh.corners[c], c, edge);
        continue;
      }
      const { ids, sources } = this.across(c);
      ids.forEach((p, k) => put(p, sources[k], k === ids.length - 1 ? edge : -1));
    }
    if (loop.length > 1 && loop[0] === loop[loop.length - 1]) {
      loop.pop();
      corners.pop();
      edges.pop();
    }
    this.draft.dropFace(f);
    if (loop.length < 3) return;
    this.draft.addFace({ loop, face: f, corners, edges, inPlace: true });
    this.shrunken++;
  }

  /** The cut across a face's corner, from the edge that enters it to the one that leaves it. */
  private across(corner: number): { ids: number[]; sources: Source[]; middle: Vec3 } {
    const { mesh, t, p } = this;
    const [a, b] = [this.cutPoint(corner, true), this.cutPoint(corner, false)];
    const before = prevCorner(mesh, t, corner);
    const after = nextCorner(mesh, t, corner);
    const tip = pointOf(mesh.positions, mesh.corners[corner]);
    const [A, B] = [this.draft.at(a), this.draft.at(b)];
    const share = (to: Vec3, c: number): number => {
      const d = sub(pointOf(mesh.positions, mesh.corners[c]), tip);
      return Math.min(1, Math.sqrt(dot(sub(to, tip), sub(to, tip)) / (dot(d, d) || 1)));
    };
    const [sa, sb] = [share(A, before), share(B, after)];
    const mix = (x: number, y: number): Mix => ({
      of: [corner, before, after],
      by: [1 - x * sa - y * sb, x * sa, y * sb],
    });
    const angle = Math.acos(Math.min(1, Math.max(-1, dot(unit(sub(A, tip)), unit(sub(B, tip))))));
    const weights = profileWeights(p.segments, p.profile, angle);
    const middle = onProfile(A, tip, B, profileWeights(2, p.profile, angle)[1]);
    // Two faces that share both edges of a point share the curve across it too.
    const key = `${mesh.corners[corner]}/${Math.min(a, b)}/${Math.max(a, b)}`;
    const found = this.arcs.get(key);
    const ids = found
      ? found.ids[0] === a
        ? found.ids
        : [...found.ids].reverse()
      : weights.map((w, i) => {
          if (i === 0) return a;
          if (i === p.segments) return b;
          return this.draft.addPoint(onProfile(A, tip, B, w), mesh.corners[corner]);
        });
    if (!found) this.arcs.set(key, { ids, middle });
    const sources = weights.map(([x, y]) => mix(x, y));
    const known = new Map<number, Source>(ids.map((id, i) => [id, sources[i]]));
    this.from.set(corner, known);
    return { ids, sources, middle: found?.middle ?? middle };
  }

  /** Fills what is cut off at a point; on an open border the border closes it. */
  private fillCorner(v: number): void {
    const { mesh, t, p } = this;
    const fan = fanOf(mesh, t, v);
    const open = t.twin[fan[0]] < 0;
    const sides: PatchSide[] = [];
    const tip = pointOf(mesh.positions, v);
    for (const c of fan) {
      const { ids, middle } = this.across(c);
      if (ids[0] === ids[ids.length - 1]) continue;
      // Counter-clockwise about the point the patch runs from the edge that leaves a corner to the one that enters.
      const turned = [...ids].reverse();
      const points = turned.map((id) => this.draft.at(id));
      sides.push({ ids: turned, points, middle, normals: null, enters: inward(points, tip) });
    }
    if (open && fan.length < 2) return;
    if (open) {
      const [a, b] = [sides[sides.length - 1].ids.at(-1)!, sides[0].ids[0]];
      const [A, B] = [this.draft.at(a), this.draft.at(b)];
      const ids = Array.from({ length: p.segments + 1 }, (_, k) => {
        if (k === 0 || k === p.segments) return k ? b : a;
        return this.draft.addPoint(lerp(A, B, k / p.segments), v);
      });
      sides.push({
        ids,
        points: ids.map((id) => this.draft.at(id)),
        middle: lerp(A, B, 0.5),
        normals: null,
        enters: [0, 0, 0],
      });
    }
    // A point between two faces only has the same curve on both: nothing is left to fill.
    if (sides.length < 3) return;
    const face = t.faceOfCorner[fan[0]];
    const loops =
      p.segments === 1
        ? [sides.map((s) => s.ids[0])]
        : gridPatch(sides, p.segments, p.profile, tip, sizeOf(mesh), (at) => this.draft.addPoint(at, v));
    const source = this.sourceAround(fan);
    for (const loop of loops) {
      this.draft.addFace({
        loop,
        face,
        corners: loop.map(source),
        made: { role: 'corner', which: this.patchCount },
      });
      this.patchCount++;
    }
  }

  /** Corner layers go on over the patch where they agree around the point; else one corner's serve all of it. */
  private sourceAround(fan: number[]): (point: number) => Source {
    const { corner } = this.mesh.layers;
    const agree = Object.values(corner).every(({ size, data }) =>
      fan.every((c) =>
        Array.from({ length: size }, (_, k) => data[c * size + k] === data[fan[0] * size + k]).every(Boolean),
      ),
    );
    if (!agree) return () => fan[0];
    return (point) => {
      for (const c of fan) {
        const s = this.from.get(c)?.get(point);
        if (s !== undefined) return s;
      }
      return fan[0];
    };
  }
}

/** Unit direction in which the surface goes from a side's middle to the corner that was cut off. */
function inward(points: Vec3[], tip: Vec3): Vec3 {
  const [a, b] = [points[0], points[points.length - 1]];
  return unit(sub(tip, scale(add(a, b), 0.5)));
}

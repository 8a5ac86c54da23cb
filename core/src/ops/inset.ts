/**
 * Inset: a ring of faces along the border of picked faces, of even width also at uneven corners; outward with a
 * negative thickness. A depth lowers or raises what the ring encloses.
 *
 * A border point moves so that it keeps the thickness from both border sides that meet in it, in the planes of the
 * faces beside them: the meeting of two moved lines in a flat face, least squares where the border bends over faces.
 * Each island stops just before a side of its border would be used up or the border would cross itself.
 */
import { MeshDraft, between } from '../mesh/MeshDraft';
import { faceCorners, faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { faceNormal } from '../mesh/measure';
import { displacement } from '../mesh/offset';
import { nextCorner, prevCorner, topologyOf, type Topology } from '../mesh/Topology';
import { OperationError, warn } from '../mesh/errors';
import { add, addScaled, cross, dot, lerp, pointOf, scale, sub, unit, type Vec3 } from '../mesh/vec3';
import { islandsOf, selectionOf } from '../select/selection';
import { choice, length, params } from './fields';
import { counted, defineOperation } from './operation';
import { sideOf, standing, type Pull } from './pulls';
import { onBox } from './tool';

const schema = params({
  thickness: length('Thickness', 2),
  depth: length('Depth', 0),
  by: choice('Inset', ['region', 'each'], 'region'),
});

export const inset = defineOperation({
  kind: 'inset',
  title: 'Inset',
  on: ['face'],
  params: schema,
  example: onBox({ op: 'inset', select: { rule: 'facing', direction: [0, 1, 0] }, thickness: 5 }),
  tools: [
    {
      start: (hand) => ({ thickness: hand.share(0.02) }),
      words: 'offset border',
      ring: { face: 1 },
      next: { face: 1 },
    },
    {
      id: 'insetEach',
      title: 'Inset each face',
      short: 'Inset each',
      start: (hand) => ({ thickness: hand.share(0.02, true), by: 'each' }),
    },
  ],
  pulls(mesh, selection, p) {
    const t = topologyOf(mesh);
    const [first] = selection.indices;
    const faces = p.by === 'each' ? [first] : islandsOf(mesh, selection).find((g) => g.includes(first))!;
    const own = new Set(faces);
    const rim = faces
      .flatMap((f) => faceCorners(mesh, f))
      .filter((c) => t.twin[c] < 0 || !own.has(t.faceOfCorner[t.twin[c]]));
    if (!rim.length) return [];
    const lengthOf = (c: number): number => sideOf(mesh, c).length;
    const c = rim.reduce((a, b) => (lengthOf(b) > lengthOf(a) * 1.0001 ? b : a));
    const { ends, inward } = sideOf(mesh, c);
    // Off the middle of the side, where the depth's handle often is.
    const zero = lerp(...ends, 0.25);
    // Outward it goes over the faces beside.
    const outward = p.thickness < 0 && t.twin[c] >= 0;
    const along = outward ? scale(sideOf(mesh, t.twin[c]).inward, -1) : inward;
    const { middle, normal } = standing(mesh, faces);
    const out: Pull[] = [{ key: 'thickness', zero, along, rate: 1 }];
    if (p.thickness >= 0)
      out.push({ key: 'depth', zero: middle, along: normal ?? faceNormal(mesh, first), rate: 1 });
    return out;
  },
  refuses: ['no-outside'],
  says: ({ faces }) => `Inset ${counted(faces, 'face')}.`,
  run(mesh, selection, p) {
    const picked = p.by === 'each' ? selection.indices.map((f) => [f]) : islandsOf(mesh, selection);
    const outward = p.thickness < 0;
    const work = new Inset(mesh, outward ? outside(mesh, picked) : picked, Math.abs(p.thickness), outward);
    const { result, stopped, reached } = work.run(outward ? 0 : p.depth);
    const faces = outward
      ? [...selection.indices].map((f) => result.faceOf[f])
      : work.inner.map((i) => result.firstNewFace + i);
    return {
      mesh: result.mesh,
      selection: selectionOf('face', faces),
      counts: { faces: selection.indices.length },
      warnings: stopped
        ? [
            warn(
              'stopped',
              `${counted(stopped, 'border')} stopped at ${Number(reached.toPrecision(3))} mm: it would have crossed itself.`,
            ),
          ]
        : undefined,
    };
  },
});

/** Outward, the ring is laid on the faces beyond the border. */
function outside(mesh: PolyMesh, groups: number[][]): number[][] {
  const picked = new Set(groups.flat());
  const rest: number[] = [];
  for (let f = 0; f < faceCount(mesh); f++) if (!picked.has(f)) rest.push(f);
  if (!rest.length)
    throw new OperationError(
      'no-outside',
      'There are no faces around the picked ones to inset into.',
      undefined,
      'Pick fewer faces, or use a positive thickness.',
    );
  return islandsOf(mesh, { kind: 'face', indices: rest });
}

/** One border point of one group: the corners of the group's faces around it, from border side to border side. */
interface BorderPoint {
  corners: number[];
  vertex: number;
  /** Per unit of thickness. */
  move: Vec3;
  group: number;
  point: number;
}

class Inset {
  readonly inner: number[] = [];
  private readonly t: Topology;
  private readonly group: Int32Array;
  private readonly border = new Map<number, BorderPoint>();
  private readonly of: Array<BorderPoint | undefined>;

  constructor(
    private readonly mesh: PolyMesh,
    private readonly groups: number[][],
    private readonly thickness: number,
    private readonly outward: boolean,
  ) {
    this.t = topologyOf(mesh);
    this.group = new Int32Array(faceCount(mesh)).fill(-1);
    groups.forEach((list, i) => list.forEach((f) => (this.group[f] = i)));
    this.of = new Array<BorderPoint | undefined>(mesh.corners.length);
    for (let c = 0; c < mesh.corners.length; c++)
      if (this.group[this.t.faceOfCorner[c]] >= 0) this.addBorderPoint(c);
  }

  run(depth: number): { result: ReturnType<MeshDraft['finish']>; stopped: number; reached: number } {
    const { mesh, t, group } = this;
    const draft = new MeshDraft(mesh);
    const limits = this.groups.map(() => Infinity);
    this.limitBySides(limits);
    this.limitByCrossing(limits);
    let stopped = 0;
    let reached = Infinity;
    const widths = limits.map((l) => {
      // Just before the limit what is left would be as good as nothing.
      const most = l * (1 - 1e-3);
      if (most >= this.thickness) return this.thickness;
      stopped++;
      reached = Math.min(reached, most);
      return most;
    });
    for (const b of this.border.values()) {
      const to = addScaled(pointOf(mesh.positions, b.vertex), b.move, widths[b.group]);
      b.point = draft.addPoint(depth ? add(to, this.sink(b.corners, depth)) : to, this.sourceAt(b, to));
    }
    if (depth) this.sinkInside(draft, depth);
    const sources = new Array<number | ReturnType<typeof between>>(mesh.corners.length);
    for (const [c, b] of this.of.entries()) sources[c] = b ? this.cornerSource(c, b, widths[b.group]) : c;
    for (let f = 0; f < group.length; f++) {
      if (group[f] < 0) continue;
      const corners = faceCorners(mesh, f);
      if (!corners.some((c) => this.of[c])) continue;
      draft.dropFace(f);
      this.inner.push(this.inner.length);
      draft.addFace({
        loop: corners.map((c) => this.of[c]?.point ?? mesh.corners[c]),
        face: f,
        corners: corners.map((c) => sources[c]),
        edges: corners.map((c) => (this.isBorder(c) ? -1 : t.edgeOfCorner[c])),
        inPlace: depth === 0,
      });
    }
    for (let c = 0; c < mesh.corners.length; c++) {
      if (!this.isBorder(c)) continue;
      const d = nextCorner(mesh, t, c);
      draft.addFace({
        loop: [mesh.corners[c], mesh.corners[d], this.of[d]!.point, this.of[c]!.point],
        face: t.faceOfCorner[c],
        corners: [c, d, sources[d], sources[c]],
        edges: [t.edgeOfCorner[c], -1, -1, -1],
        inPlace: depth === 0,
        made: { role: 'wall', other: t.twin[c] < 0 ? -1 : t.faceOfCorner[t.twin[c]] },
      });
    }
    return { result: draft.finish(), stopped, reached };
  }

  /** The side leaving corner c has a face of the group on one side only. */
  private isEnd(c: number): boolean {
    const tw = this.t.twin[c];
    return tw < 0 || this.group[this.t.faceOfCorner[tw]] !== this.group[this.t.faceOfCorner[c]];
  }

  /** The edge is an end and the ring runs along it: outward, open rims stay as they are. */
  private isBorder(c: number): boolean {
    return this.group[this.t.faceOfCorner[c]] >= 0 && this.isEnd(c) && (!this.outward || this.t.twin[c] >= 0);
  }

  private addBorderPoint(start: number): void {
    const { mesh, t } = this;
    if (!this.isEnd(start)) return;
    const corners = [start];
    // From the side that leaves the point, over the faces of the group, to the side that arrives.
    for (let c = start; ;) {
      const into = prevCorner(mesh, t, c);
      if (this.isEnd(into)) break;
      corners.push((c = t.twin[into]));
    }
    const arriving = prevCorner(mesh, t, corners[corners.length - 1]);
    if (!this.isBorder(start) && !this.isBorder(arriving)) return;
    // Along an end that is no border, the point stays on the line of that end.
    const planes = [start, arriving].map((c) => ({ n: this.inward(c), h: this.isBorder(c) ? 1 : 0 }));
    for (const c of [start, arriving]) planes.push({ n: faceNormal(mesh, t.faceOfCorner[c]), h: 0 });
    const b = {
      corners,
      vertex: mesh.corners[start],
      move: displacement(planes),
      group: this.group[t.faceOfCorner[start]],
      point: -1,
    };
    this.border.set(start, b);
    for (const c of corners) this.of[c] = b;
  }

  /** Unit vector in the face, square to the side leaving c, towards the face's inside. */
  private inward(c: number): Vec3 {
    const { mesh, t } = this;
    const along = sub(
      pointOf(mesh.positions, mesh.corners[nextCorner(mesh, t, c)]),
      pointOf(mesh.positions, mesh.corners[c]),
    );
    return unit(cross(faceNormal(mesh, t.faceOfCorner[c]), unit(along)));
  }

  private limitBySides(limits: number[]): void {
    const { mesh, t } = this;
    for (let c = 0; c < mesh.corners.length; c++) {
      if (!this.isBorder(c)) continue;
      const d = nextCorner(mesh, t, c);
      const [a, b] = [this.of[c]!, this.of[d]!];
      const side = sub(pointOf(mesh.positions, b.vertex), pointOf(mesh.positions, a.vertex));
      const l = Math.sqrt(dot(side, side));
      const shrinking = dot(sub(a.move, b.move), scale(side, 1 / (l || 1)));
      if (shrinking > 1e-12) limits[a.group] = Math.min(limits[a.group], l / shrinking);
    }
  }

  /** A reflex corner must not reach an opposite side; checked in single flat faces, where it can be told exactly. */
  private limitByCrossing(limits: number[]): void {
    const { mesh, t } = this;
    this.groups.forEach((faces, g) => {
      if (faces.length !== 1) return;
      const f = faces[0];
      const n = faceNormal(mesh, f);
      const sides: Array<{ p: Vec3; q: Vec3; inward: Vec3; c: number; d: number }> = [];
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        const d = nextCorner(mesh, t, c);
        sides.push({
          p: pointOf(mesh.positions, mesh.corners[c]),
          q: pointOf(mesh.positions, mesh.corners[d]),
          inward: this.inward(c),
          c,
          d,
        });
      }
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        const b = this.of[c];
        if (!b || b.corners.length !== 1) continue;
        const v = pointOf(mesh.positions, b.vertex);
        const before = sub(v, pointOf(mesh.positions, mesh.corners[prevCorner(mesh, t, c)]));
        const after = sub(pointOf(mesh.positions, mesh.corners[nextCorner(mesh, t, c)]), v);
        if (dot(cross(before, after), n) >= 0) continue;
        for (const s of sides) {
          if (s.c === c || s.d === c) continue;
          // The corner closes in on the moving side at this rate.
          const rate = 1 - dot(b.move, s.inward);
          const gap = dot(sub(v, s.p), s.inward);
          if (rate <= 1e-12 || gap <= 0) continue;
          const w = gap / rate;
          if (w >= limits[g]) continue;
          const at = addScaled(v, b.move, w);
          const [p, q] = [addScaled(s.p, this.of[s.c]!.move, w), addScaled(s.q, this.of[s.d]!.move, w)];
          const along = sub(q, p);
          const x = dot(sub(at, p), along);
          if (x >= 0 && x <= dot(along, along)) limits[g] = w;
        }
      }
    });
  }

  /** How a point goes down by the depth, square to the group's faces around it. */
  private sink(corners: number[], depth: number): Vec3 {
    return displacement(corners.map((c) => ({ n: faceNormal(this.mesh, this.t.faceOfCorner[c]), h: depth })));
  }

  private sinkInside(draft: MeshDraft, depth: number): void {
    const { mesh, t, group } = this;
    const done = new Set<number>();
    for (let c = 0; c < mesh.corners.length; c++) {
      const v = mesh.corners[c];
      if (group[t.faceOfCorner[c]] < 0 || this.of[c] || done.has(v)) continue;
      done.add(v);
      const around = Array.from(t.vertexCorners.subarray(t.vertexStart[v], t.vertexStart[v + 1]));
      draft.movePoint(v, add(pointOf(mesh.positions, v), this.sink(around, depth)));
    }
  }

  private sourceAt(b: BorderPoint, to: Vec3) {
    const { mesh, t } = this;
    const c = b.corners[0];
    const inner = b.corners.length > 1 ? prevCorner(mesh, t, c) : nextCorner(mesh, t, c);
    return between(b.vertex, mesh.corners[inner], this.shareOf(b.vertex, mesh.corners[inner], to));
  }

  /** Corner layers of the moved corner: mixed from the face's corners by where it lies between its neighbours. */
  private cornerSource(c: number, b: BorderPoint, width: number) {
    const { mesh, t } = this;
    const to = addScaled(pointOf(mesh.positions, b.vertex), b.move, width);
    const [p, q] = [prevCorner(mesh, t, c), nextCorner(mesh, t, c)];
    const [v, a, d] = [c, p, q].map((k) => pointOf(mesh.positions, mesh.corners[k]));
    const [e0, e1, r] = [sub(a, v), sub(d, v), sub(to, v)];
    const [d00, d01, d11] = [dot(e0, e0), dot(e0, e1), dot(e1, e1)];
    const det = d00 * d11 - d01 * d01;
    if (!(det > 1e-12 * d00 * d11)) return c;
    const x = (d11 * dot(r, e0) - d01 * dot(r, e1)) / det;
    const y = (d00 * dot(r, e1) - d01 * dot(r, e0)) / det;
    return { of: [c, p, q], by: [1 - x - y, x, y] };
  }

  private shareOf(a: number, b: number, at: Vec3): number {
    const [p, q] = [pointOf(this.mesh.positions, a), pointOf(this.mesh.positions, b)];
    const d = sub(q, p);
    return Math.min(1, Math.max(0, dot(sub(at, p), d) / (dot(d, d) || 1)));
  }
}

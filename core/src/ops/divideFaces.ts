/**
 * The shared ground of every cut along a surface: points set on edges, faces divided from side to side. Faces
 * beside a divided edge take the new point into their outline, so nothing tears.
 */
import { MeshDraft, between, type DraftResult, type Source } from '../mesh/MeshDraft';
import type { PolyMesh } from '../mesh/PolyMesh';
import { nextCorner, topologyOf } from '../mesh/Topology';
import { lerp, pointOf } from '../mesh/vec3';

/** A line across a face from one of its outline's points to another, by way of new points inside it. */
export interface Chord {
  from: number;
  to: number;
  through?: Array<{ point: number; source: Source }>;
}

export class FaceDivider {
  readonly draft: MeshDraft;
  private readonly onEdge = new Map<number, Array<{ s: number; point: number }>>();
  private readonly chords = new Map<number, Chord[]>();
  private readonly t;

  constructor(readonly mesh: PolyMesh) {
    this.draft = new MeshDraft(mesh);
    this.t = topologyOf(mesh);
  }

  /** A new point on an edge, at share `s` from its first end; an end itself at 0 and 1; one made before where it is. */
  pointOnEdge(edge: number, s: number): number {
    const { edges } = this.t;
    const [a, b] = [edges[2 * edge], edges[2 * edge + 1]];
    if (s <= 1e-9) return a;
    if (s >= 1 - 1e-9) return b;
    let list = this.onEdge.get(edge);
    if (!list) this.onEdge.set(edge, (list = []));
    const there = list.find((x) => Math.abs(x.s - s) < 1e-9);
    if (there) return there.point;
    const { positions } = this.mesh;
    const point = this.draft.addPoint(
      lerp(pointOf(positions, a), pointOf(positions, b), s),
      between(a, b, s),
    );
    list.push({ s, point });
    list.sort((x, y) => x.s - y.s);
    return point;
  }

  /** Divides a face along a line. Lines of one face must not cross one another. */
  divide(face: number, chord: Chord): void {
    const list = this.chords.get(face);
    if (list) list.push(chord);
    else this.chords.set(face, [chord]);
  }

  /** @returns the result, and the edges along the chords, by their end points in the result */
  finish(): DraftResult & { lines: Array<[number, number]> } {
    const touched = new Set(this.chords.keys());
    for (const e of this.onEdge.keys()) for (const f of facesAtEdge(this.mesh, e)) touched.add(f);
    const lines: Array<[number, number]> = [];
    for (const f of [...touched].sort((a, b) => a - b)) this.rebuild(f, lines);
    const out = this.draft.finish();
    return { ...out, lines: lines.map(([a, b]): [number, number] => [out.point(a), out.point(b)]) };
  }

  private rebuild(f: number, lines: Array<[number, number]>): void {
    const { mesh, draft } = this;
    draft.dropFace(f);
    let loops: Outline[] = [this.outline(f)];
    for (const chord of this.chords.get(f) ?? []) {
      const way = [chord.from, ...(chord.through ?? []).map((x) => x.point), chord.to];
      const at = loops.findIndex(
        (l) => l.points.includes(chord.from) && l.points.includes(chord.to) && !adjacent(l.points, chord),
      );
      if (at < 0) continue;
      for (let k = 0; k + 1 < way.length; k++) lines.push([way[k], way[k + 1]]);
      loops = [...loops.slice(0, at), ...split(loops[at], chord), ...loops.slice(at + 1)];
    }
    const sources = new Map<number, Source>();
    const whole = loops.length === 1 ? loops[0] : this.outline(f);
    whole.points.forEach((p, k) => sources.set(p, whole.corners[k]));
    for (const chord of this.chords.get(f) ?? [])
      for (const x of chord.through ?? []) sources.set(x.point, x.source);
    for (const l of loops)
      draft.addFace({
        loop: l.points,
        face: f,
        corners: l.points.map((p) => sources.get(p) ?? mesh.faceStart[f]),
        edges: l.edges,
        inPlace: true,
      });
  }

  /** The face's outline with all points on its sides. */
  private outline(f: number): Outline {
    const { mesh, t } = this;
    const out: Outline = { points: [], corners: [], edges: [] };
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const e = t.edgeOfCorner[c];
      out.points.push(mesh.corners[c]);
      out.corners.push(c);
      out.edges.push(e);
      const on = this.onEdge.get(e);
      if (!on) continue;
      const forward = t.edges[2 * e] === mesh.corners[c];
      const d = nextCorner(mesh, t, c);
      for (const { s, point } of forward ? on : [...on].reverse()) {
        out.points.push(point);
        out.corners.push(between(c, d, forward ? s : 1 - s));
        out.edges.push(e);
      }
    }
    return out;
  }
}

/** All faces along an edge, however many there are. */
export function facesAtEdge(mesh: PolyMesh, e: number): number[] {
  const t = topologyOf(mesh);
  const out = new Set<number>();
  for (const v of [t.edges[2 * e], t.edges[2 * e + 1]])
    for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++)
      if (t.edgeOfCorner[t.vertexCorners[i]] === e) out.add(t.faceOfCorner[t.vertexCorners[i]]);
  return [...out];
}

interface Outline {
  points: number[];
  corners: Source[];
  /** Old edge each side lies on, −1 for a dividing line. */
  edges: number[];
}

/** A straight line between neighbours on the outline divides nothing. */
function adjacent(points: number[], chord: Chord): boolean {
  if (chord.through?.length) return false;
  const i = points.indexOf(chord.from);
  const n = points.length;
  return points[(i + 1) % n] === chord.to || points[(i + n - 1) % n] === chord.to;
}

function split(l: Outline, { from, to, through = [] }: Chord): Outline[] {
  const n = l.points.length;
  const half = (a: number, b: number, back: typeof through): Outline => {
    const out: Outline = { points: [], corners: [], edges: [] };
    const [i, j] = [l.points.indexOf(a), l.points.indexOf(b)];
    for (let k = i; ; k = (k + 1) % n) {
      out.points.push(l.points[k]);
      out.corners.push(l.corners[k]);
      out.edges.push(k === j ? -1 : l.edges[k]);
      if (k === j) break;
    }
    for (const { point, source } of back) {
      out.points.push(point);
      out.corners.push(source);
      out.edges.push(-1);
    }
    return out;
  };
  return [half(from, to, [...through].reverse()), half(to, from, through)];
}

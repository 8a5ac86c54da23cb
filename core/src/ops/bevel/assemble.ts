/** Builds the mesh of a grown bevel: shrunken faces, strips, corner patches, and their layers. */
import { faceNormal } from '../../mesh/measure';
import { type PolyMesh, makeMesh } from '../../mesh/PolyMesh';
import type { Made } from '../../mesh/made';
import { copyLayers } from '../../mesh/layers';
import { separateFans } from '../../mesh/separateFans';
import { nextCorner } from '../../mesh/Topology';
import { TOLERANCE } from '../../mesh/tolerance';
import { distance, pointOf, scale, type Vec3 } from '../../mesh/vec3';
import { planThinRemoval, withoutSpikes } from '../../planar/thinFaces';
import { dividePolygon } from '../../planar/dividePolygon';
import type { Growth } from './growth';
import { largestFace } from './layOut';
import {
  bevelCornerLayers,
  bevelEdgeLayers,
  bevelFaceLayers,
  pairKey,
  type Assembled,
  type OutFace,
  type Source,
} from './carryOverBevel';
import { Curves } from './curves';
import { gridPatch, type PatchSide } from './patch';
import { type VertexPlan } from './sectors';
/** @returns the mesh, and per vertex of it the vertex of the input it still is, or −1 */
export function assembleBevel(g: Growth): { mesh: PolyMesh; own: Int32Array } {
  return new Assembly(g).build();
}
class Assembly {
  private readonly positions: number[] = [];
  private readonly vertexSource: number[] = [];
  private readonly pointOfNode: number[] = [];
  private readonly pointOfVertex: Int32Array;
  private faces: OutFace[] = [];
  private readonly curves: Curves;
  /** Source edge per surviving side, keyed by its two points. */
  private readonly keptEdges = new Map<number, number>();
  private readonly regionOfFace: Int32Array;
  constructor(private readonly g: Growth) {
    this.pointOfVertex = new Int32Array(g.mesh.positions.length / 3).fill(-1);
    this.regionOfFace = new Int32Array(g.mesh.faceStart.length - 1);
    g.regions.forEach((r, i) => r.faces.forEach((f) => (this.regionOfFace[f] = i)));
    for (const v of g.plan.vertices) this.planOf.set(v.vertex, v);
    this.weldTouching();
    this.curves = new Curves(g, {
      ofNode: (n) => this.nodePoint(n),
      at: (p) => this.at(p),
      add: (p, source) => this.addPoint(p, source),
    });
  }
  build(): { mesh: PolyMesh; own: Int32Array } {
    const { g } = this;
    g.regions.forEach((_, r) => {
      if (!g.touched[r]) return this.copyRegion(r);
      g.watch((0.4 * r) / g.regions.length);
      this.addRegion(r);
    });
    for (let e = 0; e < g.rounded.length; e++) {
      if (e % 512 === 0) g.watch(0.4 + (0.1 * e) / g.rounded.length);
      if (g.rounded[e]) this.addStrip(e);
    }
    g.plan.vertices.forEach((v, i, all) => {
      if (i % 256 === 0) g.watch(0.5 + (0.1 * i) / all.length);
      this.addPatch(v);
    });
    g.watch(0.6);
    this.removeThin();
    return this.finish();
  }
  /** Faces used up by strips from both sides go; where they had points on one side only, these are shared. */
  private removeThin(): void {
    const reach = TOLERANCE.weld * 10 * this.g.size;
    for (let round = 0; round < 32; round++) {
      const plan = planThinRemoval(
        this.faces.map((f) => f.loop),
        (i) => this.faces[i].made !== null || this.g.touched[this.faces[i].region] === 1,
        this.positions,
        reach,
      );
      if (!plan) return;
      plan.inserts.forEach((sides, i) => {
        const f = this.faces[i];
        const loop = f.loop.flatMap((v, k) => [v, ...(sides.get(k) ?? [])]);
        const sources = f.sources.flatMap((s, k) => [s, ...(sides.get(k) ?? []).map(() => s)]);
        const kept = withoutSpikes(loop);
        this.faces[i] = { ...f, loop: kept.map((k) => loop[k]), sources: kept.map((k) => sources[k]) };
      });
      this.faces = this.faces.filter((f, i) => !plan.removed.has(i) && f.loop.length > 2);
    }
  }
  /** Nodes of one outline that ended in the same place become one. */
  private weldTouching(): void {
    const { g } = this;
    const reach = TOLERANCE.weld * 10 * g.size;
    for (const loops of g.loops)
      for (const { nodes } of loops ?? [])
        nodes.forEach((n, i) => {
          const a = g.fronts.resolve(n);
          const b = g.fronts.resolve(nodes[(i + 1) % nodes.length]);
          if (a !== b && distance(this.place(a), this.place(b)) < reach) g.fronts.weldSpan(a, b);
        });
  }
  private place(node: number): Vec3 {
    return this.g.fronts.position(this.g.fronts.resolve(node), this.g.options.width);
  }
  private addPoint(p: Vec3, source: number): number {
    this.positions.push(p[0], p[1], p[2]);
    return this.vertexSource.push(source) - 1;
  }
  private vertexPoint(v: number): number {
    if (this.pointOfVertex[v] < 0)
      this.pointOfVertex[v] = this.addPoint(pointOf(this.g.mesh.positions, v), v);
    return this.pointOfVertex[v];
  }
  private nodePoint(node: number): number {
    const n = this.g.fronts.resolve(node);
    const { group, vertex } = this.g.plan.nodes[n];
    if (group < 0) return this.vertexPoint(vertex);
    this.pointOfNode[n] ??= this.addPoint(this.place(n), vertex);
    return this.pointOfNode[n];
  }
  private copyRegion(r: number): void {
    const { mesh, t } = this.g;
    for (const f of this.g.regions[r].faces) {
      const loop: number[] = [];
      const sources: Source[] = [];
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
        loop.push(this.vertexPoint(mesh.corners[c]));
        sources.push(c);
      }
      loop.forEach((p, i) =>
        this.keep(p, loop[(i + 1) % loop.length], t.edgeOfCorner[mesh.faceStart[f] + i]),
      );
      this.faces.push({ loop, sources, from: f, made: null, region: r });
    }
  }
  private keep(a: number, b: number, edge: number): void {
    this.keptEdges.set(a < b ? pairKey(a, b) : pairKey(b, a), edge);
  }
  private addRegion(r: number): void {
    const { g } = this;
    const region = g.regions[r];
    const from = largestFace(g.mesh, region.faces);
    const outlines = g.loops[r]!.map(({ nodes, sides }) => this.outline(nodes, sides)).filter(
      (l) => l.length >= 3,
    );
    if (!outlines.length) return;
    const loops =
      outlines.length === 1 && !hasRepeats(outlines[0]) ? outlines : this.divide(outlines, from, r);
    for (const loop of loops)
      this.faces.push({
        loop,
        sources: loop.map((p) => this.sourceAt(p, region.faces)),
        from,
        made: null,
        ...(loops.length === 1 && { also: region.faces }),
        region: r,
      });
  }
  private divide(outlines: number[][], from: number, r: number): number[][] {
    try {
      return dividePolygon(outlines, this.positions, faceNormal(this.g.mesh, from));
    } catch {
      // The triangulation refuses outlines that touch or cross.
      throw this.g.refuseRegion(r);
    }
  }
  /** The points of one shrunken outline, chords of cut-off ends replaced by their profile curves. */
  private outline(nodes: number[], sides: number[]): number[] {
    const { g } = this;
    const loop: number[] = [];
    nodes.forEach((n, i) => {
      const a = this.nodePoint(n);
      loop.push(a);
      const next = nodes[(i + 1) % nodes.length];
      const b = this.nodePoint(next);
      const side = g.fronts.sides[sides[i]];
      if (side.edge >= 0) {
        if (!side.rounded && a !== b) this.keep(a, b, side.edge);
      } else if (a !== b) loop.push(...this.chordPoints(n, next));
    });
    return loop.filter((p, i) => p !== loop[(i + 1) % loop.length]);
  }
  /** Inner points of the curve a middle face meets where its corner was cut off, in its own direction. */
  private chordPoints(from: number, to: number): number[] {
    const v = this.g.plan.nodes[from].vertex;
    const plan = this.planOf.get(v);
    if (!plan) return [];
    const resolve = (n: number): number => this.g.fronts.resolve(n);
    if (plan.spokes.length === 1 && plan.spokes[0].gap === 'chord') {
      const s = plan.spokes[0];
      if (resolve(s.right) === resolve(from) && resolve(s.left) === resolve(to))
        return this.curves.across(plan, 0).ids.slice(1, -1);
      return [];
    }
    const k = plan.spokes.findIndex(
      (s, i) =>
        s.gap === 'chord' &&
        resolve(s.left) === resolve(to) &&
        resolve(plan.spokes[(i + 1) % plan.spokes.length].right) === resolve(from),
    );
    return k < 0 ? [] : [...this.curves.chord(plan, k).ids].reverse().slice(1, -1);
  }
  private readonly planOf = new Map<number, VertexPlan>();
  private sourceAt(p: number, faces: number[]): Source {
    const { mesh } = this.g;
    const v = this.vertexSource[p];
    if (this.pointOfVertex[v] === p)
      for (const f of faces)
        for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) if (mesh.corners[c] === v) return c;
    return { kind: 'place', faces };
  }
  private at(p: number): Vec3 {
    return [this.positions[3 * p], this.positions[3 * p + 1], this.positions[3 * p + 2]];
  }
  private addStrip(e: number): void {
    const { mesh, t, options } = this.g;
    const c = t.cornerOfEdge[e];
    const [v1, v2] = [mesh.corners[c], mesh.corners[nextCorner(mesh, t, c)]];
    const a = this.curveAt(v1, e);
    const b = this.curveAt(v2, e);
    const n = options.segments;
    const faceA = t.faceOfCorner[c];
    const faceB = t.faceOfCorner[t.twin[c]];
    const along = (ids: number[], k: number): number => (ids.length === 1 ? ids[0] : ids[k]);
    const corners = {
      v1: { A: c, B: nextCorner(mesh, t, t.twin[c]) },
      v2: { A: nextCorner(mesh, t, c), B: t.twin[c] },
    };
    for (let k = 0; k < n; k++) {
      const quad = [along(a, k), along(b, n - k), along(b, n - k - 1), along(a, k + 1)];
      // Curve a runs from face B to face A, so k counts away from B on both ends.
      const shares: Array<['v1' | 'v2', number]> = [
        ['v1', k],
        ['v2', k],
        ['v2', k + 1],
        ['v1', k + 1],
      ];
      const sources = shares.map(([end, at]): Source => {
        const inA = at * 2 >= n;
        const share = Math.abs((2 * at) / n - 1);
        const ids = end === 'v1' ? a : b;
        const node = (end === 'v1') === inA ? ids[ids.length - 1] : ids[0];
        return {
          kind: 'between',
          corner: corners[end][inA ? 'A' : 'B'],
          node,
          region: this.regionOfFace[inA ? faceA : faceB],
          t: share,
        };
      });
      const [from, other] = k * 2 + 1 > n ? [faceA, faceB] : [faceB, faceA];
      this.addMade(quad, sources, from, { role: 'strip', which: k, other, edge: e });
    }
  }
  private curveAt(v: number, e: number): number[] {
    const plan = this.planOf.get(v)!;
    return this.curves.across(
      plan,
      plan.spokes.findIndex((s) => s.edge === e),
    ).ids;
  }
  private addMade(loop: number[], sources: Source[], from: number, made: Made): void {
    const keep = loop.map((p, i) => p !== loop[(i + 1) % loop.length]);
    const clean = loop.filter((_, i) => keep[i]);
    if (clean.length < 3) return;
    this.faces.push({
      loop: clean,
      sources: sources.filter((_, i) => keep[i]),
      from,
      made,
      region: -1,
    });
  }
  private addPatch(plan: VertexPlan): void {
    const { g } = this;
    const { mesh, t } = g;
    const spokes = plan.spokes;
    const source: Source = spokes[0].corner;
    const from = t.faceOfCorner[spokes[0].corner];
    const beyond = t.twin[spokes[0].corner];
    const other = beyond < 0 ? -1 : t.faceOfCorner[beyond];
    let which = 0;
    const add = (loop: number[]): void =>
      this.addMade(
        loop,
        loop.map(() => source),
        from,
        { role: 'corner', which: which++, other },
      );
    const v = this.vertexPoint.bind(this, plan.vertex);
    if (spokes.length === 1) {
      const { ids } = this.curves.across(plan, 0);
      if (spokes[0].gap === 'vertex' && ids.length > 1) add([...ids, v()]);
      else if (plan.open && plan.keeps && ids.length > 1) add([...ids, v()]);
      return;
    }
    const sides: PatchSide[] = [];
    const addSide = (c: { ids: number[]; middle: Vec3 }, enters: Vec3): void => {
      if (c.ids.length < 2) return;
      sides.push({ ids: c.ids, points: c.ids.map((p) => this.at(p)), middle: c.middle, enters });
    };
    spokes.forEach((s, k) => {
      addSide(this.curves.across(plan, k), scale(this.curves.edgeDirection(s), -1));
      const lastOfOpen = plan.open && k === spokes.length - 1;
      if (s.gap === 'none' && !lastOfOpen) return;
      const chord = this.curves.chord(plan, k);
      addSide(chord, [0, 0, 0]);
      if (s.gap === 'vertex' && chord.ids.length > 1) add([v(), ...[...chord.ids].reverse()]);
      if (lastOfOpen && plan.keeps && chord.ids.length > 1) add([v(), ...[...chord.ids].reverse()]);
    });
    if (sides.length < 3) {
      if (sides.length === 2 && !sameReversed(sides[0].ids, sides[1].ids))
        add([...sides[0].ids.slice(0, -1), ...sides[1].ids.slice(0, -1)]);
      return;
    }
    if (g.options.segments === 1) {
      add(sides.map((s) => s.ids[0]));
      return;
    }
    const tip = pointOf(mesh.positions, plan.vertex);
    const made = gridPatch(sides, g.options.segments, g.options.profile, tip, g.size, (p) =>
      this.addPoint(p, plan.vertex),
    );
    made.forEach(add);
  }

  private finish(): { mesh: PolyMesh; own: Int32Array } {
    const { mesh } = this.g;
    const faceStart = new Uint32Array(this.faces.length + 1);
    this.faces.forEach((f, i) => (faceStart[i + 1] = faceStart[i] + f.loop.length));
    const corners = new Uint32Array(faceStart[this.faces.length]);
    // Points nothing refers to (curves of strips used up on both sides) are left out.
    const number = new Int32Array(this.vertexSource.length).fill(-1);
    const order: number[] = [];
    let at = 0;
    for (const f of this.faces)
      for (const p of f.loop) {
        if (number[p] < 0) number[p] = order.push(p) - 1;
        corners[at++] = number[p];
      }
    this.g.watch(0.75);
    // Strips of groups that met in a point must not share it.
    const apart = separateFans(makeMesh(this.gather(order), faceStart, corners));
    const points = apart ? Array.from(apart.source, (v) => order[v]) : order;
    const positions = this.gather(points);
    const loops = apart?.corners ?? corners;
    const bare = makeMesh(positions, faceStart, loops);
    this.g.watch(0.85);
    const made: Assembled = {
      g: this.g,
      faces: this.faces,
      keptEdges: this.keptEdges,
      positions: this.positions,
      vertexSource: this.vertexSource,
    };
    const own = Int32Array.from(points, (p) => {
      const v = this.vertexSource[p];
      return this.pointOfVertex[v] === p ? v : -1;
    });
    const out = makeMesh(positions, faceStart, loops, {
      vertex: copyLayers(
        mesh.layers.vertex,
        Int32Array.from(points, (p) => this.vertexSource[p]),
      ),
      edge: bevelEdgeLayers(made, bare, points),
      corner: bevelCornerLayers(made, faceStart),
      face: bevelFaceLayers(made),
    });
    return { mesh: out, own };
  }

  private gather(points: number[]): Float64Array {
    const out = new Float64Array(3 * points.length);
    points.forEach((p, i) => {
      for (let k = 0; k < 3; k++) out[3 * i + k] = this.positions[3 * p + k];
    });
    return out;
  }
}

const hasRepeats = (loop: number[]): boolean => new Set(loop).size !== loop.length;

function sameReversed(a: number[], b: number[]): boolean {
  return a.length === b.length && a.every((x, i) => x === b[b.length - 1 - i]);
}

/** Lets a rounding grow to the width asked for, and holds it back where something is in the way, until nothing is. */
import type { PolyMesh } from '../../mesh/PolyMesh';
import { nextCorner, prevCorner, topologyOf, type Topology } from '../../mesh/Topology';
import { TOLERANCE } from '../../mesh/tolerance';
import { add, cross, distance, dot, lerp, pointOf, scale, type Vec3 } from '../../mesh/vec3';
import { PairMap } from '../../spatial/PairMap';
import { partOf as stretch, type Watch } from '../../watch';
import { assemble, type Assembled } from './assemble';
import type { BevelOptions } from './options';
import { Divider } from './divide';
import { Fronts } from './Fronts';
import { Curves } from './curves';
import { demandOf, type Demand } from './demand';
import { edgesOf, groupVertices, laySides, type Laid } from './layOut';
import { Places, type Hit } from './places';
import { Points } from './Points';
import { RunEnds } from './RunEnds';
import { Planner, type Speed } from './sectors';
import { overUndivided, type Shape } from './shape';
import { softEdges } from './sheets';
import { groupsOf, notRounded, type BevelGroup } from './groups';
import { knotsOf, Shapes, type Flattened } from './knots';
import { Strips, type Strip } from './strips';
import { Surface } from './Surface';
import { Widths, type Divided, type Why } from './widths';

export interface Rounded {
  /** Null where everything stays as it is. */
  shape: Shape | null;
  groups: BevelGroup[];
  consumedSides: number;
}

interface Whole {
  /** Size of the piece, mm. */
  size: number;
  /** 1 per edge that is open only because the mesh is a part of another. */
  rim: Uint8Array;
  watch: Watch;
}

/** Rounds after which edges that are still in each other's way are left sharp, with all that hangs together with them. */
const PATIENCE = 18;
/** Rounds after which whole edges are held back, not only the places at which they meet others. */
const HASTE = 10;
/** A place further from an end of its edge than so many widths leaves that end alone. */
const LONG = 3;
/** Rounds after which what still goes through something is left sharp as well. */
const LAST = 22;
/** The share of the width kept where a rounding without bulge still crosses something. */
const NARROWER = 0.7;

export function growAll(mesh: PolyMesh, rounded: Uint8Array, o: BevelOptions, whole: Whole): Rounded {
  const t = topologyOf(mesh);
  const demand = demandOf(mesh, t, rounded, o);
  const widths = new Widths(mesh, t, rounded, demand.width, demand.wanted);
  for (const [e, end] of runOuts(mesh, t, rounded, softEdges(mesh, t, rounded, o.follow)))
    widths.runOut(e, end);
  const shapes = new Shapes();
  const folded = o.mayFold ? null : whole.size;
  const runs = groupVertices(mesh, t, rounded);
  const runOf = (e: number): number => runs.ofVertex[t.edges[2 * e]];
  const edgesOfRun: number[][] = Array.from({ length: runs.count }, () => []);
  for (const e of edgesOf(rounded)) edgesOfRun[runOf(e)].push(e);
  const closed = whole.rim.every((x, e) => x || t.twin[t.cornerOfEdge[e]] >= 0);
  for (let attempt = 0; ; attempt++) {
    const divided = widths.divided();
    const wasOpen = closed ? openIn(divided.mesh) : null;
    const made = new Attempt(divided, o, demand, whole, attempt, shapes.of(divided)).run();
    let stuck = made.limits.map(({ edge }) => divided.edgeOf[edge]);
    if (made.assembled) {
      let result = made.assembled(shapes.of(divided));
      let knots = knotsOf(result, folded, wasOpen);
      // Where a flatter profile will do, nothing has to grow again, unless plates are divided along it.
      let again = false;
      while (!again && !knots.open && knots.crossing.length && shapes.flatten(divided, knots.crossing)) {
        again = made.endOnPlates;
        if (again) break;
        result = made.assembled(shapes.of(divided));
        knots = knotsOf(result, folded, wasOpen);
      }
      if (again) continue;
      if (!knots.open && !knots.crossing.length) {
        const hair = (TOLERANCE.weld * whole.size) / demand.width;
        const groups = groupsOf({ mesh, t, rounded, d: divided, widths, asked: o.width, hair });
        return { shape: overUndivided(result.shape, divided), groups, consumedSides: made.consumed };
      }
      const inKnots = new Set([...knots.crossing, ...knots.torn]);
      const keeps = attempt > PATIENCE ? 0 : NARROWER;
      for (const v of inKnots) shapes.narrow(divided, v, widths, keeps);
      if (attempt < LAST) continue;
      const { edges } = topologyOf(divided.mesh);
      stuck = [...edgesOf(divided.rounded)]
        .filter((e) => inKnots.has(edges[2 * e]) || inKnots.has(edges[2 * e + 1]))
        .map((e) => divided.edgeOf[e]);
    }
    if (attempt >= LAST) {
      // Even with no width they are in the way: they stay as they are, and the others grow without them.
      const out = new Set(stuck.map(runOf));
      const rest = rounded.map((x, e) => Number(x && !out.has(runOf(e))));
      const left = [...out].map((g) => notRounded(mesh, t, edgesOfRun[g]));
      const grown = rest.includes(1) && out.size ? growAll(mesh, rest, o, whole) : UNTOUCHED;
      return { ...grown, groups: [...grown.groups, ...left] };
    }
    if (!attempt) widths.trimmedBy(made.trims);
    const before = widths.now();
    for (const { edge, at, width, why } of made.limits) {
      const e = divided.edgeOf[edge];
      const to = typeof width === 'number' ? width : width.share * before(e, at);
      if (attempt > PATIENCE) for (const k of edgesOfRun[runOf(e)]) widths.limitAll(k, 0, why);
      else if (attempt > HASTE) widths.limitAll(e, to, why);
      else widths.limit(e, at, to, why);
    }
    for (const { a, b, moves, width, slope } of made.facing) {
      const reach = Math.min(
        ...[a, b].map(([e, at, towards]) => widths.room(divided.edgeOf[e], at, towards)),
      );
      for (const [e, at, towards] of moves ? [a, b] : [a])
        widths.limitAlong(divided.edgeOf[e], at, towards, reach, width, slope, moves ? 'strip' : 'edge');
    }
  }
}

/** Ends of rounded edges at points where no other is rounded, and at most one edge runs on. */
function runOuts(mesh: PolyMesh, t: Topology, rounded: Uint8Array, soft: Uint8Array): Array<[number, 0 | 1]> {
  const out: Array<[number, 0 | 1]> = [];
  for (const e of edgesOf(rounded))
    for (const end of [0, 1] as const) {
      const v = t.edges[2 * e + end];
      let [others, on] = [0, 0];
      for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++) {
        const c = t.vertexCorners[i];
        const open = t.twin[c] < 0 || t.twin[prevCorner(mesh, t, c)] < 0;
        const out = t.edgeOfCorner[c];
        others += Number(open || (rounded[out] && out !== e));
        on += Number(!soft[out] && !rounded[out]);
      }
      if (!others && on < 2) out.push([e, end]);
    }
  return out;
}

/** A place that is in the way, of the divided mesh. */
interface InTheWay {
  edge: number;
  at: Vec3;
  /** The width it may have there, mm, or the share it may keep of what it has. */
  width: number | { share: number };
  why: Why;
}

/** An edge of the divided mesh, a place on it, and a direction along it. */
type Facing = [edge: number, at: Vec3, towards: Vec3];
interface FacingLimit {
  a: Facing;
  b: Facing;
  /** Whether the second moves too; else it is run up to. */
  moves: boolean;
  width: number;
  /** The gain of width per unit of distance along either. */
  slope: number;
}

interface Tried {
  /** Builds the mesh; null where something is in the way. */
  assembled: ((flattened: Flattened) => Assembled) | null;
  /** Plates are divided along profiles. */
  endOnPlates: boolean;
  /** Short sides used up on the way. */
  consumed: number;
  limits: InTheWay[];
  facing: FacingLimit[];
  trims: Float64Array;
}

class Attempt {
  readonly limits: InTheWay[] = [];
  readonly facing: FacingLimit[] = [];
  private trims: Float64Array = new Float64Array(0);
  private readonly t: Topology;
  private readonly speed: Speed;

  constructor(
    private readonly d: Divided,
    private readonly o: BevelOptions,
    private readonly demand: Demand,
    private readonly whole: Whole,
    private readonly number: number,
    /** The profiles, as far as plates are divided along them. */
    private readonly flattened: Flattened,
  ) {
    this.t = topologyOf(d.mesh);
    // Edges of the divided mesh go as fast as those they are parts of.
    this.speed = (e) => demand.speed(d.edgeOf[e]);
  }

  run(): Tried {
    const { d, o, t, speed } = this;
    const { mesh, rounded } = d;
    const { width } = this.demand;
    const watch = this.number ? (): void => this.whole.watch(0.5) : this.whole.watch;
    const soft = softEdges(mesh, t, rounded, o.follow);
    const surface = new Surface(mesh, t, soft, this.whole.size);
    const planner = new Planner(mesh, t, surface, rounded, soft, speed);
    const groups = groupVertices(mesh, t, rounded);
    for (let v = 0; v < groups.ofVertex.length; v++) if (groups.ofVertex[v] >= 0) planner.addVertex(v);
    const laid = laySides(mesh, t, rounded, soft, planner, surface, speed);
    const { plan } = planner;
    this.trims = trimsOf(t, laid);
    const fronts = new Fronts(plan.nodes, laid.sides, d.caps, width, surface.size, stretch(watch, 0.1, 0.3));
    fronts.grow();
    const places = new Places(mesh, t, surface, fronts);
    const points = new Points(mesh);
    const strips = new Strips(surface, fronts, laid, places, points);
    const hair = TOLERANCE.weld * surface.size;
    for (const s of fronts.stops) {
      const tight = s.nodes.flatMap((n) =>
        fronts.nodes[n].moves === 'fixed'
          ? []
          : fronts.nodes[n].vertices.filter((v) => d.caps[v] > s.width + hair / 1e3),
      );
      for (const v of tight) this.limitVertex(v, s.width, 'strip');
      if (!tight.length || !s.facing) continue;
      const [before, after] = s.facing.map((k) => fronts.sides[k]);
      const [back, on] = [
        scale(surface.along(surface.sideOfCorner[before.corner]), -1),
        surface.along(surface.sideOfCorner[after.corner]),
      ];
      const from = pointOf(mesh.positions, mesh.corners[nextCorner(mesh, t, before.corner)]);
      this.limitFacing(
        [before.edge, from, back],
        [after.edge, pointOf(mesh.positions, mesh.corners[after.corner]), on],
        s.angle,
        s.width,
      );
    }
    if (this.limits.length) return this.failed();
    const curves = new Curves(mesh, t, this.o, points, this.flattened.bulge);
    const ground = { t, surface, fronts, places, points, curves };
    strips.layRails((ofStrips) => new RunEnds(ground, plan.vertices, ofStrips));
    for (const hit of places.hits) this.limitHit(hit, surface, fronts, hair);
    if (this.limits.length) return this.failed();
    const limitSide = (i: number, share: number, why: Why, at?: Vec3): void => {
      const s = fronts.sides[i];
      const h = surface.sideOfCorner[s.corner];
      const [a, b] = [surface.point(surface.from[h]), surface.point(surface.to(h))];
      const spot = at ?? lerp(a, b, 0.5);
      if (s.edge >= 0) this.add(s.edge, spot, { share }, why);
      // Along an edge that is long beside its width, only the place itself.
      const nodes = [s.node, fronts.end(s)].map((n) => fronts.resolve(n));
      const far = LONG * Math.max(...nodes.map((n) => fronts.widthOf(n)));
      nodes.forEach((n, k) => {
        if (this.number < HASTE && distance(spot, k ? b : a) > far) return;
        for (const v of fronts.nodes[n].vertices) this.limitVertex(v, { share }, why);
      });
    };
    for (const i of strips.lost) limitSide(i, 0.8, 'room');
    if (this.limits.length) return this.failed();
    const stripOf = new Map<number, Strip>();
    for (const e of edgesOf(rounded)) {
      const c = t.cornerOfEdge[e];
      stripOf.set(e, strips.strip(e, c, t.twin[c], width));
    }
    const divider = new Divider(surface, points, strips.rails.values(), strips.onLine);
    const sides: number[] = [];
    for (const e of edgesOf(rounded))
      for (const c of [t.cornerOfEdge[e], t.twin[t.cornerOfEdge[e]]]) sides.push(surface.sideOfCorner[c]);
    divider.take(sides, strips.cutOff());
    for (const clash of divider.clashes)
      for (const i of clash.sides) limitSide(i, clash.share, clash.why, clash.at);
    if (this.limits.length) return this.failed();
    const grown = {
      mesh,
      t,
      options: o,
      rounded,
      plan,
      surface,
      fronts,
      places,
      points,
      strips,
      stripOf,
      divider,
    };
    return {
      assembled: (flattened) =>
        assemble({
          ...grown,
          ...flattened,
          curves: strips.endOnPlates ? curves : new Curves(mesh, t, this.o, points, flattened.bulge),
          watch: stretch(watch, 0.5, 1),
        }),
      endOnPlates: strips.endOnPlates,
      consumed: fronts.consumed,
      limits: [],
      facing: [],
      trims: this.trims,
    };
  }

  /** A corner has run into the end of its sheet; where that moves towards it, they met before. */
  private limitHit(hit: Hit, s: Surface, fronts: Fronts, hair: number): void {
    const { t, d } = this;
    const line = s.line[hit.side];
    const n = fronts.nodes[hit.node];
    const moves = line >= 0 && line < t.edgeCount && d.rounded[line] === 1;
    const sine = Math.abs(dot(hit.heading, s.inward(hit.side)));
    const met = moves ? (hit.width * n.rate * sine) / (n.rate * sine + this.speed(line)) : hit.width;
    const width = Math.max(0, met - hair);
    if (width >= fronts.widthOf(hit.node) - hair / 1e3) return;
    for (const v of n.vertices) this.limitVertex(v, width, moves ? 'strip' : 'edge');
    if (line < 0 || line >= t.edgeCount) return;
    if (moves) this.add(line, hit.at, width, 'strip');
    // Both sides at the corner go on beside the edge it ran into.
    const normal = s.normal(s.triangle(hit.side));
    const turned = (angle: number): Vec3 =>
      add(scale(hit.heading, Math.cos(angle)), scale(cross(normal, hit.heading), Math.sin(angle)));
    for (const side of fronts.sides) {
      if (!side.alive || !side.rounded) continue;
      const first = fronts.resolve(side.node) === hit.node;
      if (!first && fronts.resolve(fronts.end(side)) !== hit.node) continue;
      const away = turned(first ? -side.first : side.last);
      const along = scale(s.along(hit.side), first ? -1 : 1);
      const rise = dot(away, s.inward(hit.side));
      if (dot(away, along) <= 0.7) continue;
      const h = s.sideOfCorner[side.corner];
      const from = s.point(first ? s.from[h] : s.to(h));
      this.limitFacing(
        [side.edge, from, scale(s.along(h), first ? 1 : -1)],
        [line, hit.at, along],
        Math.asin(Math.min(1, Math.max(0, rise))),
        width,
        moves,
      );
    }
  }

  /** Two edges whose sides face each other from a place of each on, at an angle: they meet half way. */
  private limitFacing(a: Facing, b: Facing, angle: number, width: number, moves = true): void {
    this.facing.push({ a, b, moves, slope: Math.tan(moves ? angle / 2 : angle), width });
  }

  private failed(): Tried {
    return {
      assembled: null,
      endOnPlates: false,
      consumed: 0,
      limits: this.limits,
      facing: this.facing,
      trims: this.trims,
    };
  }

  private limitVertex(v: number, width: InTheWay['width'], why: Why): void {
    const { t, d } = this;
    // On one of its rounded edges; the width spreads from there.
    for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++) {
      const c = t.vertexCorners[i];
      const e = t.edgeOfCorner[c];
      if (d.rounded[e]) return this.add(e, pointOf(d.mesh.positions, v), width, why);
    }
    for (const e of edgesOf(d.rounded))
      if (t.edges[2 * e] === v || t.edges[2 * e + 1] === v)
        return this.add(e, pointOf(d.mesh.positions, v), width, why);
  }

  private add(edge: number, at: Vec3, width: InTheWay['width'], why: Why): void {
    this.limits.push({ edge, at, width, why });
  }
}

/** The length of each edge used up by its end corners on both sides, per unit of width. */
function trimsOf(t: Topology, { sides }: Laid): Float64Array {
  const out = new Float64Array(2 * t.edgeCount).fill(Infinity);
  for (const s of sides) {
    if (!s.rounded) continue;
    const forward = t.cornerOfEdge[s.edge] === s.corner;
    const [first, last] = [s.first, s.last].map((a) => (Math.cos(a) / Math.max(1e-6, Math.sin(a))) * s.speed);
    const at = 2 * s.edge;
    out[at] = Math.min(out[at], forward ? first : last);
    out[at + 1] = Math.min(out[at + 1], forward ? last : first);
  }
  return out.map((x) => (Number.isFinite(x) ? Math.max(0, x) : 0));
}

const UNTOUCHED: Rounded = { shape: null, groups: [], consumedSides: 0 };

function openIn(mesh: PolyMesh): (a: number, b: number) => boolean {
  const t = topologyOf(mesh);
  const open = new PairMap();
  for (let e = 0; e < t.edgeCount; e++)
    if (t.edgeUse[e] === 1) open.set(t.edges[2 * e], t.edges[2 * e + 1], e);
  return (a, b) => open.has(a, b) || open.has(b, a);
}

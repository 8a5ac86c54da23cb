/**
 * Lets the width of a bevel grow from nothing and finds where it has to stop.
 *
 * Every face outline moves: its rounded sides go inward, each at its own speed (1 unless marked), its corners (nodes) follow. Two things
 * can happen, taken in order of width as in the straight skeleton (Aichholzer, Aurenhammer, Alberts, Gärtner
 * 1995; Felkel & Obdržálek 1998):
 *  - a side's span reaches zero: if it is a rounded side, its ends become one node and growth goes on; any other
 *    side that is used up stops the group of rounded edges it belongs to;
 *  - a reflex corner reaches another side: both their groups stop there, touching.
 */
import type { Watch } from '../../watch';
import { Heap } from '../../spatial/Heap';
import { TOLERANCE } from '../../mesh/tolerance';
import { addScaled, cross, dot, sub, type Vec3 } from '../../mesh/vec3';
import { mitreVelocity, slideRate, type Node } from './sectors';

/** One side of a moving outline: from its node to the next side's node. */
export interface Side {
  node: number;
  /** Mesh edge, or −1 for the chord of a cut-off corner. */
  edge: number;
  rounded: boolean;
  /** Unit direction of the side, and the unit direction into the face. */
  along: Vec3;
  inward: Vec3;
  /** How fast it goes inward, per unit of width. */
  speed: number;
  next: number;
  prev: number;
  region: number;
  alive: boolean;
  /** Bumped whenever the side's motion changes; events of older versions are void. */
  version: number;
}

export interface Outcome {
  /** Width each group reached. */
  reached: Float64Array;
  consumedSides: number;
}

interface Event {
  time: number;
  /** −1 − g where group g reaches its cap. */
  side: number;
  version: number;
  /** The side whose start node hits `side`, or −1 for a span used up. */
  hitBy: number;
  hitVersion: number;
}

export class Fronts {
  private readonly queue = new Heap<Event>((e) => e.time);
  private readonly frozenAt: Float64Array;
  private readonly sidesOfNode: number[][];
  private readonly sidesOfRegion: number[][];
  private readonly nodesOfGroup: number[][];
  consumed = 0;
  private now = 0;

  constructor(
    readonly nodes: Node[],
    readonly sides: Side[],
    regionCount: number,
    /** Width each group may reach at most. */
    private readonly caps: Float64Array,
    private readonly width: number,
    private readonly size: number,
    private readonly watch: Watch,
  ) {
    this.frozenAt = new Float64Array(caps.length).fill(Infinity);
    this.sidesOfNode = nodes.map(() => []);
    this.sidesOfRegion = Array.from({ length: regionCount }, () => []);
    this.nodesOfGroup = Array.from({ length: caps.length }, () => []);
    nodes.forEach((n, i) => n.group >= 0 && this.nodesOfGroup[n.group].push(i));
    sides.forEach((s, i) => {
      this.sidesOfNode[s.node].push(i);
      this.sidesOfRegion[s.region].push(i);
    });
  }

  grow(): Outcome {
    for (let i = 0; i < this.sides.length; i++) this.scheduleSpan(i, 0);
    for (const list of this.sidesOfRegion) {
      this.watch(0);
      this.scheduleHits(list, list, 0);
    }
    this.caps.forEach((time, g) => {
      if (time < this.width) this.queue.push({ time, side: -1 - g, version: 0, hitBy: -1, hitVersion: 0 });
    });
    let events = 0;
    for (let e = this.queue.pop(); e && e.time < this.width; e = this.queue.pop()) {
      if (events++ % 256 === 0) this.watch(e.time / this.width);
      if (e.side < 0) {
        this.freezeGroups([-1 - e.side], e.time);
        continue;
      }
      const s = this.sides[e.side];
      if (!s.alive || s.version !== e.version) continue;
      if (e.hitBy >= 0) {
        const h = this.sides[e.hitBy];
        if (!h.alive || h.version !== e.hitVersion) continue;
        // Reaching the side after next means that the one between is used up.
        if (s.prev === e.hitBy) this.consume(e.hitBy, e.time);
        else if (s.next === h.prev) this.consume(h.prev, e.time);
        else
          // A hair before they touch: outlines that met in a point could not be told apart any more.
          this.freeze([h.node, s.node, this.end(s)], Math.max(this.now, e.time - TOLERANCE.weld * this.size));
      } else this.consume(e.side, e.time);
      this.now = e.time;
    }
    return {
      reached: this.frozenAt.map((t) => Math.min(t, this.width)),
      consumedSides: this.consumed,
    };
  }

  position(n: number, time: number): Vec3 {
    const node = this.nodes[n];
    if (node.group < 0) return node.at;
    const until = Math.min(time, this.frozenAt[node.group]);
    return until <= node.since ? node.at : addScaled(node.at, node.velocity, until - node.since);
  }

  resolve(n: number): number {
    while (this.nodes[n].becomes !== n) n = this.nodes[n].becomes;
    return n;
  }

  private velocity(n: number): Vec3 {
    const node = this.nodes[n];
    return node.group < 0 || this.frozenAt[node.group] < Infinity ? [0, 0, 0] : node.velocity;
  }

  private end(s: Side): number {
    return this.sides[s.next].node;
  }

  private scheduleSpan(i: number, now: number): void {
    const s = this.sides[i];
    if (!s.alive) return;
    const a = s.node;
    const b = this.end(s);
    if (a === b) return;
    const span = dot(sub(this.position(b, now), this.position(a, now)), s.along);
    const rate = dot(sub(this.velocity(b), this.velocity(a)), s.along);
    if (s.edge < 0) return this.scheduleChord(i, now);
    if (rate >= -1e-12) return;
    const time = now + Math.max(0, span) / -rate;
    this.queue.push({ time, side: i, version: s.version, hitBy: -1, hitVersion: 0 });
  }

  /** A chord grows from nothing; it can only shrink later. */
  private scheduleChord(i: number, now: number): void {
    const s = this.sides[i];
    const a = this.position(s.node, now);
    const d = sub(this.position(this.end(s), now), a);
    const v = sub(this.velocity(this.end(s)), this.velocity(s.node));
    const vv = dot(v, v);
    if (vv < 1e-18 || dot(d, v) >= 0) return;
    const time = now - dot(d, v) / vv;
    const gap = addScaled(d, v, time - now);
    if (dot(gap, gap) < (TOLERANCE.weld * this.size) ** 2)
      this.queue.push({ time, side: i, version: s.version, hitBy: -1, hitVersion: 0 });
  }

  /** Looks for corners of `from` that will run into sides of `against`. */
  private scheduleHits(from: number[], against: number[], now: number): void {
    if (from.length * against.length > 40000) return this.scheduleHitsSwept(from, against, now);
    for (const h of from) for (const i of against) this.scheduleHit(h, i, now);
  }

  /** The same, looking only at pairs whose reach along the longest axis overlaps. */
  private scheduleHitsSwept(from: number[], against: number[], now: number): void {
    const span = (points: Vec3[], k: number): [number, number] => [
      Math.min(...points.map((p) => p[k])),
      Math.max(...points.map((p) => p[k])),
    ];
    const places = from.map((h) => this.position(this.sides[h].node, now));
    const extents = [0, 1, 2].map((k) => {
      let [lo, hi] = [Infinity, -Infinity];
      for (const p of places) [lo, hi] = [Math.min(lo, p[k]), Math.max(hi, p[k])];
      return hi - lo;
    });
    const k = extents.indexOf(Math.max(...extents));
    const left = this.width - now;
    const swept = (n: number): Vec3[] => [
      this.position(n, now),
      addScaled(this.position(n, now), this.velocity(n), left),
    ];
    const boxes = against
      .map((i) => {
        const s = this.sides[i];
        return { i, x: span([...swept(s.node), ...swept(this.end(s))], k) };
      })
      .sort((a, b) => a.x[0] - b.x[0]);
    const widest = boxes.reduce((w, b) => Math.max(w, b.x[1] - b.x[0]), 0);
    for (const h of from) {
      if (!this.isReflex(h)) continue;
      const [lo, hi] = span(swept(this.sides[h].node), k);
      let at = lowerBound(boxes, lo - widest);
      for (; at < boxes.length && boxes[at].x[0] <= hi; at++)
        if (boxes[at].x[1] >= lo) this.scheduleHit(h, boxes[at].i, now);
    }
  }

  private isReflex(h: number): boolean {
    const s = this.sides[h];
    const p = this.sides[s.prev];
    // Turning right at the node: the next side's direction points against the previous one's inside.
    return dot(s.along, p.inward) < -1e-9;
  }

  private scheduleHit(h: number, i: number, now: number): void {
    const hitter = this.sides[h];
    const s = this.sides[i];
    if (!s.alive || !hitter.alive || i === h || i === hitter.prev || s.edge < 0) return;
    const n = hitter.node;
    if (n === s.node || n === this.end(s) || !this.isReflex(h)) return;
    const a = this.position(s.node, now);
    const p = this.position(n, now);
    // Corners that start from one vertex touch at first without having met.
    const home = this.nodes[n].vertex;
    if (now === 0 && (this.nodes[s.node].vertex === home || this.nodes[this.end(s)].vertex === home)) return;
    const va = this.velocity(s.node);
    const vp = this.velocity(n);
    const gap = dot(sub(p, a), s.inward);
    const closing = dot(sub(vp, va), s.inward);
    if (gap < -TOLERANCE.weld * this.size || closing >= -1e-12) return;
    const time = now + Math.max(0, gap) / -closing;
    if (time >= this.width) return;
    const dt = time - now;
    const at = addScaled(p, vp, dt);
    const from = dot(sub(at, addScaled(a, va, dt)), s.along);
    const b = this.end(s);
    const to = dot(sub(addScaled(this.position(b, now), this.velocity(b), dt), at), s.along);
    const slack = TOLERANCE.weld * this.size;
    if (from < -slack || to < -slack) return;
    this.queue.push({ time, side: i, version: s.version, hitBy: h, hitVersion: hitter.version });
  }

  private consume(i: number, time: number): void {
    const s = this.sides[i];
    const a = s.node;
    const b = this.end(s);
    const before = this.sides[s.prev];
    const after = this.sides[s.next];
    const onlyHere = (n: number): boolean =>
      this.sidesOfNode[n].filter((k) => this.sides[k].alive).length === 1;
    const canMerge =
      s.rounded &&
      this.sides[before.prev] !== s &&
      before.prev !== s.next &&
      this.growing(a) &&
      this.growing(b);
    if (canMerge && before.rounded && after.rounded && onlyHere(a) && onlyHere(b))
      return this.merge(
        i,
        a,
        b,
        time,
        mitreVelocity(before.inward, after.inward, before.speed, after.speed),
        -1,
      );
    const slide = canMerge ? this.slideAfter(i, a, b, before, after, onlyHere) : null;
    if (slide) return this.merge(i, a, b, time, slide.velocity, slide.edge);
    this.freeze([a, b], time);
    this.weldSpan(a, b);
  }

  private growing(n: number): boolean {
    const g = this.nodes[n].group;
    return g >= 0 && this.frozenAt[g] === Infinity;
  }

  /** One end slides along an edge that stays, the other was a mitre: go on sliding, led by the next side. */
  private slideAfter(
    i: number,
    a: number,
    b: number,
    before: Side,
    after: Side,
    onlyHere: (n: number) => boolean,
  ): { velocity: Vec3; edge: number } | null {
    const [slider, lead, still] =
      this.nodes[a].slidesOn >= 0 && this.nodes[a].slidesOn === before.edge && after.rounded && onlyHere(b)
        ? [a, after, before]
        : this.nodes[b].slidesOn >= 0 &&
            this.nodes[b].slidesOn === after.edge &&
            before.rounded &&
            onlyHere(a)
          ? [b, before, after]
          : [-1, after, before];
    if (slider < 0) return null;
    const v = this.nodes[slider].velocity;
    const speed = Math.hypot(v[0], v[1], v[2]);
    if (speed < 1e-12) return null;
    const u: Vec3 = [v[0] / speed, v[1] / speed, v[2] / speed];
    const lines = [lead];
    // The face across the edge goes on leading with its own rounded side.
    for (const k of this.sidesOfNode[slider]) {
      const other = this.sides[k];
      if (!other.alive || other.region === this.sides[i].region) continue;
      if (other.rounded) lines.push(other);
      else if (this.sides[other.prev].rounded) lines.push(this.sides[other.prev]);
    }
    return { velocity: scaleTo(u, slideRate(u, lines)), edge: still.edge };
  }

  private merge(i: number, a: number, b: number, time: number, velocity: Vec3, slidesOn: number): void {
    const s = this.sides[i];
    const at = this.position(slidesOn >= 0 && this.nodes[b].slidesOn === slidesOn ? b : a, time);
    const n =
      this.nodes.push({
        at,
        since: time,
        velocity,
        vertex: this.nodes[a].vertex,
        slidesOn,
        group: this.nodes[a].group,
        becomes: this.nodes.length,
      }) - 1;
    this.nodes[a].becomes = this.nodes[b].becomes = n;
    this.nodesOfGroup[this.nodes[n].group].push(n);
    this.consumed++;
    s.alive = false;
    this.sides[s.prev].next = s.next;
    this.sides[s.next].prev = s.prev;
    const users = [...this.sidesOfNode[a], ...this.sidesOfNode[b]].filter((k) => this.sides[k].alive);
    this.sidesOfNode.push(users);
    for (const k of users) this.sides[k].node = n;
    this.refresh(
      users.flatMap((k) => [k, this.sides[k].prev]),
      time,
    );
  }

  private refresh(list: number[], time: number): void {
    const changed = [...new Set(list)].filter((k) => this.sides[k].alive);
    for (const k of changed) this.sides[k].version++;
    for (const k of changed) {
      this.scheduleSpan(k, time);
      const region = this.sidesOfRegion[this.sides[k].region];
      this.scheduleHits([k], region, time);
      this.scheduleHits(region, [k], time);
    }
  }

  private freeze(around: number[], time: number): void {
    this.freezeGroups(new Set(around.map((n) => this.nodes[n].group).filter((g) => g >= 0)), time);
  }

  private freezeGroups(stopped: Iterable<number>, time: number): void {
    const changed: number[] = [];
    for (const g of stopped) {
      if (this.frozenAt[g] < Infinity) continue;
      this.frozenAt[g] = time;
      for (const n of this.nodesOfGroup[g])
        if (this.nodes[n].becomes === n)
          for (const k of this.sidesOfNode[n]) changed.push(k, this.sides[k].prev);
    }
    if (changed.length) this.refresh(changed, time);
  }

  /** Makes two nodes one. */
  weldSpan(a: number, b: number): void {
    const [x, y] = [this.resolve(a), this.resolve(b)];
    if (x === y) return;
    // A point that stays keeps its place; else the later node follows the earlier.
    if (this.nodes[y].group < 0) this.nodes[x].becomes = y;
    else this.nodes[y].becomes = x;
  }
}

const scaleTo = (u: Vec3, s: number): Vec3 => [u[0] * s, u[1] * s, u[2] * s];

function lowerBound(boxes: Array<{ x: [number, number] }>, x: number): number {
  let lo = 0;
  let hi = boxes.length;
  while (lo < hi) {
    const mid = (lo + hi) >> 1;
    if (boxes[mid].x[0] < x) lo = mid + 1;
    else hi = mid;
  }
  return lo;
}

/** Direction of a chord between two nodes at a time; zero when they coincide. */
export const chordDirection = (a: Vec3, b: Vec3, normal: Vec3): { along: Vec3; inward: Vec3 } => {
  const d = sub(b, a);
  const l = Math.hypot(d[0], d[1], d[2]);
  const along: Vec3 = l > 0 ? [d[0] / l, d[1] / l, d[2] / l] : [0, 0, 0];
  return { along, inward: cross(normal, along) };
};

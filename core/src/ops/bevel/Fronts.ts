/**
 * Lets the width grow from nothing and finds which sides are used up on the way.
 *
 * Everything is measured in the sheet: a side between two nodes shrinks by what their paths cover along it, so no
 * chart of the sheet is needed. Taken in order of width, as in the straight skeleton (Aichholzer, Aurenhammer,
 * Alberts, Gärtner 1995; Felkel & Obdržálek 1998): a rounded side whose span reaches zero is used up, its ends become
 * one node, and growth goes on; where it cannot go on, both ends stop there, and nothing else does.
 */
import type { Watch } from '../../watch';
import { Heap } from '../../spatial/Heap';
import { TOLERANCE } from '../../mesh/tolerance';
import type { Side } from './layOut';
import { mitre, slideRate, type Node } from './sectors';

interface Event {
  time: number;
  /** −1 − n where node n reaches its cap. */
  side: number;
  version: number;
}

/** Two nodes that met and could not go on. */
export interface Stop {
  nodes: [number, number];
  width: number;
  /** The sides before and after the one used up, where they face each other, and the angle between them, radians. */
  facing: [number, number] | null;
  angle: number;
}

/** Sides that would go on at a narrower angle than this have met. */
const LEAST_ANGLE = (3 * Math.PI) / 180;
/** Sides at less than this are opposite each other. */
const FACING = Math.PI / 4;

export class Fronts {
  readonly stops: Stop[] = [];
  consumed = 0;
  private readonly queue = new Heap<Event>((e) => e.time);
  /** Width at which each node stops. */
  private readonly until: number[];
  private readonly sidesOfNode: number[][];

  constructor(
    readonly nodes: Node[],
    readonly sides: Side[],
    /** Width each vertex may reach at most. */
    private readonly caps: Float64Array,
    private readonly width: number,
    private readonly size: number,
    private readonly watch: Watch,
  ) {
    this.until = nodes.map((n) => this.capOf(n));
    this.sidesOfNode = nodes.map(() => []);
    sides.forEach((s, i) => this.sidesOfNode[s.node].push(i));
  }

  grow(): void {
    for (let i = 0; i < this.sides.length; i++) this.schedule(i, 0);
    this.until.forEach((time, n) => this.scheduleCap(n, time));
    let events = 0;
    for (let e = this.queue.pop(); e && e.time < this.width; e = this.queue.pop()) {
      if (events++ % 256 === 0) this.watch(e.time / this.width);
      if (e.side < 0) {
        this.refresh(this.around(-1 - e.side), e.time);
        continue;
      }
      const s = this.sides[e.side];
      if (s.alive && s.version === e.version) this.consume(e.side, e.time);
    }
  }

  resolve(n: number): number {
    while (this.nodes[n].becomes !== n) n = this.nodes[n].becomes;
    return n;
  }

  /** Width a node has when all has grown. */
  widthOf(n: number): number {
    return Math.min(this.until[n], this.width);
  }

  /** The node a side ends in. */
  end(s: Side): number {
    return this.sides[s.next].node;
  }

  /** Makes two nodes one; one that stays keeps its place. */
  weld(a: number, b: number): void {
    const [x, y] = [this.resolve(a), this.resolve(b)];
    if (x === y) return;
    if (this.nodes[y].moves === 'fixed') this.nodes[x].becomes = y;
    else this.nodes[y].becomes = x;
  }

  private capOf(n: Node): number {
    return n.moves === 'fixed' ? 0 : Math.min(...n.vertices.map((v) => this.caps[v]));
  }

  private scheduleCap(n: number, time: number): void {
    if (time < this.width && this.nodes[n].moves !== 'fixed')
      this.queue.push({ time, side: -1 - n, version: 0 });
  }

  private moving(n: number, now: number): boolean {
    return this.nodes[n].moves !== 'fixed' && this.until[n] > now;
  }

  private schedule(i: number, now: number): void {
    const s = this.sides[i];
    if (!s.alive || s.edge < 0) return;
    const [a, b] = [s.node, this.end(s)];
    if (a === b) return;
    s.length = this.lengthAt(s, now);
    s.since = now;
    const rate = this.shrinking(s, now);
    if (rate <= 1e-12) return;
    this.queue.push({ time: now + Math.max(0, s.length) / rate, side: i, version: s.version });
  }

  /** The loss of a side per unit of width. */
  private shrinking(s: Side, now: number): number {
    const [a, b] = [s.node, this.end(s)];
    return (
      (this.moving(a, now) ? this.nodes[a].rate * Math.cos(s.first) : 0) +
      (this.moving(b, now) ? this.nodes[b].rate * Math.cos(s.last) : 0)
    );
  }

  /** Length now; between refreshes both ends moved evenly. */
  private lengthAt(s: Side, now: number): number {
    return s.length - (now - s.since) * this.rateBefore(s);
  }

  /** The rate since the last refresh: a node that stops now was moving until now. */
  private rateBefore(s: Side): number {
    const [a, b] = [s.node, this.end(s)];
    const moved = (n: number): boolean => this.nodes[n].moves !== 'fixed' && this.until[n] > s.since;
    return (
      (moved(a) ? this.nodes[a].rate * Math.cos(s.first) : 0) +
      (moved(b) ? this.nodes[b].rate * Math.cos(s.last) : 0)
    );
  }

  private around(n: number): number[] {
    return this.sidesOfNode[n].flatMap((k) => [k, this.sides[k].prev]);
  }

  private consume(i: number, time: number): void {
    if (this.pass(i, time)) return;
    const s = this.sides[i];
    const [a, b] = [s.node, this.end(s)];
    const before = this.sides[s.prev];
    const after = this.sides[s.next];
    const free =
      s.rounded &&
      before.prev !== s.next &&
      s.prev !== s.next &&
      this.moving(a, time) &&
      this.moving(b, time);
    const left = before.last + s.first;
    const right = s.last + after.first;
    const whole = left + right - Math.PI;
    if (free && whole > LEAST_ANGLE) {
      const [na, nb] = [this.nodes[a], this.nodes[b]];
      if (na.moves === 'mitre' && nb.moves === 'mitre' && before.rounded && after.rounded) {
        const { turn, rate } = mitre(whole, after.speed, before.speed);
        // Seen from the first node's path: the side before stays where it is, the path moves away from or towards it.
        return this.merge(i, a, b, time, {
          moves: 'mitre',
          rate,
          after: a,
          turn: before.last - (whole - turn),
          slidesOn: -1,
          angles: [whole - turn, turn],
        });
      }
      const slide = this.slideAfter(i, a, b, whole);
      if (slide) return this.merge(i, a, b, time, slide);
    }
    const faces = s.rounded && whole <= FACING && before.rounded && after.rounded && s.prev !== s.next;
    this.stop(a, b, time, faces ? [s.prev, s.next] : null, Math.max(0, whole));
  }

  /** One end slides along an edge that stays, the other was a mitre: go on sliding, led by the next side. */
  private slideAfter(i: number, a: number, b: number, whole: number): Merged | null {
    const s = this.sides[i];
    const before = this.sides[s.prev];
    const after = this.sides[s.next];
    const [na, nb] = [this.nodes[a], this.nodes[b]];
    const first =
      na.moves === 'slide' && na.slidesOn === before.edge && nb.moves === 'mitre' && after.rounded;
    const last = nb.moves === 'slide' && nb.slidesOn === after.edge && na.moves === 'mitre' && before.rounded;
    if (first === last) return null;
    const slider = first ? a : b;
    const leads = [{ angle: whole, speed: first ? after.speed : before.speed }];
    // The sheet across the edge goes on leading with its own rounded side.
    for (const k of this.sidesOfNode[slider]) {
      const other = this.sides[k];
      if (!other.alive || k === i || k === s.next) continue;
      const behind = this.sides[other.prev];
      if (other.rounded && behind.edge === this.nodes[slider].slidesOn)
        leads.push({ angle: other.first, speed: other.speed });
      else if (behind.rounded && other.edge === this.nodes[slider].slidesOn)
        leads.push({ angle: behind.last, speed: behind.speed });
    }
    const rate = slideRate(leads);
    if (rate <= 0) return null;
    return {
      moves: 'slide',
      rate,
      after: slider,
      turn: 0,
      slidesOn: this.nodes[slider].slidesOn,
      angles: first ? [0, whole] : [whole, 0],
    };
  }

  private merge(i: number, a: number, b: number, time: number, { angles, ...motion }: Merged): void {
    const { sides } = this;
    const { prev, next } = sides[i];
    const users = [...this.sidesOfNode[a], ...this.sidesOfNode[b]];
    const n = this.become([a, b], users, [i], time, motion);
    this.consumed++;
    sides[prev].last = angles[0];
    sides[next].first = angles[1];
    this.refresh(this.around(n), time);
  }

  /**
   * A node has slid to the end of its edge. Where only one other edge divides the same two sheets there, as along the
   * outline of a round face, it slides on along that.
   */
  private pass(i: number, time: number): boolean {
    const { nodes, sides } = this;
    const { edge } = sides[i];
    const slides = (k: number): boolean =>
      nodes[k].moves === 'slide' && nodes[k].slidesOn === edge && this.moving(k, time);
    const n = [sides[i].node, this.end(sides[i])].find(slides);
    if (n === undefined) return false;
    // The same edge, as each of its sheets sees it.
    const used = [...new Set(this.around(n))].filter((k) => sides[k].alive && sides[k].edge === edge);
    const ways = used.map((k) => {
      const s = sides[k];
      const forward = s.node === n;
      const end = forward ? this.end(s) : s.node;
      const [lead, on] = forward ? [s.prev, s.next] : [s.next, s.prev];
      const whole = sides[s.prev].last + s.first + s.last + sides[s.next].first - Math.PI;
      return { forward, end, lead, on, whole };
    });
    const onto = sides[ways[0].on].edge;
    if (onto < 0 || onto === edge) return false;
    for (const { end, lead, on } of ways) {
      if (nodes[end].moves !== 'fixed' || sides[on].edge !== onto || sides[on].rounded) return false;
      if (lead === on || sides[on].prev === lead || sides[on].next === lead) return false;
    }
    const leads = ways.filter(({ lead }) => sides[lead].rounded);
    const rate = slideRate(leads.map(({ lead, whole }) => ({ angle: whole, speed: sides[lead].speed })));
    if (rate <= 0) return false;
    const users = [...this.sidesOfNode[n], ...ways.flatMap(({ forward, on }) => (forward ? [on] : []))];
    const made = this.become([n], users, used, time, {
      moves: 'slide',
      rate,
      after: n,
      turn: 0,
      slidesOn: onto,
    });
    for (const { forward, lead, on, whole } of ways) {
      if (forward) [sides[lead].last, sides[on].first] = [whole, 0];
      else [sides[on].last, sides[lead].first] = [0, whole];
    }
    this.refresh(this.around(made), time);
    return true;
  }

  /**
   * Nodes become one that moves in its own way, and sides that are used up go. What is around is refreshed by the caller,
   * once it has its angles.
   * @param users sides that start from it then, those used up included
   * @returns the node
   */
  private become(from: number[], users: number[], used: number[], time: number, motion: Motion): number {
    const { nodes, sides } = this;
    const n = nodes.length;
    const vertices = from.flatMap((k) => nodes[k].vertices);
    nodes.push({ ...motion, vertices, side: -1, since: time, becomes: n });
    const left = [...new Set(users)].filter((k) => !used.includes(k) && sides[k].alive);
    // The state of all sides around, before their nodes change.
    for (const k of new Set([
      ...used.map((u) => sides[u].prev),
      ...left.flatMap((u) => [u, sides[u].prev]),
    ])) {
      sides[k].length = this.lengthAt(sides[k], time);
      sides[k].since = time;
    }
    for (const k of from) nodes[k].becomes = n;
    for (const k of used) {
      const { prev, next } = sides[k];
      sides[k].alive = false;
      sides[prev].next = next;
      sides[next].prev = prev;
    }
    this.sidesOfNode.push(left);
    for (const k of left) sides[k].node = n;
    this.until.push(this.capOf(nodes[n]));
    this.scheduleCap(n, this.until[n]);
    return n;
  }

  private stop(a: number, b: number, time: number, facing: [number, number] | null, angle: number): void {
    // A hair before they touch: outlines that met in a point could not be told apart any more.
    const width = Math.max(0, time - TOLERANCE.weld * this.size);
    this.stops.push({ nodes: [a, b], width, facing, angle });
    const changed = [a, b].filter((n) => this.moving(n, time));
    const touched = changed.flatMap((n) => this.around(n));
    for (const k of touched) {
      this.sides[k].length = this.lengthAt(this.sides[k], time);
      this.sides[k].since = time;
    }
    for (const n of changed) this.until[n] = width;
    this.refresh(touched, time);
  }

  private refresh(list: number[], time: number): void {
    const changed = [...new Set(list)].filter((k) => this.sides[k].alive);
    for (const k of changed) this.sides[k].version++;
    for (const k of changed) this.schedule(k, time);
  }
}

type Motion = Pick<Node, 'moves' | 'rate' | 'after' | 'turn' | 'slidesOn'>;

interface Merged extends Motion {
  /** Angle of the new path to the side before it, and to the side after it. */
  angles: [number, number];
}

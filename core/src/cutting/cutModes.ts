/**
 * Cut modes beside subtract, union and intersect, each made of these three.
 *
 *  union    without voids, when asked: nothing is left that cannot be reached from outside
 *  split    the host in two, A − B and A ∩ B, with a gap between them where one is asked for
 *  recess   what lies in the cutter and within a thickness under the host's surface goes: the floor follows the surface
 *  raise    the same over the surface is added
 *  sleeve   subtract, with a wall of a thickness around the hole, through hollows too
 *  imprint  the line where the surfaces meet becomes edges of the host; nothing is taken or added
 *
 * Layers and walls are solids whose planes have moved by the thickness, so floors stay as flat and as smooth as what they
 * follow (offsetSolid, slab). Where faces vanish on the way, offsetPrism clips outlines and offsetBody joins pieces.
 */
import { OperationError, warn, type Warning } from '../mesh/errors';
import { boundsOf, sizeOf, volume } from '../mesh/measure';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { shellsOf } from '../mesh/shells';
import { partOf } from '../mesh/part';
import { topologyOf } from '../mesh/Topology';
import { pointOf } from '../mesh/vec3';
import { isWithinSurface } from '../select/edges';
import type { Watch } from '../watch';
import { cut, type Cutter } from '../solid/boolean';
import type { CutMode, CutResult } from '../solid/cutResult';
import type { Host, Plain } from './plain';
import { imprinted } from './imprint';
import { withoutRimsOf } from './layerRims';
import { offsetBody, type Moved } from './offsetBody';
import { offsetPrism } from './offsetPrism';
import { offsetSolid } from './offsetSolid';
import { after, besideEachOther, facesOfCut, uncut } from './partOfCut';
import { slabUnder } from './slab';
import { isSheet, plateOf, trimmed } from './trim';
import { windingNumber } from './winding';

export interface CutManner {
  mode: CutMode | 'split' | 'recess' | 'raise' | 'sleeve' | 'imprint';
  /** For a union: keep or drop hollows that cannot be reached from outside. */
  voids: 'keep' | 'drop';
  /** For a split. */
  keep: 'both' | 'inside' | 'outside';
  /** Between the halves of a split, mm; taken from both, or from one. */
  gap: number;
  gapFrom: 'both' | 'inside' | 'outside';
  /** Thickness of the layer of recess and raise and of a sleeve's wall, mm. */
  thickness: number;
  /** For recess and raise: only the wall nearest to the cutter's middle. */
  nearest: boolean;
  /** The position of a sleeve's wall: inside the cutter, or around it. */
  wall: 'inside' | 'outside';
  /** The wall of a sleeve is a body of its own. */
  apart: boolean;
}

export interface CutOptions {
  /** Flat neighbours from different operands become one face. */
  joins: boolean;
  /** Corners a polygon may have where a face must be divided. */
  widest: number;
  watch: Watch;
}

/** @throws OperationError as `cut`, and `too-thick` where a layer or wall has no room */
export function cutIn(
  host: Host,
  cutters: ReadonlyArray<Cutter>,
  how: CutManner,
  o: CutOptions,
): { result: CutResult; warnings: Warning[] } {
  const solid: Plain = (of, by, mode) => cut(of, by, mode, o.joins, o.widest, o.watch);
  // Faces that are joined are told to be the host's, also where one was the cutter's.
  const apart: Plain = (of, by, mode) => cut(of, by, mode, false, o.widest, o.watch);
  // A sheet is trimmed by its front alone.
  const trims = TRIMS.has(how.mode) && isSheet(host.mesh);
  const plain: Plain = (of, by, mode) =>
    trims && mode !== 'union' ? trimmed(of, by, mode, solid) : solid(of, by, mode);
  const body = trims ? { ...host, mesh: plateOf(host) } : host;
  const work = new Work(host, cutters, how, plain, (c) => facesWithin(apart(body, [c], 'intersect')));
  if (trims)
    work.warnings.push(
      warn('trimmed', `“${host.name}” is open, so it is trimmed as a sheet: the cut leaves no walls.`),
    );
  if (!cutters.length) return { result: uncut(host.mesh, 0), warnings: [] };
  const result = {
    subtract: () => plain(host, cutters, 'subtract'),
    intersect: () => plain(host, cutters, 'intersect'),
    union: () => work.union(),
    split: () => work.split(),
    recess: () => work.layer('subtract'),
    raise: () => work.layer('union'),
    sleeve: () => work.sleeve(),
    imprint: () => work.imprint(),
  }[how.mode]();
  return { result, warnings: work.warnings };
}

/** Modes that open sheets can be cut in too. */
const TRIMS = new Set<CutManner['mode']>(['subtract', 'intersect', 'split', 'imprint']);

class Work {
  readonly warnings: Warning[] = [];

  constructor(
    private readonly host: Host,
    private readonly cutters: ReadonlyArray<Cutter>,
    private readonly how: CutManner,
    private readonly plain: Plain,
    /** Faces of a cutter of which some part lies in the host. */
    private readonly within: (cutter: Cutter) => Set<number>,
  ) {}

  union(): CutResult {
    const result = this.plain(this.host, this.cutters, 'union');
    if (this.how.voids === 'keep') return result;
    const hidden = hiddenShells(result.mesh);
    const { ofFace } = shellsOf(result.mesh);
    return hidden.size ? facesOfCut(result, (f) => !hidden.has(ofFace[f])) : result;
  }

  split(): CutResult {
    const { keep, gap, gapFrom } = this.how;
    const off = (half: 'inside' | 'outside'): number =>
      gapFrom === 'both' ? gap / 2 : gapFrom === half ? gap : 0;
    const parts: CutResult[] = [];
    if (keep !== 'inside') {
      const wider = this.moved(off('outside'), 'The gap');
      parts.push(this.plain(this.host, wider, 'subtract'));
    }
    if (keep !== 'outside') {
      const narrower = this.moved(-off('inside'), 'The gap');
      // The part inside any of the cutters.
      const [first, ...others] = narrower;
      const all = others.length ? this.plain(first, others, 'union') : uncut(first.mesh, 0);
      const inside = this.plain(this.host, [{ ...first, mesh: all.mesh }], 'intersect');
      const { operandOfFace, sourceFace } = inside;
      parts.push({
        ...inside,
        operandOfFace: operandOfFace.map((x, f) => (x ? all.operandOfFace[sourceFace[f]] + 1 : 0)),
        sourceFace: sourceFace.map((s, f) => (operandOfFace[f] ? all.sourceFace[s] : s)),
      });
    }
    return besideEachOther(parts.filter((p) => faceCount(p.mesh)));
  }

  imprint(): CutResult {
    const { mesh, drew } = imprinted(this.host, this.cutters, this.plain);
    const { report, ...out } = uncut(mesh, 0);
    return { ...out, worked: drew, report: { ...report, touched: mesh !== this.host.mesh } };
  }

  /** Recess and raise. */
  layer(mode: 'subtract' | 'union'): CutResult {
    const { thickness, nearest } = this.how;
    // Beyond the surface only so far that the two cross, not touch.
    const [inner, outer] = mode === 'subtract' ? [-thickness, thickness] : [-thickness * UNDER, thickness];
    let walls = 0;
    const tools = this.cutters.flatMap((c): Cutter[] => {
      const inside = this.plain(this.host, [c], 'intersect');
      const covered = facesOfCut(inside, (f) => inside.operandOfFace[f] === 0);
      if (!faceCount(covered.mesh)) return [];
      const { mesh, sourceFace: hostFace } = covered;
      const clip = (box: PolyMesh): CutResult => this.plain(this.host, [{ mesh: box, name: 'box', id: LAYER }], 'intersect'); // prettier-ignore
      const slab = slabUnder(this.host.mesh, { mesh, hostFace }, inner, outer, clip);
      if (!slab) throw tooThick('The layer', thickness, c);
      const within = this.plain(c, [{ mesh: slab, name: 'layer', id: LAYER }], 'intersect');
      if (!faceCount(within.mesh)) return [];
      // Where the cutter leaves the surface is a rim, not where it ends on the floor.
      const tool = withoutRimsOf([LAYER], within.mesh);
      const parts = wallsByBody(c.mesh, tool, within);
      if (nearest && parts.some((p) => p.shells.length > 1)) {
        const kept = new Set(parts.map((p) => nearestOf(tool, p, c.mesh)));
        const { ofFace } = bodiesOf(tool);
        return [{ ...c, mesh: partOf(tool, Uint8Array.from(ofFace, (s: number) => Number(kept.has(s)))).mesh }]; // prettier-ignore
      }
      for (const { shells } of parts) walls = Math.max(walls, shells.length);
      return [{ ...c, mesh: tool }];
    });
    if (walls > 1)
      this.warnings.push(
        warn(
          'several-walls',
          `The cutter reaches ${walls} walls of the piece. “Nearest wall only” holds it back.`,
        ),
      );
    if (!tools.length) return uncut(this.host.mesh, 0);
    const result = this.plain(this.host, tools, mode);
    const numbers = tools.map((t) => this.cutters.findIndex((c) => c.id === t.id) + 1);
    return { ...result, operandOfFace: result.operandOfFace.map((x) => (x ? numbers[x - 1] : 0)) };
  }

  sleeve(): CutResult {
    const { thickness, wall, apart } = this.how;
    const walls = this.cutters.flatMap((c, i) => {
      const within = this.within(c);
      if (!within.size) return [];
      const { mesh, faceOf } = this.offset(c, within, wall === 'inside' ? -thickness : thickness, 'The wall');
      const moved = { ...c, mesh };
      const [inner, outer] = wall === 'inside' ? [moved, c] : [c, moved];
      const inHost = (o: number, f: number): boolean =>
        within.has((o === 1) === (wall === 'inside') ? faceOf(f) : f);
      return [{ at: i + 1, inner, outer, across: this.acrossHollows(inner, outer, inHost) }];
    });
    if (!walls.length) return uncut(this.host.mesh, 0);
    const inners = walls.map((w) => w.inner);
    const outers = walls.map((w) => w.outer);
    const across = walls.flatMap(({ at, across }) => (across ? [{ at, cutter: { ...this.cutters[at - 1], mesh: across } }] : [])); // prettier-ignore
    const withWalls = across.length
      ? this.plain(this.host, across.map((x) => x.cutter), 'union') // prettier-ignore
      : uncut(this.host.mesh, 0);
    const told = {
      ...withWalls,
      operandOfFace: withWalls.operandOfFace.map((x) => (x ? across[x - 1].at : 0)),
    };
    const full = { ...this.host, mesh: told.mesh };
    const lined = after(told, this.plain(full, inners, 'subtract'), (k) => walls[k - 1].at);
    if (!apart) return lined;
    const open = this.plain(this.host, outers, 'subtract');
    const [first, ...others] = outers;
    const tube = others.length ? this.plain(first, others, 'union').mesh : first.mesh;
    const body = after(lined, this.plain({ ...this.host, mesh: lined.mesh }, [{ ...first, mesh: tube }], 'intersect'), () => walls[0].at); // prettier-ignore
    return besideEachOther([open, body]);
  }

  /** The wall of a sleeve where it runs through hollows: between walls of the host, not where it stands out of it. */
  private acrossHollows(
    inner: Cutter,
    outer: Cutter,
    inHost: (operand: number, face: number) => boolean,
  ): PolyMesh | null {
    const tube = this.plain(outer, [inner], 'subtract');
    const rest = after(tube, this.plain({ ...outer, mesh: tube.mesh }, [{ ...this.host, id: this.host.id ?? '' }], 'subtract'), () => 2); // prettier-ignore
    const { ofFace } = shellsOf(rest.mesh);
    const open = new Set<number>();
    rest.operandOfFace.forEach((x, f) => x < 2 && !inHost(x, rest.sourceFace[f]) && open.add(ofFace[f]));
    const kept = facesOfCut(rest, (f) => !open.has(ofFace[f])).mesh;
    return faceCount(kept) ? kept : null;
  }

  /** The cutters, with the faces that cut the host moved outward. */
  private moved(by: number, what: string): Cutter[] {
    if (!by) return [...this.cutters];
    return this.cutters.map((c) => {
      return { ...c, mesh: this.offset(c, this.within(c), by, what).mesh };
    });
  }

  /** A cutter whose faces that cut the host have moved, with all they go on in without an edge. */
  private offset(c: Cutter, within: ReadonlySet<number>, by: number, what: string): Moved {
    const moving = withinOneSurface(c.mesh, within);
    const byOf = (f: number): number => (moving[f] ? by : 0);
    const exact = offsetSolid(c.mesh, byOf);
    const prism = exact ? undefined : offsetPrism(c.mesh, byOf);
    const moved = exact
      ? { mesh: exact, faceOf: (f: number) => f }
      : prism === undefined
        ? offsetBody(c.mesh, byOf, c.name, this.plain)
        : prism;
    if (!moved) throw tooThick(what, Math.abs(by), c);
    return moved;
  }
}

/** How far a raised layer reaches into the host, as a share of its thickness. */
const UNDER = 1e-3;

/** The mark of a layer's rims. */
const LAYER = '#layer';

const shellOf = (mesh: PolyMesh, ofFace: Int32Array, shell: number): PolyMesh =>
  partOf(
    mesh,
    Uint8Array.from(ofFace, (s: number) => Number(s === shell)),
  ).mesh;

/** 1 per face that hangs together with one of some over edges within a curved surface. */
function withinOneSurface(mesh: PolyMesh, faces: ReadonlySet<number>): Uint8Array {
  const t = topologyOf(mesh);
  const out = new Uint8Array(faceCount(mesh));
  const stack = [...faces];
  for (const f of stack) out[f] = 1;
  while (stack.length) {
    const f = stack.pop()!;
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      const g = t.twin[c] < 0 ? -1 : t.faceOfCorner[t.twin[c]];
      if (g < 0 || out[g] || !isWithinSurface(mesh, t, t.edgeOfCorner[c])) continue;
      out[g] = 1;
      stack.push(g);
    }
  }
  return out;
}

/** Faces of the cutter of which some part lies in the host. */
function facesWithin({ operandOfFace, sourceFace }: CutResult): Set<number> {
  return new Set([...sourceFace].filter((_, f) => operandOfFace[f] === 1));
}

/** Shells, with hollows counted to the body that is around them where there is but one. */
function bodiesOf(mesh: PolyMesh): { ofFace: Int32Array; count: number } {
  const shells = shellsOf(mesh);
  return shells.count - hiddenShells(mesh).size === 1 ? { ofFace: shells.ofFace.fill(0), count: 1 } : shells;
}

/** Shells of a closed mesh that lie within another that is not a hollow. */
function hiddenShells(mesh: PolyMesh): Set<number> {
  const { ofFace, count } = shellsOf(mesh);
  if (count < 2) return new Set();
  const shells = Array.from({ length: count }, (_, s) => {
    const part = shellOf(mesh, ofFace, s);
    return { mesh: part, box: boundsOf(part), volume: volume(part) };
  });
  const hidden = new Set<number>();
  shells.forEach(({ mesh: inner, box }, s) => {
    const within = shells.some(
      (around, k) =>
        k !== s &&
        around.volume > 0 &&
        [0, 1, 2].every((i) => around.box.min[i] <= box.min[i] && around.box.max[i] >= box.max[i]) &&
        windingNumber(around.mesh, pointOf(inner.positions, inner.corners[0])) > 0.5,
    );
    if (within) hidden.add(s);
  });
  return hidden;
}

/**
 * The part of a host that one body of a cutter covers: the shells of the layer within it. Letters are bodies of their
 * own.
 */
interface BodyWalls {
  /** Faces of the cutter's body. */
  faces: Set<number>;
  shells: number[];
}

function wallsByBody(
  cutter: PolyMesh,
  tool: PolyMesh,
  { operandOfFace, sourceFace }: CutResult,
): BodyWalls[] {
  const bodies = bodiesOf(cutter).ofFace;
  const { ofFace, count } = bodiesOf(tool);
  const bodyOfShell = new Int32Array(count);
  ofFace.forEach((s, f) => operandOfFace[f] === 0 && (bodyOfShell[s] = bodies[sourceFace[f]]));
  const out = new Map<number, BodyWalls>();
  bodyOfShell.forEach((body, shell) => {
    let walls = out.get(body);
    if (!walls) out.set(body, (walls = { faces: new Set(), shells: [] }));
    walls.shells.push(shell);
  });
  bodies.forEach((body, f) => out.get(body)?.faces.add(f));
  return [...out.values()];
}

/** The shell that comes nearest to the middle of the cutter's body it lies in. */
function nearestOf(tool: PolyMesh, { faces, shells }: BodyWalls, cutter: PolyMesh): number {
  const { min, max } = boundsOf(partOf(cutter, Uint8Array.from({ length: faceCount(cutter) }, (_, f) => Number(faces.has(f)))).mesh); // prettier-ignore
  const middle = min.map((x, k) => (x + max[k]) / 2);
  const { ofFace } = bodiesOf(tool);
  const least = new Map(shells.map((s) => [s, Infinity]));
  for (let f = 0; f < ofFace.length; f++) {
    if (!least.has(ofFace[f])) continue;
    for (let c = tool.faceStart[f]; c < tool.faceStart[f + 1]; c++) {
      const p = pointOf(tool.positions, tool.corners[c]);
      least.set(ofFace[f], Math.min(least.get(ofFace[f])!, Math.hypot(...p.map((x, k) => x - middle[k]))));
    }
  }
  return shells.reduce((a, b) => (least.get(b)! < least.get(a)! ? b : a));
}

function tooThick(what: string, thickness: number, cutter: Cutter): OperationError {
  const mm = Number(thickness.toPrecision(3));
  return new OperationError(
    'too-thick',
    `${what} of ${mm} mm has no room at “${cutter.name}”: its faces would go through each other.`,
    undefined,
    `Use less than ${mm} mm, or a larger cutter (${cutter.name} is ${Number(sizeOf(cutter.mesh).toPrecision(3))} mm across).`,
    cutter.id,
  );
}

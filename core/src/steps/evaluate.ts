/**
 * Evaluates builds: base, then steps lane by lane, each result cached under its input mesh, parameters and
 * operands. Pieces used as cutters are evaluated first and brought into the host's frame.
 */
import type { MeshBase } from '../document/base';
import type { Piece } from '../document/schema';
import { ActionRun, type ActionReport } from '../document/actions';
import { activeCutters, cutterCycle, needed, operandsOf } from '../document/graph';
import { worldMatrix } from '../document/placement';
import type { PolyMesh } from '../mesh/PolyMesh';
import { EMPTY_MESH, faceCount } from '../mesh/PolyMesh';
import { faultOf, OperationError, type Fault } from '../mesh/errors';
import { invert, multiply, transformMesh, type Matrix } from '../mesh/transform';
import { bevel } from '../ops/bevel/bevel';
import { facesBevelled } from '../ops/bounds';
import { LIMITS, refuseTooMany, type Limits } from '../ops/operation';
import { buildPrimitive, type Primitive } from '../primitives';
import { cut } from '../solid/boolean';
import { isSound, markSound } from '../solid/Solid';
import type { Selection } from '../select/selection';
import { edgesInScope } from './scope';
import {
  inLaneOrder,
  STEP_TITLES,
  type BevelStep,
  type CutStep,
  type NormalsStep,
  type SmoothStep,
  type Step,
} from './kinds';
import { subdivide } from '../subdivide/catmullClark';
import { ontoLimit } from '../subdivide/limit';
import { shade } from './shade';

export interface StepReport {
  /** The step's place in the piece's own list. */
  index: number;
  kind: Step['kind'];
  /** Time this evaluation spent on it, ms; 0 when its cached result served. */
  ms: number;
  /** The key number for its bead, e.g. `−12` or `2 mm`. */
  key: string;
  /** Something a person should look at; the result still stands. */
  warning?: string;
  fault?: Fault;
}

export interface BuildResult {
  mesh: PolyMesh;
  steps: StepReport[];
  /** The base with its actions, before any step. */
  base: PolyMesh;
  actions: ActionReport[];
  /** What the last action left picked. */
  picked: Selection | null;
}

/** Where meshes that are not primitives come from. */
export interface MeshSource {
  blob(hash: string): PolyMesh;
  file(path: string): PolyMesh;
}

export interface Progress {
  /** Called before every step; throw to cancel. */
  (done: number, total: number, label: string): void;
}

interface Cached {
  input: PolyMesh;
  key: string;
  operands: PolyMesh[];
  matrices: string;
  mesh: PolyMesh;
  report: Omit<StepReport, 'index' | 'ms'>;
}

/** Holds the caches of one document; survives edits, recomputing what changed. */
export class Evaluator {
  private readonly bases = new Map<string, { key: string; mesh: PolyMesh }>();
  private readonly surfaces = new Map<string, PolyMesh>();
  private readonly runs = new Map<string, ActionRun>();
  private readonly steps = new Map<string, Cached>();
  private readonly results = new Map<string, BuildResult>();
  private readonly joined = new Map<string, ReadonlySet<string>>();
  private pieces = new Map<string, Piece>();

  constructor(
    private readonly source: MeshSource,
    /** Build as for export: smooth steps with their export levels. */
    private readonly final = false,
    /** What a step or an action may make. */
    private readonly limits: Limits = LIMITS,
  ) {}

  /** Takes the document to evaluate next. Caches of pieces that are gone are dropped. */
  setPieces(pieces: ReadonlyArray<Piece>): void {
    this.pieces = new Map(pieces.map((p) => [p.id, p]));
    this.results.clear();
    this.joined.clear();
    for (const cache of [this.bases, this.runs])
      for (const id of cache.keys()) if (!this.pieces.has(id)) cache.delete(id);
    for (const key of this.steps.keys()) if (!this.pieces.has(key.split('/')[0])) this.steps.delete(key);
  }

  /**
   * The built mesh of a piece, in the piece's own frame.
   * @param upTo evaluate only the first so many steps in lane order (for looking at a stage)
   */
  build(id: string, progress?: Progress, upTo = Infinity): BuildResult {
    const done = this.results.get(id);
    if (done && upTo === Infinity) return done;
    const piece = this.pieces.get(id);
    if (!piece) throw new OperationError('no-piece', `There is no piece “${id}”.`);
    this.buildOperands(id, progress);
    return this.buildAlone(id, progress, upTo);
  }

  private buildAlone(id: string, progress: Progress | undefined, upTo: number): BuildResult {
    const piece = this.pieces.get(id)!;
    const { mesh: base, reports: actions, last: picked } = this.edited(piece);
    const ordered = inLaneOrder((piece.steps ?? []).map((step, index) => ({ ...step, index })));
    const active = ordered.filter((s) => !s.off).length;
    let mesh = base;
    const reports: StepReport[] = [];
    let count = 0;
    for (const step of ordered.slice(0, upTo)) {
      if (step.off) continue;
      progress?.(count++, active, piece.name ?? id);
      const { index, ...plain } = step;
      const before = performance.now();
      const slot = `${id}/${plain.id ?? index}`;
      try {
        const { mesh: next, report } = this.runStep(slot, piece, plain as Step, mesh);
        reports.push({ index, ms: performance.now() - before, ...report });
        mesh = next;
      } catch (e) {
        if (!(e instanceof OperationError)) throw e;
        // A step that cannot act passes its input on, so the rest of the build stays to look at.
        reports.push({
          index,
          kind: plain.kind,
          ms: performance.now() - before,
          key: 'fault',
          fault: faultOf(e),
        });
      }
    }
    const result = { mesh, steps: reports, base, actions, picked };
    if (upTo === Infinity) this.results.set(id, result);
    return result;
  }

  /** Builds what a piece leans on before the piece itself, so that long chains of cutters need no deep stack. */
  private buildOperands(id: string, progress?: Progress): void {
    const circle = cutterCycle(this.pieces, [id]);
    if (circle)
      throw new OperationError(
        'cutter-cycle',
        `Cutters run in a circle: ${circle.join(' → ')}.`,
        undefined,
        'Take one of these cutters away.',
      );
    const next = (x: string): string[] => operandsOf(this.pieces.get(x)!).filter((c) => this.pieces.has(c));
    for (const operand of needed(id, next).slice(0, -1))
      if (!this.results.has(operand)) this.buildAlone(operand, progress, Infinity);
  }

  /** The base with the piece's actions applied. */
  private edited(piece: Piece): ReturnType<ActionRun['run']> {
    const base = this.base(piece);
    if (!piece.actions?.length) return { mesh: base, last: null, reports: [] };
    let run = this.runs.get(piece.id);
    if (!run) this.runs.set(piece.id, (run = new ActionRun(this.meshOf, this.limits)));
    return run.run(base, piece.actions);
  }

  /** @throws OperationError `no-piece` */
  editedPiece(id: string): ReturnType<ActionRun['run']> {
    const piece = this.pieces.get(id);
    if (!piece) throw new OperationError('no-piece', `There is no piece “${id}”.`);
    return this.edited(piece);
  }

  private base(piece: Piece): PolyMesh {
    const key = JSON.stringify(piece.base);
    const hit = this.bases.get(piece.id);
    if (hit?.key === key) return hit.mesh;
    const mesh = 'group' in piece.base ? EMPTY_MESH : this.makeBase(piece.base);
    this.bases.set(piece.id, { key, mesh });
    return mesh;
  }

  /** A mesh an action looks to; the last few are kept, for a hand that is still at it. */
  readonly meshOf = (base: MeshBase): PolyMesh => {
    const key = JSON.stringify(base);
    const mesh = this.surfaces.get(key) ?? this.makeBase(base);
    this.surfaces.delete(key);
    this.surfaces.set(key, mesh);
    if (this.surfaces.size > 8) this.surfaces.delete(this.surfaces.keys().next().value!);
    return mesh;
  };

  private makeBase(base: MeshBase): PolyMesh {
    if ('blob' in base) return this.source.blob(base.blob);
    if ('file' in base) return this.source.file(base.file);
    return markSound(buildPrimitive(base as Primitive));
  }

  private runStep(
    slot: string,
    piece: Piece,
    step: Step,
    input: PolyMesh,
  ): { mesh: PolyMesh; report: Omit<StepReport, 'index' | 'ms'> } {
    const operands = step.kind === 'cut' ? this.operands(piece, step) : [];
    const key = JSON.stringify({ ...step, id: undefined, name: undefined });
    const matrices = operands.map((o) => o.matrix.join()).join(';');
    const hit = this.steps.get(slot);
    if (
      hit &&
      hit.input === input &&
      hit.key === key &&
      hit.matrices === matrices &&
      hit.operands.length === operands.length &&
      hit.operands.every((m, i) => m === operands[i].mesh)
    )
      return { mesh: hit.mesh, report: hit.report };
    const { mesh, ...report } = RUN[step.kind](input, step as never, {
      piece,
      operands,
      final: this.final,
      limits: this.limits,
    });
    refuseTooMany({ title: STEP_TITLES[step.kind] }, faceCount(mesh), this.limits.faces);
    const full = { kind: step.kind, ...report };
    this.steps.set(slot, { input, key, operands: operands.map((o) => o.mesh), matrices, mesh, report: full });
    return { mesh, report: full };
  }

  private operands(piece: Piece, step: CutStep): Operand[] {
    const toHost = invert(worldMatrix(this.pieces, piece.id));
    const active = activeCutters(step).filter((c) => this.pieces.has(c));
    return active.map((id, i) => {
      const built = this.results.get(id)!;
      const failed = built.steps.find((s) => s.fault);
      return {
        id,
        name: this.pieces.get(id)!.name ?? id,
        mesh: built.mesh,
        matrix: multiply(toHost, worldMatrix(this.pieces, id)),
        failed: failed?.fault?.message,
        inside: step.mode !== 'intersect' && active.slice(0, i).some((d) => this.joinedInto(d).has(id)),
      };
    });
  }

  /** Pieces that lie within another's result because nothing but joining them made it. */
  private joinedInto(id: string): ReadonlySet<string> {
    const known = this.joined.get(id);
    if (known) return known;
    const inside = new Set<string>();
    this.joined.set(id, inside);
    const steps = (this.pieces.get(id)!.steps ?? []).filter((s) => !s.off && s.kind !== 'normals');
    const joins = steps.flatMap((s) => (s.kind === 'cut' && s.mode === 'union' ? activeCutters(s) : []));
    const built = this.results.get(id);
    if (!built?.steps.some((s) => s.fault) && steps.every((s) => s.kind === 'cut' && s.mode === 'union'))
      for (const c of joins.filter((x) => this.results.has(x))) {
        inside.add(c);
        for (const x of this.joinedInto(c)) inside.add(x);
      }
    return inside;
  }
}

interface Operand {
  id: string;
  name: string;
  mesh: PolyMesh;
  matrix: Matrix;
  failed?: string;
  /** Another operand before it holds all of it, so it changes nothing: A ∪ (B ∪ C) ∪ C = A ∪ (B ∪ C). */
  inside: boolean;
}
interface Context {
  /** What is built is to be exported, not looked at while working. */
  final: boolean;
  limits: Limits;
  piece: Piece;
  operands: Operand[];
}
interface Ran {
  mesh: PolyMesh;
  key: string;
  warning?: string;
}

const RUN: {
  cut: (m: PolyMesh, s: CutStep, c: Context) => Ran;
  bevel: (m: PolyMesh, s: BevelStep, c: Context) => Ran;
  smooth: (m: PolyMesh, s: SmoothStep, c: Context) => Ran;
  normals: (m: PolyMesh, s: NormalsStep, c: Context) => Ran;
} = {
  cut: runCut,
  bevel: runBevel,
  smooth: runSmooth,
  normals: runNormals,
};

const MODE_SIGN = { subtract: '−', union: '+', intersect: '∩' } as const;

function runCut(mesh: PolyMesh, step: CutStep, { piece, operands }: Context): Ran {
  const key = `${MODE_SIGN[step.mode]} ${operands.length}`;
  if (!operands.length) return { mesh, key, warning: 'All cutters are switched off.' };
  if (!faceCount(mesh) && step.mode !== 'union') return { mesh, key, warning: 'Nothing is left to cut.' };
  const cutters = operands
    .filter((o) => !o.inside)
    .map((o) => ({ id: o.id, name: o.name, mesh: placed(o.mesh, o.matrix) }));
  const host = { mesh, name: piece.name ?? piece.id, id: piece.id };
  const result = cut(host, cutters, step.mode, step.join ?? true);
  const failed = operands.find((o) => o.failed);
  return {
    mesh: result.mesh,
    key,
    warning: failed
      ? `“${failed.name}” has a step that failed: ${failed.failed}`
      : !faceCount(result.mesh)
        ? 'The cut leaves nothing of the piece.'
        : !result.report.touched
          ? 'No cutter touches the piece.'
          : undefined,
  };
}

const placedCache = new WeakMap<PolyMesh, Map<string, PolyMesh>>();

/** The operand in the host's frame, cached so that an unmoved cutter stays the same mesh. */
function placed(mesh: PolyMesh, matrix: Matrix): PolyMesh {
  let byMatrix = placedCache.get(mesh);
  if (!byMatrix) placedCache.set(mesh, (byMatrix = new Map()));
  const key = matrix.join();
  let out = byMatrix.get(key);
  if (!out) {
    if (byMatrix.size > 4) byMatrix.clear();
    out = transformMesh(mesh, matrix);
    if (isSound(mesh)) markSound(out);
    byMatrix.set(key, out);
  }
  return out;
}

function runBevel(mesh: PolyMesh, step: BevelStep, { limits }: Context): Ran {
  const scope = step.scope ?? { rule: 'sharp' as const, angle: 30 };
  const edges = edgesInScope(mesh, scope);
  refuseTooMany({ title: STEP_TITLES.bevel }, facesBevelled(mesh, edges, step.segments ?? 3), limits.faces);
  const { mesh: out, report } = bevel(mesh, edges, {
    width: step.width,
    segments: step.segments ?? 3,
    profile: step.profile ?? 1,
    clamp: step.clamp ?? true,
  });
  const key = `${Number(step.width.toPrecision(4))} mm · ${step.segments ?? 3} seg`;
  if (!report.roundedEdges) return { mesh: out, key, warning: 'No edge is in scope.' };
  const stopped = report.stoppedGroups
    ? `${report.stoppedGroups} of ${report.groups} runs of edges stop early, the first at ${Number(report.reachedWidth.toPrecision(3))} mm.`
    : undefined;
  return { mesh: out, key, warning: stopped };
}

function runSmooth(mesh: PolyMesh, step: SmoothStep, { final, limits }: Context): Ran {
  const wanted = final ? (step.exportLevels ?? 3) : (step.levels ?? 2);
  let levels = wanted;
  while (levels > 0 && mesh.corners.length * 4 ** (levels - 1) > limits.faces) levels--;
  return {
    mesh: levels && step.limit ? ontoLimit(subdivide(mesh, levels)) : subdivide(mesh, levels),
    key: `${levels} ${levels === 1 ? 'level' : 'levels'}`,
    warning:
      levels < wanted
        ? `Stopped at ${levels} levels: more would make over ${limits.faces / 1e6} million faces.`
        : undefined,
  };
}

function runNormals(mesh: PolyMesh, step: NormalsStep): Ran {
  const weight = step.weight ?? 'area';
  const out = shade(mesh, {
    hardAngle: step.hardAngle ?? 40,
    weight,
    rank: step.rank ?? true,
    cutOff: step.cutOff ?? 0,
  });
  return { mesh: out, key: `${weight} · ${step.hardAngle ?? 40}°` };
}

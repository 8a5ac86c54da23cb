/**
 * Evaluates builds: base, then steps lane by lane, each result cached under its input mesh, parameters and
 * operands. Pieces used as cutters are evaluated first and brought into the host's frame.
 */
import '../planar/withClipper';
import '../primitives/letters/withFont';
import { isMeshBase, type MeshBase, type TakenBase } from '../primitives/base';
import type { Kept, Piece } from '../document/schema';
import { ActionRun } from '../actions/actions';
import { revised, type Edits, type Redone } from '../actions/revise';
import { cutterCycle, needed, operandsOf } from '../document/graph';
import { GroupMembers } from '../document/groupMembers';
import { recalled, withKept, type Recalled } from '../select/kept';
import { mapsOf, tracked, type ElementMaps } from '../mesh/lineage';
import { type PolyMesh, EMPTY_MESH } from '../mesh/PolyMesh';
import { faultOf, OperationError } from '../mesh/errors';
import { LIMITS, type Limits } from '../ops/operation';
import { buildPrimitive, type Primitive } from '../primitives';
import { baseBirths, expecting, giveBirths } from '../births/births';
import { Makers } from '../births/Makers';
import { isSound, markSound } from '../solid/Solid';
import type { Selection } from '../select/selection';
import { Recent } from '../Recent';
import { UNWATCHED, type Watch } from '../watch';
import { keptForSteps } from './ofPiece';
import { isShading, type ShadeStep } from './shadeLane';
import { Operands } from './Operands';
import type { BuildResult, StepReport } from './report';
import { STATES } from './StepResults';
import { withHollows } from './hollows';
import { StepRuns } from './StepRuns';
import { inLaneOrder, laneOf, stepName, STEPS, type Step, type StepOfKind } from '../steps';
import type { Lane } from '../steps/lanes';

/** The source of meshes that are not primitives. */
export interface MeshSource {
  blob(hash: string): PolyMesh;
  file(path: string): PolyMesh;
}

export interface Progress {
  /**
   * Called before every step and inside long ones, with how many steps are done, a share of one included. What it
   * throws ends the build; what was built before stays kept.
   */
  (done: number, total: number, label: string): void;
}

/** Holds the caches of one document; survives edits, recomputing what changed. */
export class Evaluator {
  private readonly bases = new Map<string, Recent<{ key: string; from: PolyMesh[]; mesh: PolyMesh }>>();
  private readonly surfaces = new Map<string, PolyMesh>();
  private readonly runs = new Map<string, ActionRun>();
  private readonly keptMarks = new Map<string, Recent<{ base: PolyMesh; key: string; mesh: PolyMesh }>>();
  private readonly results = new Map<string, BuildResult>();
  /** Pieces before their Cut lane. */
  private readonly formed = new Map<string, PolyMesh>();
  private readonly steps: StepRuns;
  private pieces = new Map<string, Piece>();
  private members = new GroupMembers(this.pieces);
  private operands = new Operands(this.pieces, this.members, this.results);
  /** Resolves the makers in the layer `birth` of any result. */
  readonly makers = new Makers();

  constructor(
    private readonly source: MeshSource,
    /** Build as for export: smooth steps with their export levels. */
    final = false,
    /** Limits on the result of a step or an action. */
    private readonly limits: Limits = LIMITS,
  ) {
    const { makers, meshOf, formed } = this;
    this.steps = new StepRuns({ makers, limits, final, meshOf, formed }, this.document());
  }

  private document(): { pieces: Map<string, Piece>; members: GroupMembers; operands: Operands } {
    const { pieces, members, operands } = this;
    return { pieces, members, operands };
  }

  /** Takes the document to evaluate next. Caches of pieces that are gone are dropped. */
  setPieces(pieces: ReadonlyArray<Piece>): void {
    this.pieces = new Map(pieces.map((p) => [p.id, p]));
    this.members = new GroupMembers(this.pieces);
    this.results.clear();
    this.operands = new Operands(this.pieces, this.members, this.results);
    for (const cache of [this.bases, this.runs, this.keptMarks, this.formed])
      for (const id of cache.keys()) if (!this.pieces.has(id)) cache.delete(id);
    this.steps.setDocument(this.document());
  }

  /**
   * The built mesh of a piece, in the piece's own frame.
   * @param upTo evaluate only the first so many steps in lane order (for looking at a stage)
   * @param draft a hand is at it: what is quickly made will do
   */
  build(id: string, progress?: Progress, upTo = Infinity, draft = false): BuildResult {
    const done = this.results.get(id);
    if (done && upTo === Infinity && (draft || !done.draft)) return done;
    this.steps.draft = draft;
    this.piece(id);
    this.buildOperands(id, progress);
    return this.buildAlone(id, progress, upTo);
  }

  private buildAlone(id: string, progress: Progress | undefined, upTo: number): BuildResult {
    const piece = this.pieces.get(id)!;
    const { mesh: base, reports: actions, last: picked } = this.edited(piece);
    const ordered = inLaneOrder((piece.steps ?? []).map((step, index) => ({ ...step, index })));
    const active = ordered.filter((s) => !s.off).length;
    let mesh = this.marked(piece, base);
    const reports: StepReport[] = [];
    const results: Array<object | string> = [];
    let bare = mesh;
    let madeIn: Lane | null = null;
    const marks: Array<StepOfKind<'marks'>> = [];
    const shading: ShadeStep[] = [];
    let draft = this.operands.expanded(operandsOf(piece)).some((c) => this.results.get(c)?.draft);
    this.formed.set(id, mesh);
    const list = ordered.slice(0, upTo).filter((s) => !s.off);
    for (let k = 0; k < list.length; k++) {
      const done = k;
      const watch: Watch = (share) => progress?.(done + share, active, piece.name ?? id);
      watch(0);
      const { index, ...plain } = list[k];
      const start = performance.now();
      try {
        const turned =
          k + 1 < list.length ? this.steps.turned(piece, list[k], list[k + 1], mesh, watch) : null;
        const ran = turned?.own ?? this.steps.run(piece, list[k], mesh, watch);
        const { made, report, step: given, operands } = ran;
        draft ||= made.draft;
        reports.push({ index, ms: performance.now() - start, ...report });
        results.push(made);
        mesh = made.mesh;
        if (turned) {
          const { made, report } = turned.next;
          draft ||= made.draft;
          reports.push({ index: list[++k].index, ms: 0, ...report });
          results.push(made);
        }
        if (isShading(given)) shading.push({ index, step: given, operands });
        else if (!shading.length) [bare, madeIn] = [mesh, laneOf(given)];
        if (given.kind === 'marks') marks.push(given);
        if (laneOf(plain as Step) === 'Form') this.formed.set(id, mesh);
      } catch (e) {
        if (!(e instanceof OperationError)) throw e;
        // A step that cannot act passes its input on, so the rest of the build stays to look at.
        results.push(e.message);
        reports.push({
          index,
          kind: plain.kind,
          ms: performance.now() - start,
          key: 'fault',
          counts: {},
          warnings: [],
          fault: faultOf(e),
        });
      }
    }
    const formed = this.formed.get(id)!;
    const result = {
      mesh,
      formed,
      lane: { bare, madeIn, marks, steps: shading },
      steps: withHollows(reports, mesh, this.makers, this.pieces),
      results,
      base,
      actions,
      picked,
      makers: this.makers,
      draft,
    };
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
    const next = (x: string): string[] =>
      this.operands.expanded(operandsOf(this.pieces.get(x)!)).filter((c) => this.pieces.has(c));
    for (const operand of needed(id, next).slice(0, -1))
      if (!this.results.has(operand) || (this.results.get(operand)!.draft && !this.steps.draft))
        this.buildAlone(operand, progress, Infinity);
  }

  /** The base with the piece's actions applied. */
  private edited(piece: Piece): ReturnType<ActionRun['run']> {
    const base = this.base(piece);
    if (!piece.actions?.length) return { mesh: base, last: null, reports: [], maps: [] };
    let run = this.runs.get(piece.id);
    if (!run) this.runs.set(piece.id, (run = this.runOf(piece)));
    return run.run(base, piece.actions, piece.selections);
  }

  private runOf({ id }: Piece): ActionRun {
    const context = { meshOf: this.meshOf, limits: this.limits };
    return new ActionRun(context, (made, key) => giveBirths(made, key, `${id}#${key}`, this.makers));
  }

  /**
   * The edits of a piece's base as they would be with some of them done over; nothing is changed here.
   * @throws OperationError `no-piece`
   */
  revisedEdits(id: string, order: ReadonlyArray<Redone>): Edits {
    const piece = this.piece(id);
    const { actions = [], selections } = piece;
    if (!isMeshBase(piece.base)) this.buildOperands(id);
    return revised(this.base(piece), { actions, selections }, order, this.runOf(piece));
  }

  /** @throws OperationError `no-piece` */
  editedPiece(id: string): ReturnType<ActionRun['run']> {
    const piece = this.piece(id);
    if (!isMeshBase(piece.base)) this.buildOperands(id);
    return this.edited(piece);
  }

  /** @throws OperationError `no-piece` */
  piece(id: string): Piece {
    const piece = this.pieces.get(id);
    if (!piece) throw new OperationError('no-piece', `There is no piece “${id}”.`);
    return piece;
  }

  /**
   * A kept selection after the actions that came since.
   * @throws OperationError `no-piece`
   */
  recall(id: string, kept: Kept): Recalled {
    const { mesh } = this.editedPiece(id);
    return this.runs.get(id)?.recall(kept, mesh) ?? recalled(kept, mesh, []);
  }

  /** The edited base with the kept selections marked that steps ask for; the same mesh as long as those are the same. */
  private marked(piece: Piece, base: PolyMesh): PolyMesh {
    const selections = new Map<string, Selection>();
    for (const name of keptForSteps(piece)) {
      const kept = piece.selections?.[name];
      if (kept && !('picks' in kept)) selections.set(name, this.recall(piece.id, kept).selection);
    }
    if (!selections.size) return base;
    const key = JSON.stringify([...selections]);
    const known = recentOf(this.keptMarks, piece.id);
    const hit = known.find((m) => m.base === base && m.key === key);
    if (hit) return hit.mesh;
    const mesh = withKept(base, selections);
    if (isSound(base)) markSound(mesh);
    return known.add({ base, key, mesh }).mesh;
  }

  private base(piece: Piece): PolyMesh {
    const { base } = piece;
    if ('group' in base) return EMPTY_MESH;
    if ('twin' in base) return this.results.get(base.twin)?.mesh ?? EMPTY_MESH;
    if ('taken' in base) return this.taken(piece.id, base);
    return this.keptBase(piece.id, JSON.stringify(base), [], () => this.named(piece.id, this.makeBase(base)));
  }

  /** @param from the meshes it is made of */
  private keptBase(id: string, key: string, from: PolyMesh[], make: () => PolyMesh): PolyMesh {
    const known = recentOf(this.bases, id);
    const hit = known.find(
      (b) => b.key === key && b.from.length === from.length && b.from.every((m, i) => m === from[i]),
    );
    return (hit ?? known.add({ key, from, mesh: make() })).mesh;
  }

  /**
   * The material that a cut of another piece took out of it.
   * @throws OperationError `not-cut` when there is no such cut at work, or those of the cut
   */
  private taken(id: string, base: TakenBase): PolyMesh {
    const host = this.piece(base.taken);
    const index = (host.steps ?? []).findIndex((s, i) => stepName(s, i) === base.step && !s.off);
    const cut = this.steps.results.current(`${host.id}/${base.step}`);
    const step = host.steps?.[index];
    const take = step && STEPS[step.kind].taken;
    const failed = this.results.get(host.id)?.steps.find((s) => s.index === index)?.fault;
    if (!cut || !take || failed)
      throw new OperationError(
        'not-cut',
        failed?.message ?? `“${host.name ?? host.id}” has no cut at work that this was taken out by.`,
        undefined,
        failed?.fix ?? 'Switch the cut on again, or delete this piece.',
      );
    const needs = this.steps.needsOf(host, step, cut.input);
    const matrices = needs.operands.map((o) => o.matrix.join()).join(';');
    const key = JSON.stringify([base, step, matrices]);
    return this.keptBase(id, key, [cut.input, ...needs.operands.map((o) => o.mesh)], () => {
      const context = { ...needs, draft: this.steps.draft, memory: {}, watch: UNWATCHED };
      const naming = { ...context, name: this.steps.naming(id, 'taken') };
      const made = take(expecting(cut.input), step as never, naming, base.clearance ?? 0, base.cutter);
      return markSound(giveBirths(made, 'taken', `${id}/taken`, this.makers));
    });
  }

  private named(piece: string, base: PolyMesh): PolyMesh {
    const mesh = baseBirths(base, piece, this.makers);
    return isSound(base) ? markSound(mesh) : mesh;
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

  /**
   * Builds a piece, and leaves in memory what its steps need to be quick while some of the pieces they work with move.
   * @throws OperationError `no-piece`, and whatever the progress throws
   */
  prepare(id: string, moving: Iterable<string>, progress?: Progress): void {
    this.build(id, progress);
    const piece = this.piece(id);
    (piece.steps ?? []).forEach((step, index) => {
      const { prepare, operands } = STEPS[step.kind];
      const name = stepName(step, index);
      const input = this.steps.results.current(`${id}/${name}`)?.input;
      if (step.off || !prepare || !input) return;
      const own = new Set(this.operands.expanded(operands?.(step as never) ?? []));
      const memory = this.steps.memoryOf(`${id}/${name}`);
      const some = new Set([...moving].filter((x) => own.has(x)));
      if (!memory || !some.size) return;
      const watch: Watch = () => progress?.(index, piece.steps!.length, piece.name ?? id);
      const context = { ...this.steps.needsOf(piece, step, input), draft: true, memory, watch };
      prepare(expecting(input), step as never, { ...context, name: this.steps.naming(id, name) }, some);
    });
  }

  /**
   * The maps of a step: from the elements of its result to those of the mesh it was given. They are made when they
   * are asked for, by running the step once more with its elements tracked; builds do not wait for it.
   * @param index of the step in the piece's list
   * @throws OperationError of the step itself, or `no-step`
   */
  stepMaps(id: string, index: number): ElementMaps {
    this.build(id);
    const piece = this.piece(id);
    const step = piece.steps?.[index];
    const name = step && stepName(step, index);
    const cached = name && this.steps.results.current(`${id}/${name}`);
    if (!cached || step.off) throw new OperationError('no-step', `Step ${index} of “${id}” has no result.`);
    const { input } = cached;
    const given = tracked(expecting(input));
    if (isSound(input)) markSound(given);
    const context = { ...this.steps.needsOf(piece, step, input), draft: false, memory: {}, watch: UNWATCHED };
    const { mesh, maps } = STEPS[step.kind].run(given, step as never, {
      ...context,
      name: this.steps.naming(id, name),
    });
    return maps?.() ?? mapsOf(mesh, input);
  }
}

/** The values kept for a piece, as many as there are states kept of a step. */
function recentOf<T>(kept: Map<string, Recent<T>>, id: string): Recent<T> {
  let recent = kept.get(id);
  if (!recent) kept.set(id, (recent = new Recent<T>(STATES)));
  return recent;
}

/** Runs the steps of pieces, and keeps their results and what is left in memory for the next run. */
import { expecting, giveBirths } from '../births/births';
import type { Makers } from '../births/Makers';
import type { GroupMembers } from '../document/groupMembers';
import type { Piece } from '../document/schema';
import { OperationError } from '../mesh/errors';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { IDENTITY } from '../mesh/transform';
import { refuseTooMany, type Limits, type MeshOf } from '../ops/operation';
import { withBornScopes } from '../select/kept';
import { isSound, markSound } from '../solid/Solid';
import { STEPS, stepName, type Step } from '../steps';
import type { Operand, StepContext } from '../steps/define';
import type { Watch } from '../watch';
import { isAskedFor, withMadeEdges } from './madeBy';
import { frameAbout } from './ofPiece';
import type { Operands } from './Operands';
import { StepResults, type StepResult } from './StepResults';
import { isNarrower, turnedSteps, turnedWords } from './turned';

/** A step that was run, with its scopes told, and what it worked with. */
export interface StepRun {
  made: StepResult;
  report: StepResult['report'];
  step: Step;
  operands: Operand[];
}

/** Two steps in a row that were run the other way round. */
export interface TurnedRun {
  own: StepRun;
  next: StepRun;
}

/** A step with its place in the piece's own list. */
type Placed = Step & { index: number };

const placeless = ({ index: _, ...step }: Placed): Step => step as Step;

/** The document whose steps are run. */
interface Document {
  pieces: ReadonlyMap<string, Piece>;
  members: GroupMembers;
  operands: Operands;
}

interface Of {
  makers: Makers;
  limits: Limits;
  /** Build as for export. */
  final: boolean;
  meshOf: MeshOf;
  /** Pieces before their Cut lane. */
  formed: ReadonlyMap<string, PolyMesh>;
}

export class StepRuns {
  readonly results = new StepResults();
  private readonly memories = new Map<string, { kept?: unknown }>();
  /** A hand is at it: what is quickly made will do. */
  draft = false;

  constructor(
    private readonly of: Of,
    private document: Document,
  ) {}

  /** Takes the document whose steps are run next, and drops what is kept of pieces that are gone. */
  setDocument(document: Document): void {
    this.document = document;
    const isThere = (step: string): boolean => document.pieces.has(step.split('/')[0]);
    for (const key of this.memories.keys()) if (!isThere(key)) this.memories.delete(key);
    this.results.retain(isThere);
  }

  /** Data a step left in its last run. */
  memoryOf(slot: string): { kept?: unknown } | undefined {
    return this.memories.get(slot);
  }

  private scoped(piece: Piece, step: Step): Step {
    return this.document.members.inScopes(withBornScopes(step, piece.selections), (id) =>
      this.document.pieces.get(id),
    );
  }

  /** Runs a step after the one that follows it, where that is the better way round; null where it is not. */
  turned(piece: Piece, own: Placed, next: Placed, input: PolyMesh, watch: Watch): TurnedRun | null {
    if (own.kind !== next.kind || !STEPS[own.kind].turned) return null;
    const turned = turnedSteps(input, ...this.bothScoped(piece, own, next));
    if (!turned) return null;
    try {
      const first = this.run(piece, { ...turned.first, index: next.index }, turned.input, watch, '/first');
      if (isNarrower(first.report)) return null;
      const second = this.run(
        piece,
        { ...turned.second, index: own.index },
        first.made.mesh,
        watch,
        '/second',
      );
      // Narrow in places, it may be so either way.
      if (isNarrower(second.report) && isNarrower(second.report, this.run(piece, own, input, watch).report))
        return null;
      const report = { ...second.report, says: turnedWords(next) };
      return { own: { ...second, report, step: placeless(own) }, next: { ...first, step: placeless(next) } };
    } catch (e) {
      if (e instanceof OperationError) return null;
      throw e;
    }
  }

  private bothScoped(piece: Piece, own: Placed, next: Placed): [Step, Step] {
    return [this.scoped(piece, placeless(own)), this.scoped(piece, placeless(next))];
  }

  /** @param variant of its place among what is kept, for a step that is run in two ways */
  run(piece: Piece, placed: Placed, input: PolyMesh, watch: Watch, variant = ''): StepRun {
    const kind = STEPS[placed.kind];
    const name = stepName(placed, placed.index);
    const step = this.scoped(piece, placeless(placed));
    const needs = this.needsOf(piece, step, input);
    const { operands, frame } = needs;
    const asked = isAskedFor(piece, name);
    const key = JSON.stringify({ ...step, id: undefined, name: undefined, asked });
    const matrices = [...operands.map((o) => o.matrix), frame].map((m) => m.join()).join(';');
    const slot = `${piece.id}/${name}${variant}`;
    const from = { input, key, operands: operands.map((o) => o.mesh), matrices };
    const hit = this.results.find(slot, from, this.draft);
    if (hit)
      return {
        made: hit,
        report: { ...hit.report, anchored: this.document.operands.anchored(operands) },
        step,
        operands,
      };
    const given = expecting(input);
    if (isSound(input)) markSound(given);
    let memory = this.memories.get(slot);
    if (!memory) this.memories.set(slot, (memory = {}));
    const {
      mesh: made,
      draft = false,
      maps: _,
      ...report
    } = kind.run(given, step as never, {
      ...needs,
      draft: this.draft,
      memory,
      watch,
      name: this.naming(piece.id, name),
    });
    refuseTooMany({ title: kind.title }, faceCount(made), this.of.limits.faces);
    const by = `${piece.id}/${name}`;
    const named = made === given ? input : giveBirths(made, name, by, this.of.makers);
    const mesh = asked ? withMadeEdges(named, name, by, this.of.makers) : named;
    if (isSound(made)) markSound(mesh);
    const result: StepResult = {
      ...from,
      mesh,
      report: {
        kind: step.kind,
        ...report,
        counts: report.counts ?? {},
        warnings: [...operands.flatMap((o) => o.anchor?.warnings ?? []), ...(report.warnings ?? [])],
        anchored: this.document.operands.anchored(operands),
      },
      draft,
    };
    this.results.keep(slot, result, this.draft);
    return { made: result, report: result.report, step, operands };
  }

  /** How a step of several actions has the faces named that each of them made. */
  naming(piece: string, step: string): StepContext['name'] {
    return (made, key) => giveBirths(made, `${step}#${key}`, `${piece}/${step}#${key}`, this.of.makers);
  }

  /** The context of a step, beside its own numbers. @param input the mesh it works on */
  needsOf(
    piece: Piece,
    step: Step,
    input: PolyMesh,
  ): Omit<StepContext, 'draft' | 'memory' | 'watch' | 'name'> {
    const kind = STEPS[step.kind];
    return {
      piece,
      operands: kind.operands
        ? this.document.operands.of(piece, step, kind.operands(step as never), input)
        : [],
      formed: this.of.formed.get(piece.id) ?? input,
      frame: kind.about ? frameAbout(this.document.pieces, piece.id, kind.about(step as never)) : IDENTITY,
      final: this.of.final,
      limits: this.of.limits,
      meshOf: this.of.meshOf,
    };
  }
}

/**
 * The contract of a kind of live step: everything the program knows of it stands in one file and comes
 * from there to the schemas, the checks, the evaluator, the Card, the strip and the commands.
 */
import { Type, type Static, type TLiteral, type TObject, type TProperties } from 'typebox';
import type { ActionReport } from '../actions/actions';
import type { Anchored } from '../select/anchor';
import type { Pull } from '../ops/pulls';
import type { IdleCutter } from '../cutting/idle';
import type { ModelHandle } from '../handle';
import type { ElementMaps } from '../mesh/lineage';
import type { PolyMesh } from '../mesh/PolyMesh';
import type { Matrix } from '../mesh/transform';
import type { Vec3 } from '../mesh/vec3';
import type { Warning } from '../mesh/errors';
import type { Offer } from '../offers';
import type { Why } from '../ops/bevel/widths';
import type { Counts, Limits, MeshOf } from '../ops/operation';
import type { Scope } from '../select/rules';
import type { Watch } from '../watch';
import type { Selection } from '../select/selection';
import { LANES, type Lane } from './lanes';

/** Keys every step has. */
export const COMMON = {
  id: Type.Optional(Type.String({ minLength: 1, maxLength: 64 })),
  name: Type.Optional(Type.String({ maxLength: 120 })),
  off: Type.Optional(Type.Boolean()),
  /** The lane it is worked in, when that is not the one of its kind. */
  pin: Type.Optional(
    Type.Unsafe<Lane>(
      Type.Union(
        LANES.map((l) => Type.Literal(l)),
        { title: 'Lane, if another' },
      ),
    ),
  ),
};

export type StepSchemaOf<K extends string, P extends TProperties> = TObject<
  typeof COMMON & { kind: TLiteral<K> } & P
>;
export type StepOf<K extends string, P extends TProperties> = Static<StepSchemaOf<K, P>>;

/** Another piece's result, brought to where it stands to the piece that is built. */
export interface Operand {
  id: string;
  name: string;
  mesh: PolyMesh;
  matrix: Matrix;
  /** Its placement when it is anchored. */
  anchor?: Anchored;
  /** The fault of its own build. */
  failed?: string;
  /** Another operand before it holds all of it, so it changes nothing: A ∪ (B ∪ C) ∪ C = A ∪ (B ∪ C). */
  inside: boolean;
}

export interface StepContext {
  piece: { id: string; name?: string };
  operands: Operand[];
  /** The piece as it was before its cuts, roundings and what comes after them. */
  formed: PolyMesh;
  /** From the frame the step works in (`frame`) to the piece's own. */
  frame: Matrix;
  /** The build is for export, not for looking at while working. */
  final: boolean;
  limits: Limits;
  /** Meshes that actions refer to. */
  meshOf: MeshOf;
  /** Names the faces an action made, for a step of several. @param key of the action among those of the step */
  name(made: PolyMesh, key: string): PolyMesh;
  /** A hand is at it: what is quickly made will do until it lets go. */
  draft: boolean;
  /** Asked inside long work, with how far it is. */
  watch: Watch;
  /** Data the step left in its last run; only used to be quicker. */
  memory: { kept?: unknown };
}

/** A run of connected edges that was rounded. */
export interface EdgeGroup {
  /** How many edges of the mesh that was given. */
  edges: number;
  /** Width asked for, and the least width anywhere along it, mm. */
  asked: number;
  least: number;
  /** Share of its length that has 99% of the width or more, 0…1. */
  full: number;
  /** Places where it is narrower, and why. */
  stops: Array<{ edges: number; at: Vec3; width: number; why: Why }>;
}

export interface StepOutcome {
  mesh: PolyMesh;
  /** The key number for its bead, e.g. `−12` or `2 mm`. */
  key: string;
  /** How many of what, for whoever reports it. */
  counts?: Counts;
  /** Things a person should look at; the result still stands. Their elements are those of the mesh that was given. */
  warnings?: Warning[];
  /** The outcome in a sentence, where its key is not enough. */
  says?: string;
  /** For roundings: the outcome of each run of connected edges. */
  groups?: EdgeGroup[];
  /** The edges it takes, for lighting them up: 6 numbers each. */
  lines?: Float64Array;
  /** Its numbers that are pulled on the mesh it was given. */
  pulls?: Pull[];
  /** Operands that do nothing, or what nobody sees. */
  idle?: IdleCutter[];
  /** For steps of edits: the report of each, and the picks the last one left. */
  actions?: ActionReport[];
  picked?: Selection | null;
  /** Its maps, where the step provides them itself. */
  maps?(): ElementMaps;
  /** Made quickly for a hand that is at it; the same body, to be made whole when it lets go. */
  draft?: boolean;
}

/** How the Card shows a parameter, in the order given; what is left out here is not shown. */
export interface StepField<S> {
  key: Extract<keyof S, string>;
  /** In place of the schema's title. */
  label?: string;
  /** Shown by a control of its own. What it says is each piece's own, never given to several. */
  as?: 'cutters' | 'edits' | 'about' | 'shading' | 'leads';
  /** Folded away: few need it. */
  fine?: true;
  /** Shown only then. */
  when?: (step: S) => boolean;
  /** A choice that heads the Card, across its width and without a label beside it. */
  wide?: true;
  /** Per option of a choice, what it means. */
  hints?: Readonly<Record<string, string>>;
  /** Words under the field, left to right. */
  captions?: ReadonlyArray<string>;
  /** The word for leaving it out, where that is a choice of its own. */
  none?: string;
  /** How much one pixel of dragging changes. */
  perPixel?: number;
  /** Further numbers it begins with when it is chosen. @param size of the built piece along its axes, mm */
  begins?(step: S, size: Vec3): Partial<S>;
}

/** The piece a step may be added to, as far as that decides which one it is. */
export interface Seen {
  name: string;
  steps: ReadonlyArray<{ kind: string; scope?: Scope }>;
  /** Steps made rims on it. */
  hasRims: boolean;
  /** Other pieces that are selected, in the order they were. */
  others: string[];
  nameOf(piece: string): string;
  /** Faces whose shading drifts too far from the true, and the worst drift, degrees. */
  drift: { faces: number; worst: number };
}

/** A command that adds a step. */
export interface Adds<S> extends Omit<Offer, 'next'> {
  /** Id of the command; `add-step-` and the kind when left out. */
  id?: string;
  title: string;
  /** Its label in the history; the title when left out. */
  label?(seen: Seen): string;
  step: S | ((seen: Seen) => S);
  /** Its scope is fixed, so it is never offered for the picks. */
  scoped?: true;
  /** The other pieces that are selected become its cutters, nested in this one. */
  consumes?: true;
  /** If the piece has such a step, that one is switched on or off instead, at every level. */
  switches?: true;
  /** Its offer among the next moves; null where it is not likely wanted. */
  offers?(seen: Seen): { text: string; value?: string } | null;
}

/** How two steps of a kind are run where the second is run first. */
export interface Turned<S> {
  /** The mesh both begin with. */
  input: PolyMesh;
  /** The second as it is run first, and the first as it is run after it. */
  first: S;
  second: S;
}

export interface StepDefinition<K extends string, P extends TProperties> {
  kind: K;
  title: string;
  lane: Lane;
  /** One step of it, as a recipe has it; the docs show it and random tests begin from it. */
  example: StepOf<K, P>;
  params: P;
  fields: ReadonlyArray<StepField<StepOf<K, P>>>;
  /** The commands that add one; the first is what its lane offers while it is empty. */
  adds?: ReadonlyArray<Adds<StepOf<K, P>>>;
  /** Name of its bead when a person gave none. */
  label?(step: StepOf<K, P>, nameOf: (piece: string) => string): string;
  /** The scopes it works with. */
  scopes?(step: StepOf<K, P>): Scope[];
  /** The results a step works with, by piece id. */
  operands?(step: StepOf<K, P>): string[];
  /** The step with one more operand beside a given one; for kinds that work with lists of pieces. */
  joined?(step: StepOf<K, P>, beside: string, added: string): StepOf<K, P>;
  /** Its numbers on the model, in the piece's frame. @param frame from the one it works about to the piece's */
  handles?(step: StepOf<K, P>, frame: Matrix): ModelHandle[];
  /** Lines that show what it goes by while it is at hand, in the piece's frame. @param size of the piece, mm */
  guides?(step: StepOf<K, P>, frame: Matrix, size: number): Array<[Vec3, Vec3]>;
  /** The place a step works about; the piece's own origin when left out. */
  about?(step: StepOf<K, P>): About;
  /**
   * How a step and the one of its kind that follows it are run the other way round; null where they are not.
   */
  turned?(input: PolyMesh, step: StepOf<K, P>, next: StepOf<K, P>): Turned<StepOf<K, P>> | null;
  /** Edges it makes are rims, which other steps can round. */
  makesRims?: true;
  /** An operand that lies whole within another one before it changes nothing. */
  joins?(step: StepOf<K, P>): boolean;
  /** Operands that lie whole within the result; for a step that takes nothing away. */
  holds?(step: StepOf<K, P>): string[] | null;
  /** The step changes only how faces are shaded. */
  shadesOnly?: true;
  /**
   * The material it took away, as a body of its own.
   * @param clearance how far its walls stay off those it left, mm
   * @param operand only what this one took
   * @throws OperationError `takes-nothing`
   */
  taken?(
    mesh: PolyMesh,
    step: StepOf<K, P>,
    context: StepContext,
    clearance: number,
    operand?: string,
  ): PolyMesh;
  /** Leaves in memory what its next run needs to be quick while some of its operands move. */
  prepare?(mesh: PolyMesh, step: StepOf<K, P>, context: StepContext, moving: ReadonlySet<string>): void;
  /** Pure and deterministic. @throws OperationError */
  run(mesh: PolyMesh, step: StepOf<K, P>, context: StepContext): StepOutcome;
}

/** A frame to work about: the piece's own, the world's, another piece's, or a peg's as it was when it was named. */
export type About = 'piece' | 'world' | { piece: string } | { peg: Matrix };

export type StepKindOf<K extends string, P extends TProperties> = Readonly<StepDefinition<K, P>> & {
  readonly schema: StepSchemaOf<K, P>;
};

export function defineStep<const K extends string, P extends TProperties>(
  d: StepDefinition<K, P>,
): StepKindOf<K, P> {
  const schema = Type.Object(
    { ...COMMON, kind: Type.Literal(d.kind), ...d.params },
    { additionalProperties: false },
  ) as unknown as StepSchemaOf<K, P>;
  return { ...d, schema };
}

/**
 * The layers Urnsmith knows, told once: where each lives, how many numbers an element has, and what becomes of them.
 * Every rule that carries layers on reads this table. Layers that are not in it ride along: their numbers are mixed.
 */
import type { Domain } from './elements';

export interface LayerKind {
  readonly name: string;
  readonly on: Domain;
  /** Numbers per element. */
  readonly size: number;
  readonly means: string;
  /**
   * How an element between others takes its value: numbers are mixed by weight; codes are copied from the heaviest,
   * since between two names there is none; directions are mixed and brought back to unit length, turn with the mesh,
   * point the other way when faces are turned over, and are dropped where the surface under them changes.
   */
  readonly value: 'number' | 'code' | 'direction';
  /** A mark a person sets on edges: a plain yes or no, or a strength. Faces on both sides are kept apart by it. */
  readonly mark?: 'whole' | 'strength';
  /** A trace of how a live step made the element; a direct edit leaves none. */
  readonly trace?: true;
  /** Part of a build; never stored. */
  readonly passing?: true;
}

export const LAYER_KINDS = [
  { name: 'hard', on: 'edge', size: 1, means: 'shading breaks here', value: 'code', mark: 'whole' },
  {
    name: 'crease',
    on: 'edge',
    size: 1,
    means: 'stays sharp for so many levels of smoothing',
    value: 'number',
    mark: 'strength',
  },
  { name: 'seam', on: 'edge', size: 1, means: 'UVs are cut here', value: 'code', mark: 'whole' },
  {
    name: 'round',
    on: 'edge',
    size: 1,
    means: 'share of a bevel’s width',
    value: 'number',
    mark: 'strength',
  },
  {
    name: 'cut',
    on: 'edge',
    size: 1,
    means: 'code of the cutter that made the rim',
    value: 'code',
    trace: true,
  },
  {
    name: 'rounded',
    on: 'edge',
    size: 1,
    means: 'lies within a rounding, or along its border with a wall',
    value: 'code',
  },
  { name: 'bridge', on: 'edge', size: 1, means: 'only divides a face with holes', value: 'code' },
  { name: 'uv', on: 'corner', size: 2, means: 'place in the picture', value: 'number' },
  { name: 'normal', on: 'corner', size: 3, means: 'held normal', value: 'direction' },
  {
    name: 'surface',
    on: 'corner',
    size: 3,
    means: 'normal of the curved surface a cut face came from; zero where it is the face’s own',
    value: 'direction',
  },
  {
    name: 'bent',
    on: 'corner',
    size: 3,
    means: 'mean direction of the rays that escape',
    value: 'direction',
    trace: true,
  },
  {
    name: 'openness',
    on: 'corner',
    size: 1,
    means: 'share of rays that escape',
    value: 'number',
    trace: true,
  },
  { name: 'material', on: 'face', size: 1, means: 'number of the material', value: 'code' },
  { name: 'rank', on: 'face', size: 1, means: 'how strongly the face leads shading', value: 'code' },
  {
    name: 'weight',
    on: 'face',
    size: 1,
    means: 'what the face counts for shading, 0 to 100, plus 1; 0 leaves that to its area',
    value: 'code',
  },
  { name: 'group', on: 'face', size: 1, means: 'number of a face group', value: 'code' },
  { name: 'origin', on: 'face', size: 2, means: 'piece and face it came from', value: 'code', trace: true },
  { name: 'birth', on: 'face', size: 3, means: 'family of the face, what made it, and its own name', value: 'code', passing: true }, // prettier-ignore
  { name: 'cameFrom', on: 'face', size: 1, means: 'a base (0), work by hand (1) or a cut (2)', value: 'code', passing: true }, // prettier-ignore
  { name: 'uvLaid', on: 'face', size: 1, means: 'its UVs were laid out by a person', value: 'code' },
] as const satisfies ReadonlyArray<LayerKind>;

type Known = (typeof LAYER_KINDS)[number];
export type MarkName = Extract<Known, { mark: string }>['name'];

const ALL: ReadonlyArray<LayerKind> = LAYER_KINDS;
/** Layers of which only live steps leave traces. */
export const TRACES = ALL.filter((k) => k.trace);
const named = (of: (k: LayerKind) => boolean): string[] => ALL.filter(of).map((k) => k.name);

/** Layers that mark the elements of a kept selection have its name after this; they pass, and their values are codes. */
export const KEPT = 'kept:';

const CODES: ReadonlySet<string> = new Set(named((k) => k.value === 'code'));
/** Its values are names or codes. */
export const isCode = (name: string): boolean => CODES.has(name) || name.startsWith(KEPT);
/** Corner layers of unit vectors. */
export const DIRECTIONS: ReadonlyArray<string> = named((k) => k.value === 'direction');
export const MARKS = named((k) => k.mark !== undefined) as MarkName[];
/** A mark is there or it is not; the others have a strength. */
export const isWhole = (mark: string): boolean => ALL.some((k) => k.name === mark && k.mark === 'whole');

const PASSING: ReadonlySet<string> = new Set(named((k) => k.passing === true));
/** Never stored. */
export const isPassing = (name: string): boolean => PASSING.has(name) || name.startsWith(KEPT);

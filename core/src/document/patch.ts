/**
 * Changes of a scene document as data: patches by path, in Immer's form. `diffDocuments` finds them between two
 * documents that share what did not change; `applyPatch` applies them strictly.
 */
import { applyPatches, enablePatches, produce, type Patch as PathPatch } from 'immer';
import { alike, isReservedWord, tidy } from '../schema/json';
import { isSection, SECTION_NAMES, type SceneDocument } from './sections';

enablePatches();

/** Changes in the order they are made; each names its place by keys and indices from the document's root. */
export type Patch = PathPatch[];

/** A patch that does not fit the document it meets. */
export class PatchError extends Error {}

type Sections = Record<string, Record<string, unknown>>;

/** The things a patch reaches, as they were and as they become; what is not there has no key. */
export interface Reached {
  /** Section (or `order`) and id of each. */
  places: Array<[string, string]>;
  before: Sections;
  after: Sections;
}

/**
 * Applies a patch to the things it reaches. Cost grows with those alone, whatever else the document holds.
 * @throws PatchError when a path leads nowhere or an operation does not fit what is there
 */
export function reachedBy(doc: SceneDocument, patch: Patch): Reached {
  const all = doc as unknown as Sections;
  const before: Sections = {};
  const places = new Map<string, [string, string]>();
  for (const { path } of patch) {
    const [section, id] = path.map(String);
    if (path.length < 2 || (section !== 'order' && !isSection(section)))
      throw new PatchError(`${path.join('/') || 'the document'}: a change starts with a section and an id.`);
    places.set(`${section}/${id}`, [section, id]);
    const part = (before[section] ??= {});
    if (Object.hasOwn(all[section], id)) part[id] = all[section][id];
  }
  const after = produce(before, (draft) => {
    for (const p of patch) {
      refuseUnfit(draft, p);
      applyPatches(draft, [p]);
    }
  });
  return { places: [...places.values()], before, after };
}

/** Puts things into a document's tables where they stand; undone by putting the ones from before back. */
export function putInPlace(doc: SceneDocument, { places, after }: Pick<Reached, 'places' | 'after'>): void {
  const all = doc as unknown as Sections;
  for (const [section, id] of places) {
    if (Object.hasOwn(after[section] ?? {}, id)) all[section][id] = after[section][id];
    else delete all[section][id];
  }
}

/**
 * The document with a patch applied; the original is unchanged and shares what stays.
 * @throws PatchError as `reachedBy`
 */
export function applyPatch(doc: SceneDocument, patch: Patch): SceneDocument {
  const reached = reachedBy(doc, patch);
  const out = { ...(doc as unknown as Sections) };
  for (const section of new Set(reached.places.map(([s]) => s))) out[section] = { ...out[section] };
  putInPlace(out as unknown as SceneDocument, reached);
  return out as unknown as SceneDocument;
}

/**
 * Whether a patch takes another one back on the document it has already been applied to.
 * @throws PatchError as `reachedBy`
 */
export function leadsBack(doc: SceneDocument, made: Reached, inverse: Patch): boolean {
  const back = reachedBy(doc, inverse);
  const now = doc as unknown as Sections;
  const of = (part: Sections, [s, id]: [string, string]): unknown =>
    Object.hasOwn(part[s] ?? {}, id) ? part[s][id] : undefined;
  const key = ([s, id]: [string, string]): string => `${s}/${id}`;
  const forth = new Set(made.places.map(key));
  const again = new Set(back.places.map(key));
  return [...made.places, ...back.places].every((place) =>
    alike(
      of(forth.has(key(place)) ? made.before : now, place),
      of(again.has(key(place)) ? back.after : now, place),
    ),
  );
}

function refuseUnfit(root: object, { op, path, value }: PathPatch): void {
  const where = path.join('/') || 'the document';
  const refuse = (why: string): never => {
    throw new PatchError(`${where}: ${why}`);
  };
  let at: unknown = root;
  for (const key of path.slice(0, -1)) {
    at = at !== null && typeof at === 'object' && Object.hasOwn(at, key) ? (at as never)[key] : undefined;
    if (typeof at !== 'object' || at === null) refuse('there is nothing at this place.');
  }
  const last = path.at(-1)!;
  if (op !== 'remove' && value === undefined) refuse('the value is missing.');
  if (Array.isArray(at)) {
    const i = typeof last === 'number' ? last : -1;
    if (!Number.isInteger(i) || i < 0 || i >= at.length + (op === 'add' ? 1 : 0))
      refuse(`the list has ${at.length} items.`);
    return;
  }
  if (typeof last !== 'string' || isReservedWord(last)) refuse('this cannot be a key.');
  if ((op === 'add') === Object.hasOwn(at as object, last))
    refuse(op === 'add' ? 'it is there already.' : 'there is nothing to change.');
}

/**
 * The patch that takes another one back on the document it is about to be applied to.
 * @throws PatchError as `applyPatch`
 */
export const inverseOf = (doc: SceneDocument, patch: Patch): Patch =>
  diffDocuments(doc, applyPatch(doc, patch))?.inverse ?? [];

/** Patches that lead from one document to another and back; null when they are alike. */
export function diffDocuments(
  before: SceneDocument,
  after: SceneDocument,
): { forward: Patch; inverse: Patch } | null {
  const forward: Patch = [];
  const inverse: Patch = [];
  for (const s of [...SECTION_NAMES, 'order'] as const) {
    differences(before[s], after[s], [s], forward);
    differences(after[s], before[s], [s], inverse);
  }
  return forward.length ? { forward, inverse } : null;
}

type Path = Array<string | number>;
const isObject = (v: unknown): v is Record<string, unknown> => typeof v === 'object' && v !== null;

/** Adds what leads from `a` to `b` to a patch. */
function differences(a: unknown, b: unknown, path: Path, out: Patch): void {
  if (a === b) return;
  if (Array.isArray(a) && Array.isArray(b)) return listDifferences(a, b, path, out);
  if (!isObject(a) || !isObject(b) || Array.isArray(a) || Array.isArray(b)) {
    if (!alike(a, b)) out.push({ op: 'replace', path, value: tidy(b) });
    return;
  }
  for (const k of Object.keys(a))
    if (a[k] !== undefined && b[k] === undefined) out.push({ op: 'remove', path: [...path, k] });
  for (const k of Object.keys(b)) {
    if (b[k] === undefined) continue;
    if (a[k] === undefined || !Object.hasOwn(a, k))
      out.push({ op: 'add', path: [...path, k], value: tidy(b[k]) });
    else differences(a[k], b[k], [...path, k], out);
  }
}

function listDifferences(a: unknown[], b: unknown[], path: Path, out: Patch): void {
  // Lists of plain values (numbers of a vector, picked indices) are told whole.
  if (![...a, ...b].every(isObject)) {
    if (!alike(a, b)) out.push({ op: 'replace', path, value: tidy(b) });
    return;
  }
  let start = 0;
  while (start < a.length && start < b.length && alike(a[start], b[start])) start++;
  let [endA, endB] = [a.length, b.length];
  while (endA > start && endB > start && alike(a[endA - 1], b[endB - 1])) {
    endA--;
    endB--;
  }
  const shared = Math.min(endA, endB);
  for (let i = start; i < shared; i++) differences(a[i], b[i], [...path, i], out);
  for (let i = endA - 1; i >= shared; i--) out.push({ op: 'remove', path: [...path, i] });
  for (let i = shared; i < endB; i++) out.push({ op: 'add', path: [...path, i], value: tidy(b[i]) });
}

/** The things a patch reaches, as `section/id`: two patches that reach none in common can both hold. */
export function touched(patch: Patch): Set<string> {
  return new Set(patch.map(({ path: [section, id] }) => `${section === 'order' ? 'pieces' : section}/${id}`));
}

export const meet = (a: ReadonlySet<string>, b: ReadonlySet<string>): boolean => {
  for (const x of a) if (b.has(x)) return true;
  return false;
};

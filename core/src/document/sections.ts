/**
 * Stored scenes: sections of things by id, and the order pieces are listed in. A new kind of thing is one more line
 * of `SECTIONS`; checking, patches, merging, hashes and references follow from it.
 */
import { Type, type TSchema } from 'typebox';
import { orderKeysFor } from './order';
import { ReferenceWalker, type Reference } from '../schema/references';
import { PresetSchema, type Preset } from './presets';
import { IdSchema, NameSchema, PieceSchema, type Piece } from './schema';

/** Numbers every change of the stored form; `migrations.ts` leads from one to the next. */
export const DOCUMENT_VERSION = 2;

/** A thing that has no more than a name yet. */
const NamedSchema = Type.Object(
  { id: IdSchema, name: Type.Optional(NameSchema) },
  { additionalProperties: false },
);

export const SECTIONS = {
  pieces: PieceSchema,
  materials: NamedSchema,
  references: NamedSchema,
  curves: NamedSchema,
  cameras: NamedSchema,
  lights: NamedSchema,
  pegs: NamedSchema,
  presets: PresetSchema,
  profiles: NamedSchema,
} as const satisfies Record<string, TSchema>;

export type Section = keyof typeof SECTIONS;
export const SECTION_NAMES = Object.keys(SECTIONS) as Section[];
export const isSection = (name: string): name is Section => Object.hasOwn(SECTIONS, name);

export interface Entry {
  id: string;
  name?: string;
}

export type SceneDocument = { version: typeof DOCUMENT_VERSION } & {
  pieces: Record<string, Piece>;
  /** The order of pieces: by this key, equal ones by id. */
  order: Record<string, string>;
  presets: Record<string, Preset>;
} & Record<Exclude<Section, 'pieces' | 'presets'>, Record<string, Entry>>;

export function emptyDocument(): SceneDocument {
  return {
    version: DOCUMENT_VERSION,
    order: {},
    ...Object.fromEntries(SECTION_NAMES.map((s) => [s, {}])),
  } as SceneDocument;
}

/** The pieces in the order they are listed. Linear where they are kept in it, as after all but a few actions. */
export function piecesOf({ pieces, order }: SceneDocument): Piece[] {
  const list = Object.values(pieces);
  const comesBefore = (a: Piece, b: Piece): boolean => {
    const [x, y] = [order[a.id] ?? '', order[b.id] ?? ''];
    return x !== y ? x < y : a.id < b.id;
  };
  const inOrder = list.every((p, i) => i === 0 || comesBefore(list[i - 1], p));
  return inOrder ? list : list.sort((a, b) => (comesBefore(a, b) ? -1 : 1));
}

/** The document with another list of pieces; entries that are the same objects stay so, and as few order keys as can be change. */
export function withPieces(doc: SceneDocument, list: ReadonlyArray<Piece>): SceneDocument {
  return {
    ...doc,
    pieces: Object.fromEntries(list.map((p) => [p.id, p])),
    order: orderKeysFor(
      list.map((p) => p.id),
      doc.order,
    ),
  };
}

/** A document of just these pieces. */
export const documentOf = (list: ReadonlyArray<Piece>): SceneDocument => withPieces(emptyDocument(), list);

const walkers = Object.fromEntries(SECTION_NAMES.map((s) => [s, new ReferenceWalker(SECTIONS[s])])) as Record<
  Section,
  ReferenceWalker
>;
const known = new WeakMap<object, Reference[]>();

/** References of an entry, looked up once per object. */
export function referencesOf(section: Section, entry: object): Reference[] {
  let list = known.get(entry);
  if (!list) known.set(entry, (list = walkers[section].list(entry)));
  return list;
}

/** An entry with references replaced, see `ReferenceWalker.replace`. */
export const withReferences = <T>(
  section: Section,
  entry: T,
  to: (r: { section: string; id: string }) => string | null,
): T => walkers[section].replace(entry, to);

/** Hashes of all stored meshes a document needs. */
export function meshesOf(doc: SceneDocument): Set<string> {
  const out = new Set<string>();
  for (const s of SECTION_NAMES)
    for (const entry of Object.values(doc[s]))
      for (const r of referencesOf(s, entry)) if (r.role === 'mesh') out.add(r.id);
  return out;
}

/** Hashes of the stored meshes that things (`section/id`) need. */
export function meshesAt(doc: SceneDocument, places: Iterable<string>): string[] {
  const out = new Set<string>();
  for (const place of places) {
    const [section, id] = place.split(/\/(.*)/s) as [Section, string];
    if (!Object.hasOwn(doc[section], id)) continue;
    for (const r of referencesOf(section, doc[section][id])) if (r.role === 'mesh') out.add(r.id);
  }
  return [...out];
}

/**
 * A hash of a document that follows changes at their own cost: the sum of the hashes of its entries, modulo 2^256
 * (AdHash, Bellare & Micciancio 1997, "A new paradigm for collision-free hashing"). It guards against faults, not
 * against forgery.
 */
import { createHash } from 'node:crypto';
import { canonicalJson } from '@urnsmith/core/schema/json';
import { SECTION_NAMES, type SceneDocument } from '@urnsmith/core/document/sections';

const MODULUS = 1n << 256n;

function entryHash(doc: SceneDocument, place: string): bigint {
  const cut = place.indexOf('/');
  const [section, id] = [place.slice(0, cut), place.slice(cut + 1)];
  const things = doc[section as 'pieces'];
  if (!Object.hasOwn(things, id)) return 0n;
  const order = section === 'pieces' ? (doc.order[id] ?? '') : '';
  const digest = createHash('sha256')
    .update(`${section}/${id}/${order}/`)
    .update(canonicalJson(things[id]))
    .digest('hex');
  return BigInt(`0x${digest}`);
}

const written = (sum: bigint): string =>
  (((sum % MODULUS) + MODULUS) % MODULUS).toString(16).padStart(64, '0');

/** 64 hexadecimal digits. */
export function documentHash(doc: SceneDocument): string {
  let sum = 0n;
  for (const s of SECTION_NAMES) for (const id of Object.keys(doc[s])) sum += entryHash(doc, `${s}/${id}`);
  return written(sum);
}

/** The share of each thing (`section/id`) in the document's hash. */
export function hashOf(doc: SceneDocument, places: Iterable<string>): bigint {
  let sum = 0n;
  for (const place of places) sum += entryHash(doc, place);
  return sum;
}

/** A hash after what some things add to it has changed. */
export const hashMoved = (hash: string, before: bigint, after: bigint): string =>
  written(BigInt(`0x${hash}`) + after - before);

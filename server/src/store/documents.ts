/**
 * Documents at any revision, found from snapshots and the journal and checked against the hash stored with it. The
 * scenes worked on last are kept, within bounds.
 */
import { applyPatch } from '@urnsmith/core/document/patch';
import type { SceneDocument } from '@urnsmith/core/document/sections';
import type { Db } from './db';
import { documentHash } from './documentHash';
import { patchOf, Revisions } from './revisions';
import { Snapshots } from './snapshots';

export interface At {
  number: number;
  document: SceneDocument;
  hash: string;
}

interface Kept extends At {
  /** Characters of its JSON when it was loaded, a measure of the memory it takes. */
  size: number;
}

/** Characters of JSON of all kept documents together. */
const KEPT_LIMIT = 64 * 1024 * 1024;

/** A revision no snapshot and no way through the journal leads to any more. */
export class DamagedRevision extends Error {}

export class Documents {
  private readonly kept = new Map<string, Kept>();
  private readonly revisions: Revisions;
  private readonly snapshots: Snapshots;

  constructor(db: Db) {
    this.revisions = new Revisions(db);
    this.snapshots = new Snapshots(db);
  }

  /**
   * The document a scene stands at; kept for the next time.
   * @throws DamagedRevision
   */
  at(scene: string, number: number): At {
    const kept = this.kept.get(scene);
    if (kept?.number === number) {
      this.kept.delete(scene);
      this.kept.set(scene, kept);
      return kept;
    }
    const found = this.load(scene, number);
    this.keep(scene, found);
    return found;
  }

  keep(scene: string, at: At): void {
    const size = this.kept.get(scene)?.size ?? JSON.stringify(at.document).length;
    this.kept.delete(scene);
    this.kept.set(scene, { ...at, size });
    let total = this.memory().characters;
    for (const [id, k] of this.kept) {
      if (total <= KEPT_LIMIT || id === scene) break;
      this.kept.delete(id);
      total -= k.size;
    }
  }

  forget(scene: string): void {
    this.kept.delete(scene);
  }

  memory(): { documents: number; characters: number; limit: number } {
    let characters = 0;
    for (const k of this.kept.values()) characters += k.size;
    return { documents: this.kept.size, characters, limit: KEPT_LIMIT };
  }

  /** The newest revision on the way from `number` to the start that can still be read; null when none can. */
  readable(scene: string, number: number): At | null {
    for (const n of [...this.revisions.labels(scene, number, 100_000).map((r) => r.number), 0]) {
      try {
        return this.load(scene, n);
      } catch (e) {
        if (!(e instanceof DamagedRevision)) throw e;
      }
    }
    return null;
  }

  /**
   * The document at any revision: from the nearest snapshot; when that way is damaged, from any other, forward or back.
   * @throws DamagedRevision
   */
  load(scene: string, number: number): At {
    const numbers = [...this.snapshots.numbers(scene)].sort(
      (a, b) => Math.abs(a - number) - Math.abs(b - number) || b - a,
    );
    const earlier = numbers.filter((n) => n <= number);
    for (const from of [...earlier, ...numbers.filter((n) => n > number)]) {
      const found = this.from(scene, from, number);
      if (found) return found;
    }
    throw new DamagedRevision(`Revision ${number} cannot be read.`);
  }

  /** The document at a revision by way of a snapshot; null when that way does not lead there. */
  private from(scene: string, snapshot: number, number: number): At | null {
    const on = this.revisions.between(scene, number, snapshot);
    const back = on ? null : this.revisions.between(scene, snapshot, number);
    if (!on && !back) return null;
    try {
      const start = this.snapshots.get(scene, snapshot);
      if (!start) return null;
      let { document } = start;
      if (on)
        for (const r of this.revisions.some(scene, on.slice(0, -1).reverse()))
          document = applyPatch(document, patchOf(r.forward));
      else
        for (const r of this.revisions.some(scene, back!.slice(0, -1)))
          document = applyPatch(document, patchOf(r.inverse));
      const hash = documentHash(document);
      const wanted = number === snapshot ? start.hash : (this.revisions.get(scene, number)?.hash ?? hash);
      return hash === wanted ? { number, document, hash } : null;
    } catch {
      // Unreadable bytes, JSON or patches: another way may do.
      return null;
    }
  }
}

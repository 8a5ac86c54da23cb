/** A scene as it is and was: its document, any earlier one, and the steps between them in pages. */
import { applyPatch, type Patch } from '@urnsmith/core/document/patch';
import { START, type Revision, type SceneState } from '@urnsmith/core/document/scene';
import type { SceneDocument } from '@urnsmith/core/document/sections';
import type { Db } from './db';
import { DamagedRevision, Documents, type At } from './documents';
import { noScene, StoreError } from './errors';
import { patchOf, Revisions, type Label } from './revisions';

/** Steps sent with a scene each way; more come in pages. */
export const PAGE = 200;
export interface SceneRow {
  id: string;
  name: string;
  seq: number;
  head: number;
  tip: number;
  pieces: number;
}
export class History {
  readonly documents: Documents;
  protected readonly revisions: Revisions;

  constructor(protected readonly db: Db) {
    this.documents = new Documents(db);
    this.revisions = new Revisions(db);
  }

  open(id: string): SceneState {
    const row = this.row(id);
    const { at, damage } = this.current(row);
    const undo = this.revisions.back(id, at.number, PAGE);
    return {
      id,
      name: row.name,
      seq: row.seq,
      head: this.actionAt(id, at.number),
      document: at.document,
      undo: undo.map((r) => ({ ...revisionOf(r), inverse: patchOf(r.inverse) })).reverse(),
      redo: damage ? [] : this.ahead(row).map((r) => ({ ...revisionOf(r), forward: patchOf(r.forward) })),
      more: (undo.at(-1)?.parent ?? 0) > 0,
      damage,
    };
  }

  /** The document as it is stored now, in tables of its own. */
  document(id: string): SceneDocument {
    return applyPatch(this.current(this.row(id)).at.document, []);
  }

  /** The document at a revision of this scene. */
  documentAt(id: string, number: number): SceneDocument {
    return this.documents.load(id, number).document;
  }

  /** One page of the history, newest first: steps that lie before revision `below`, or from the tip on. */
  history(
    id: string,
    { below, search, patches }: { below?: number; search?: string; patches?: boolean },
  ): { head: string; revisions: Array<Revision & { inverse?: Patch }>; more: boolean } {
    const row = this.row(id);
    const head = this.actionAt(id, row.head);
    const from = below === undefined ? row.tip : (this.revisions.get(id, below)?.parent ?? 0);
    if (search) {
      const found = this.revisions.search(id, from, search, PAGE + 1);
      return { head, revisions: found.slice(0, PAGE).map(revisionOf), more: found.length > PAGE };
    }
    const page: Array<Label & { inverse?: string }> = patches
      ? this.revisions.back(id, from, PAGE)
      : this.revisions.labels(id, from, PAGE);
    return {
      head,
      revisions: page.map((r) => ({
        ...revisionOf(r),
        ...(r.inverse === undefined ? {} : { inverse: patchOf(r.inverse) }),
      })),
      more: (page.at(-1)?.parent ?? 0) > 0,
    };
  }

  /** The revision an action made. @throws StoreError `no-revision` */
  revisionNumber(id: string, action: string): number {
    const number = action === START ? 0 : this.revisions.numberOf(id, action);
    if (number === null)
      throw new StoreError(422, 'no-revision', 'This step is not in the history of the scene.');
    return number;
  }

  actionAt(id: string, number: number): string {
    return number === 0 ? START : (this.revisions.get(id, number)?.action ?? START);
  }

  headOf(id: string): number {
    return this.row(id).head;
  }

  /** The nearest steps redo can bring again, next one first. */
  private ahead(row: SceneRow): ReturnType<Revisions['some']> {
    if (row.tip === row.head) return [];
    const way = this.revisions.between(row.id, row.tip, row.head) ?? [];
    return this.revisions.some(row.id, way.slice(0, -1).reverse().slice(0, PAGE));
  }

  /** The scene's document; where its newest state cannot be read, the newest that can, and why. */
  protected current(row: SceneRow): { at: At; damage: string | null } {
    try {
      return { at: this.documents.at(row.id, row.head), damage: null };
    } catch (e) {
      if (!(e instanceof DamagedRevision)) throw e;
      const at = this.documents.readable(row.id, row.head);
      if (!at)
        throw new StoreError(
          422,
          'damaged-scene',
          'This scene is damaged and no state of it can be read. Put a backup back with “npm run urnsmith -- store restore”.',
        );
      return {
        at,
        damage: `A part of this scene’s history is damaged. What is shown is step ${at.number} of ${row.head}, the newest that can be read. It can be looked at and duplicated, but not changed.`,
      };
    }
  }

  protected row(id: string): SceneRow {
    const row = this.db
      .prepare<[string], SceneRow>(
        'SELECT id, name, seq, head, tip, pieces FROM scene WHERE id = ? AND deleted IS NULL',
      )
      .get(id);
    if (!row) throw noScene(id);
    return row;
  }
}

const revisionOf = ({ number, action, label, created }: Label): Revision => ({
  number,
  action,
  label,
  created,
});

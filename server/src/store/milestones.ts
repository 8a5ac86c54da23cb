/** Named states of a scene. Those a person sets stay for good; the automatic daily ones thin out with time. */
import type { Comparison, Milestone } from '@urnsmith/core/document/scene';
import type { Piece } from '@urnsmith/core/document/schema';
import type { SceneDocument } from '@urnsmith/core/document/sections';
import { alike } from '@urnsmith/core/schema/json';
import type { Db } from './db';
import { StoreError } from './errors';

const DAY = 24 * 60 * 60 * 1000;

export interface MilestoneRow extends Omit<Milestone, 'action' | 'automatic'> {
  number: number;
  automatic: number;
}

export class Milestones {
  constructor(private readonly db: Db) {}

  list(scene: string): MilestoneRow[] {
    return this.db
      .prepare<[string], MilestoneRow>(
        'SELECT id, name, number, automatic, created FROM milestone WHERE scene = ? ORDER BY created DESC, id DESC',
      )
      .all(scene);
  }

  get(scene: string, id: number): MilestoneRow {
    const row = this.db
      .prepare<[string, number], MilestoneRow>(
        'SELECT id, name, number, automatic, created FROM milestone WHERE scene = ? AND id = ?',
      )
      .get(scene, id);
    if (!row) throw new StoreError(404, 'no-milestone', 'There is no such milestone in this scene.');
    return row;
  }

  set(scene: string, name: string, number: number, automatic = false, now = Date.now()): number {
    const { lastInsertRowid } = this.db
      .prepare('INSERT INTO milestone (scene, name, number, automatic, created) VALUES (?, ?, ?, ?, ?)')
      .run(scene, name, number, automatic ? 1 : 0, now);
    return Number(lastInsertRowid);
  }

  /** Keeps the state a day's work begins from. */
  daily(scene: string, head: number, now: number): void {
    if (head === 0) return;
    const last = this.db
      .prepare<[string, number], { created: number }>(
        'SELECT created FROM revision WHERE scene = ? AND number = ?',
      )
      .get(scene, head);
    if (!last || dayOf(last.created) === dayOf(now)) return;
    this.set(scene, `End of ${new Date(last.created).toISOString().slice(0, 10)}`, head, true, now);
    this.thin(scene, now);
  }

  /** Automatic backups: each of the last week stays, then one a week for two months, then one a month. */
  thin(scene: string, now: number): void {
    const seen = new Set<string>();
    for (const m of this.list(scene)) {
      if (!m.automatic) continue;
      const age = (now - m.created) / DAY;
      const slot =
        age <= 7
          ? `day ${dayOf(m.created)}`
          : age <= 60
            ? `week ${Math.floor(m.created / (7 * DAY))}`
            : `month ${new Date(m.created).toISOString().slice(0, 7)}`;
      if (seen.has(slot)) this.db.prepare('DELETE FROM milestone WHERE id = ?').run(m.id);
      seen.add(slot);
    }
  }
}

const dayOf = (ms: number): number => Math.floor(ms / DAY);

/** Names a person would use for the parts of a piece. */
const PARTS: Array<[keyof Piece, string]> = [
  ['name', 'name'],
  ['base', 'base'],
  ['actions', 'direct edits'],
  ['steps', 'steps'],
  ['transform', 'place'],
  ['parent', 'nesting'],
  ['role', 'role'],
  ['color', 'colour'],
  ['hidden', 'hidden'],
  ['faint', 'faint'],
  ['locked', 'locked'],
  ['selections', 'kept selections'],
];

/** Differences between the pieces of two states, by name. */
export function compared(before: SceneDocument, after: SceneDocument): Comparison {
  const [a, b] = [before.pieces, after.pieces];
  const nameOf = (p: Piece): string => p.name ?? p.id;
  const changed = Object.values(b).flatMap((p) => {
    const old = Object.hasOwn(a, p.id) ? a[p.id] : null;
    if (!old || old === p) return [];
    const what = PARTS.filter(([key]) => !alike(old[key], p[key])).map(([, word]) => word);
    return what.length ? [{ name: nameOf(p), what }] : [];
  });
  return {
    added: Object.values(b)
      .filter((p) => !Object.hasOwn(a, p.id))
      .map(nameOf),
    removed: Object.values(a)
      .filter((p) => !Object.hasOwn(b, p.id))
      .map(nameOf),
    changed,
  };
}

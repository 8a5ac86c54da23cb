/** The journal's table: revisions form a tree by their parents; a scene's history is the way from its tip to the start. */
import type { Patch } from '@urnsmith/core/document/patch';
import type { Db } from './db';

export interface RevisionRow {
  number: number;
  parent: number;
  action: string;
  label: string;
  created: number;
  forward: string;
  inverse: string;
  hash: string;
}
export type Label = Pick<RevisionRow, 'number' | 'parent' | 'action' | 'label' | 'created'>;

const LABEL = 'number, parent, action, label, created';
const ALL = `${LABEL}, forward, inverse, hash`;

export class Revisions {
  constructor(private readonly db: Db) {}

  get(scene: string, number: number): RevisionRow | null {
    return (
      this.db
        .prepare<[string, number], RevisionRow>(`SELECT ${ALL} FROM revision WHERE scene = ? AND number = ?`)
        .get(scene, number) ?? null
    );
  }

  /** The number an action made; null for one this scene does not have. */
  numberOf(scene: string, action: string): number | null {
    const row = this.db
      .prepare<[string, string], { number: number }>(
        'SELECT number FROM revision WHERE scene = ? AND action = ?',
      )
      .get(scene, action);
    return row?.number ?? null;
  }

  last(scene: string): number {
    return this.db
      .prepare<[string], { last: number }>(
        'SELECT coalesce(max(number), 0) AS last FROM revision WHERE scene = ?',
      )
      .get(scene)!.last;
  }

  add(scene: string, r: RevisionRow): void {
    this.db
      .prepare(
        `INSERT INTO revision (scene, number, parent, action, label, created, forward, inverse, hash)
         VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)`,
      )
      .run(scene, r.number, r.parent, r.action, r.label, r.created, r.forward, r.inverse, r.hash);
  }

  /** From a revision back towards the start, newest first. */
  back(scene: string, from: number, limit: number): RevisionRow[] {
    return this.walk<RevisionRow>(ALL, scene, from, limit);
  }

  labels(scene: string, from: number, limit: number): Label[] {
    return this.walk<Label>(LABEL, scene, from, limit);
  }

  /** Numbers from a revision back to another one that it grew from, both included; null when it did not. */
  between(scene: string, from: number, to: number): number[] | null {
    if (from === to) return [from];
    const numbers = this.db
      .prepare<{ scene: string; from: number; to: number }, { number: number; parent: number }>(
        `WITH RECURSIVE back (number, parent) AS (
           SELECT number, parent FROM revision WHERE scene = $scene AND number = $from
           UNION ALL
           SELECT r.number, r.parent FROM revision r JOIN back ON r.scene = $scene AND r.number = back.parent
           WHERE back.number <> $to AND back.parent >= $to)
         SELECT number, parent FROM back`,
      )
      .all({ scene, from, to });
    const last = numbers.at(-1);
    if (to === 0 && last?.parent === 0) return [...numbers.map((n) => n.number), 0];
    return last?.number === to ? numbers.map((n) => n.number) : null;
  }

  /** Revisions by number, in the order given. */
  some(scene: string, numbers: ReadonlyArray<number>): RevisionRow[] {
    return numbers.map((n) => this.get(scene, n)!);
  }

  /** The newest revision of the way to `tip` that has a word in its label, and those before, newest first. */
  search(scene: string, tip: number, text: string, limit: number): Label[] {
    return this.db
      .prepare<unknown[], Label>(
        `WITH RECURSIVE back (number, parent, action, label, created) AS (
           SELECT ${LABEL} FROM revision WHERE scene = $scene AND number = $from
           UNION ALL
           SELECT r.number, r.parent, r.action, r.label, r.created
           FROM revision r JOIN back ON r.scene = $scene AND r.number = back.parent)
         SELECT * FROM back WHERE label LIKE $like ESCAPE '\\' LIMIT $limit`,
      )
      .all({ scene, from: tip, like: `%${text.replace(/[\\%_]/g, '\\$&')}%`, limit });
  }

  private walk<R>(columns: string, scene: string, from: number, limit: number): R[] {
    const of = (table: string): string =>
      columns
        .split(', ')
        .map((c) => `${table}.${c}`)
        .join(', ');
    return this.db
      .prepare<unknown[], R>(
        `WITH RECURSIVE back (${columns}, depth) AS (
           SELECT ${of('r')}, 1 FROM revision r WHERE r.scene = $scene AND r.number = $from
           UNION ALL
           SELECT ${of('r')}, back.depth + 1
           FROM revision r JOIN back ON r.scene = $scene AND r.number = back.parent
           WHERE back.depth < $limit)
         SELECT ${columns} FROM back ORDER BY depth`,
      )
      .all({ scene, from, limit });
  }
}

export const patchOf = (text: string): Patch => JSON.parse(text) as Patch;

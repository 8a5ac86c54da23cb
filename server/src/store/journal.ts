/** A scene's journal: writes that are safe to repeat, undo and redo along it, and its history. */
import { createHash } from 'node:crypto';
import { EventEmitter } from 'node:events';
import { canonicalJson } from '@urnsmith/core/schema/json';
import {
  applyPatch,
  diffDocuments,
  leadsBack,
  meet,
  PatchError,
  putInPlace,
  reachedBy,
  touched,
  type Patch,
  type Reached,
} from '@urnsmith/core/document/patch';
import type { Accepted, SceneAction, SceneEvent } from '@urnsmith/core/document/scene';
import { meshesAt, type SceneDocument } from '@urnsmith/core/document/sections';
import { changeFaults } from '@urnsmith/core/document/validate';
import type { Db } from './db';
import type { At } from './documents';
import { hashMoved, hashOf } from './documentHash';
import { StoreError } from './errors';
import { History, type SceneRow } from './history';
import { MeshStore } from './meshes';
import { Milestones } from './milestones';
import { recoveredDocument } from './recovery';
import { patchOf } from './revisions';
import { Snapshots } from './snapshots';

/** Further along the history a document is loaded from a snapshot rather than walked to. */
const WALKED = 64;
/** Revisions between snapshots, and the most there may be when they are small beside the document. */
const SNAPSHOT_EVERY = 100;
const SNAPSHOT_AT_LAST = 1000;
/** Everything, for jumps so far that what they reach is not listed. */
const ALL = '*';

interface EntryRow {
  scene: string;
  seq: number;
  body: string;
  client: string;
  head_before: number;
  head_after: number;
  touched: string;
  answer: string;
}

/** The result of a write. */
interface Outcome {
  after: At;
  tip: number;
  touched: Set<string>;
  pieces: number;
}

export class Journal extends History {
  /** Emits `changed` with a SceneEvent after every accepted write. */
  readonly events = new EventEmitter().setMaxListeners(0);
  readonly milestones: Milestones;
  private readonly snapshots: Snapshots;
  private readonly meshes: MeshStore;
  /** Changes that the current write made to the kept document, in order. */
  private readonly changes: Array<{ document: SceneDocument; reached: Reached }> = [];

  constructor(db: Db) {
    super(db);
    this.milestones = new Milestones(db);
    this.snapshots = new Snapshots(db);
    this.meshes = new MeshStore(db);
  }

  /** Takes a write, or answers as before when it has it already. */
  accept(id: string, action: SceneAction): Accepted {
    const body = createHash('sha256')
      .update(canonicalJson(meaningOf(action)))
      .digest('hex');
    const run = this.db.transaction((): { answer: Accepted; kept?: At } => {
      const row = this.row(id);
      const known = this.db
        .prepare<[string], EntryRow>('SELECT * FROM entry WHERE action = ?')
        .get(action.id);
      if (known) {
        if (known.scene !== id || known.body !== body)
          throw new StoreError(422, 'id-used', 'Another action has this id already; give each its own.');
        return { answer: JSON.parse(known.answer) as Accepted };
      }
      const { at: before, damage } = this.current(row);
      if (damage) throw new StoreError(409, 'damaged-scene', damage);
      if (action.base > row.seq)
        throw new StoreError(
          409,
          'went-back',
          'The library stands at an older state of this scene than this window, as after a backup was put back.',
        );
      const others = this.reachedByOthers(id, action);
      const outcome =
        action.kind === 'revision'
          ? this.revise(row, before, action, others)
          : this.move(row, before, action, others);
      const seq = row.seq + 1;
      const answer: Accepted = {
        seq,
        head: this.actionAt(id, outcome.after.number),
        merged: others !== null,
      };
      this.db
        .prepare(
          `INSERT INTO entry (scene, seq, action, body, client, head_before, head_after, touched, answer, created)
           VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
        )
        .run(
          id,
          seq,
          action.id,
          body,
          action.window,
          row.head,
          outcome.after.number,
          JSON.stringify([...outcome.touched]),
          JSON.stringify(answer),
          Date.now(),
        );
      this.db
        .prepare('UPDATE scene SET pieces = ?, head = ?, tip = ?, seq = ?, changed = ? WHERE id = ?')
        .run(outcome.pieces, outcome.after.number, outcome.tip, seq, Date.now(), id);
      return { answer, kept: outcome.after };
    });
    this.changes.length = 0;
    let done: ReturnType<typeof run>;
    try {
      done = run.immediate();
    } catch (e) {
      // The kept document goes back with the transaction.
      for (const { document, reached } of this.changes.reverse())
        putInPlace(document, { places: reached.places, after: reached.before });
      throw e;
    }
    const { answer, kept } = done;
    if (kept) {
      this.documents.keep(id, kept);
      this.events.emit('changed', { scene: id, seq: answer.seq, window: action.window } satisfies SceneEvent);
    }
    return answer;
  }

  /** The document a window that knew the scene up to `base` has after actions the scene did not take. */
  recovered(id: string, window: string, base: number, actions: SceneAction[]): SceneDocument {
    return recoveredDocument(this.db, this.documents, { ...this.row(id), window, base, actions });
  }

  /** Adds a step that leads to another document, e.g. a milestone's. */
  changeTo(
    id: string,
    action: { id: string; window: string; base: number },
    label: string,
    to: SceneDocument,
  ): Accepted {
    const change = diffDocuments(this.document(id), to);
    if (!change) {
      const row = this.row(id);
      return { seq: row.seq, head: this.actionAt(id, row.head), merged: false };
    }
    return this.accept(id, { ...action, kind: 'revision', label, ...change });
  }

  private revise(
    row: SceneRow,
    before: At,
    action: SceneAction & { kind: 'revision' },
    others: Set<string> | null,
  ): Outcome {
    const reached = touched(action.forward);
    const clash = others !== null && (others.has(ALL) || meet(reached, others));
    if (clash) throw changedElsewhere();
    return this.add(row, before, { ...action, touched: reached }, others !== null);
  }

  /** Changes the kept document where it stands; taken back if the write fails. */
  private change(
    { document, hash, number }: At,
    patch: Patch,
    places: ReadonlySet<string>,
  ): At & { reached: Reached } {
    const reached = reachedBy(document, patch);
    const sum = hashOf(document, places);
    putInPlace(document, reached);
    this.changes.push({ document, reached });
    return { number, document, hash: hashMoved(hash, sum, hashOf(document, places)), reached };
  }

  private add(
    row: SceneRow,
    before: At,
    r: { id: string; label: string; forward: Patch; inverse: Patch; touched: Set<string> },
    merging: boolean,
  ): Outcome {
    const number = this.revisions.last(row.id) + 1;
    const { document, hash, reached } = this.checked(before, r, merging);
    const now = Date.now();
    this.milestones.daily(row.id, row.head, now);
    this.revisions.add(row.id, {
      number,
      parent: row.head,
      action: r.id,
      label: r.label,
      created: now,
      forward: JSON.stringify(r.forward),
      inverse: JSON.stringify(r.inverse),
      hash,
    });
    this.snapshots.noteUse(row.id, meshesAt(document, r.touched));
    this.snapshotNowAndThen(row.id, number, document, hash, now);
    return {
      after: { number, document, hash },
      tip: number,
      touched: r.touched,
      pieces: row.pieces + grown(reached),
    };
  }

  /** The document after an action, when it is sound, leads back by its inverse, and names only stored meshes. */
  private checked(
    before: At,
    r: { forward: Patch; inverse: Patch; touched: Set<string> },
    merging: boolean,
  ): At & { reached: Reached } {
    try {
      const after = this.change(before, r.forward, r.touched);
      const faults = changeFaults(after.reached.before.pieces ?? {}, after.document, r.touched);
      if (faults.length)
        throw merging
          ? changedElsewhere()
          : new StoreError(
              422,
              'bad-document',
              `${faults[0].path}: ${faults[0].message}`,
              faults.slice(0, 20),
            );
      this.meshes.refuseMissing(meshesAt(after.document, r.touched));
      if (!leadsBack(after.document, after.reached, r.inverse))
        throw new StoreError(
          422,
          'bad-inverse',
          'The way back does not lead to the state before the action.',
        );
      return after;
    } catch (e) {
      if (!(e instanceof PatchError)) throw e;
      throw merging ? changedElsewhere() : new StoreError(422, 'bad-patch', `${e.message}`);
    }
  }

  private move(
    row: SceneRow,
    before: At,
    action: SceneAction & { kind: 'move' },
    others: Set<string> | null,
  ): Outcome {
    const from = this.revisionNumber(row.id, action.from);
    const to = this.revisionNumber(row.id, action.to);
    const way = this.wayAlong(row, from, to);
    if (others !== null) {
      // Someone else acted meanwhile: what was taken back is taken back by a step of its own, if both can hold.
      if (others.has(ALL) || way.touched.has(ALL) || meet(way.touched, others)) throw changedElsewhere();
      return this.compensate(row, before, action.id, way);
    }
    if (row.head !== from)
      throw new StoreError(409, 'out-of-step', 'The scene does not stand where this window went from.');
    if (!way.patches) {
      const after = this.documents.load(row.id, to);
      return { after, tip: row.tip, touched: way.touched, pieces: Object.keys(after.document.pieces).length };
    }
    let at = before;
    let { pieces } = row;
    for (const patch of way.patches) {
      const next = this.change(at, patch, touched(patch));
      pieces += grown(next.reached);
      at = next;
    }
    const wanted = this.revisions.get(row.id, to)?.hash ?? at.hash;
    const after = wanted === at.hash ? { ...at, number: to } : this.documents.load(row.id, to);
    return { after, tip: row.tip, touched: way.touched, pieces };
  }

  private compensate(row: SceneRow, before: At, id: string, way: Way): Outcome {
    let { document } = before;
    try {
      for (const p of way.patches!) document = applyPatch(document, p);
    } catch (e) {
      if (e instanceof PatchError) throw changedElsewhere();
      throw e;
    }
    const change = diffDocuments(before.document, document);
    if (!change) throw changedElsewhere();
    return this.add(row, before, { id, label: way.label, ...change, touched: way.touched }, true);
  }

  /** Back or on along the history; refused for places that are not on it. */
  private wayAlong(row: SceneRow, from: number, to: number): Way {
    const back = this.revisions.between(row.id, from, to);
    const on = back ? null : this.revisions.between(row.id, to, from);
    const onHistory = back || (on && this.revisions.between(row.id, row.tip, to));
    if (!onHistory) throw new StoreError(422, 'no-revision', 'This step is not in the history of the scene.');
    const numbers = back ? back.slice(0, -1) : on!.slice(0, -1).reverse();
    if (numbers.length > WALKED) return { patches: null, touched: new Set([ALL]), label: '' };
    const rows = this.revisions.some(row.id, numbers);
    const patches = rows.map((r) => patchOf(back ? r.inverse : r.forward));
    const name = rows.length === 1 ? `“${rows[0].label}”` : `${rows.length} steps`;
    return {
      patches,
      touched: new Set(patches.flatMap((p) => [...touched(p)])),
      label: `${back ? 'Undo' : 'Redo'} ${name}`.slice(0, 200),
    };
  }

  /** The state other windows reached since this one last heard of them; null when they did nothing. */
  private reachedByOthers(id: string, { base, window }: SceneAction): Set<string> | null {
    const rows = this.db
      .prepare<[string, number, string], { touched: string }>(
        'SELECT touched FROM entry WHERE scene = ? AND seq > ? AND client <> ?',
      )
      .all(id, base, window);
    return rows.length ? new Set(rows.flatMap((r) => JSON.parse(r.touched) as string[])) : null;
  }

  private snapshotNowAndThen(
    id: string,
    number: number,
    document: SceneDocument,
    hash: string,
    now: number,
  ): void {
    const { last } = this.db
      .prepare<[string], { last: number }>(
        'SELECT coalesce(max(number), 0) AS last FROM snapshot WHERE scene = ?',
      )
      .get(id)!;
    if (number - last < SNAPSHOT_EVERY) return;
    if (number - last < SNAPSHOT_AT_LAST) {
      const { bytes } = this.db
        .prepare<[string, number], { bytes: number }>(
          'SELECT sum(length(forward)) AS bytes FROM revision WHERE scene = ? AND number > ?',
        )
        .get(id, last)!;
      // A large document is not copied for the sake of a few small changes.
      if (bytes < 300 * Object.keys(document.pieces).length) return;
    }
    this.snapshots.put(id, number, document, hash, now);
  }
}

interface Way {
  /** One after the other; null when it is too far to walk. */
  patches: Patch[] | null;
  touched: Set<string>;
  label: string;
}

const changedElsewhere = (): StoreError =>
  new StoreError(409, 'changed-elsewhere', 'The same things were changed in another window.');

/** How many pieces more there are after a change. */
function grown({ before, after }: Reached): number {
  return Object.keys(after.pieces ?? {}).length - Object.keys(before.pieces ?? {}).length;
}

/** The content of an action, without its author and time. */
function meaningOf(a: SceneAction): object {
  return a.kind === 'revision'
    ? { kind: a.kind, label: a.label, forward: a.forward, inverse: a.inverse }
    : { kind: a.kind, from: a.from, to: a.to };
}

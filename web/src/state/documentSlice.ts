/** The open scene: its document, its history, and how far it is saved. */
import { createSlice, original, type PayloadAction } from '@reduxjs/toolkit';
import { reconciled } from '@urnsmith/core/schema/json';
import { applyPatch, inverseOf, type Patch } from '@urnsmith/core/document/patch';
import type { Piece } from '@urnsmith/core/document/schema';
import type { AnchoredPiece } from '@urnsmith/core/select/anchor';
import { START, type Revision, type SceneState } from '@urnsmith/core/document/scene';
import { emptyDocument, piecesOf, type SceneDocument } from '@urnsmith/core/document/sections';

export interface HistoryEntry {
  /** Number in the journal; 0 until it is known. */
  number: number;
  action: string;
  label: string;
  /** When it happened, ms since 1970. */
  created: number;
  forward: Patch;
  inverse: Patch;
}

/** `trouble` is the server's: it answers, but cannot store. */
export type SaveState = 'saved' | 'saving' | 'offline' | 'trouble';

/** The scene that keeps a window's work when it conflicts with another's. */
export interface Recovered {
  id: string;
  name: string;
}

export interface DocumentState {
  id: string;
  name: string;
  doc: SceneDocument;
  /** The document's pieces in their order. */
  pieces: Piece[];
  /** Pieces as they are while a drag is under way; not yet an action. */
  preview: Record<string, Piece> | null;
  /** Placements of anchored pieces, as last built. */
  anchored: Record<string, AnchoredPiece>;
  undo: HistoryEntry[];
  redo: HistoryEntry[];
  /** Older steps than `undo` holds can be fetched. */
  more: boolean;
  save: SaveState;
  savedAt: number;
  /** Actions that are not with the server yet, and how many of them the browser holds. */
  waiting: number;
  held: number;
  /** Trouble reported by the server. */
  trouble: string;
  /** Actions the server refused. */
  aside: number;
  recovered: Recovered[];
  /** Why nothing can be changed; null when it can. */
  damage: string | null;
  status: 'none' | 'loading' | 'ready' | 'failed';
  failure: string;
}

const initialState: DocumentState = {
  id: '',
  name: '',
  doc: emptyDocument(),
  pieces: [],
  preview: null,
  anchored: {},
  undo: [],
  redo: [],
  more: false,
  save: 'saved',
  savedAt: 0,
  waiting: 0,
  held: 0,
  trouble: '',
  aside: 0,
  recovered: [],
  damage: null,
  status: 'none',
  failure: '',
};

const NOTHING: Patch = [];

/** An entry opened from the journal knows one direction; applying it makes the other known. */
const entryOf = (r: Revision, patches: { forward?: Patch; inverse?: Patch }): HistoryEntry => ({
  number: r.number,
  action: r.action,
  label: r.label,
  created: r.created,
  forward: patches.forward ?? NOTHING,
  inverse: patches.inverse ?? NOTHING,
});

function historyOf(state: SceneState): Pick<DocumentState, 'undo' | 'redo' | 'more' | 'damage'> {
  return {
    undo: state.undo.map((r) => entryOf(r, { inverse: r.inverse })),
    redo: state.redo.map((r) => entryOf(r, { forward: r.forward })),
    more: state.more,
    damage: state.damage,
  };
}

/** The document and its list of pieces after a patch; the list stays the same objects where it can. */
function patched(s: DocumentState, patch: Patch): void {
  const { doc } = original(s) ?? s;
  const after = applyPatch(doc, patch);
  s.doc = after;
  s.pieces = piecesOf(after);
  s.preview = null;
}

const slice = createSlice({
  name: 'document',
  initialState,
  reducers: {
    loading: (s, a: PayloadAction<string>) => ({
      ...initialState,
      recovered: s.recovered,
      id: a.payload,
      status: 'loading' as const,
    }),
    failed: (s, a: PayloadAction<string>) => {
      s.status = 'failed';
      s.failure = a.payload;
    },
    opened: (s, { payload }: PayloadAction<SceneState>) => ({
      ...initialState,
      ...historyOf(payload),
      id: payload.id,
      name: payload.name,
      doc: payload.document,
      pieces: piecesOf(payload.document),
      recovered: s.recovered,
      savedAt: Date.now(),
      status: 'ready' as const,
    }),
    anchorsFound: (s, { payload }: PayloadAction<Record<string, AnchoredPiece>>) => {
      s.anchored = payload;
    },
    /** The scene as the server has it now, after another window's change; what did not change stays the same objects. */
    synced: (s, { payload }: PayloadAction<SceneState>) => {
      const before = original(s)!;
      const doc = reconciled(before.doc, payload.document);
      Object.assign(s, historyOf(payload), { name: payload.name });
      s.doc = doc;
      s.pieces = piecesOf(doc);
    },
    acted: (s, { payload }: PayloadAction<Omit<HistoryEntry, 'number' | 'created'>>) => {
      patched(s, payload.forward);
      s.undo.push({ ...payload, number: 0, created: Date.now() });
      s.redo = [];
    },
    tookBack: (s) => {
      const e = (original(s) ?? s).undo.at(-1);
      if (!e) return;
      const forward = inverseOf((original(s) ?? s).doc, e.inverse);
      patched(s, e.inverse);
      s.undo.pop();
      s.redo.unshift({ ...e, forward });
    },
    broughtAgain: (s) => {
      const e = (original(s) ?? s).redo[0];
      if (!e) return;
      const inverse = inverseOf((original(s) ?? s).doc, e.forward);
      patched(s, e.forward);
      s.redo.shift();
      s.undo.push({ ...e, inverse });
    },
    /** Older steps have come from the server. */
    older: (
      s,
      { payload }: PayloadAction<{ revisions: Array<Revision & { inverse?: Patch }>; more: boolean }>,
    ) => {
      s.undo.unshift(...payload.revisions.map((r) => entryOf(r, r)).reverse());
      s.more = payload.more;
    },
    previewed: (s, { payload }: PayloadAction<Record<string, Piece> | null>) => {
      s.preview = payload as DocumentState['preview'];
    },
    saveStateChanged: (
      s,
      { payload }: PayloadAction<{ save: SaveState; waiting?: number; held?: number; trouble?: string }>,
    ) => {
      Object.assign(s, payload);
      if (payload.save === 'saved') {
        s.savedAt = Date.now();
        s.waiting = s.held = 0;
        s.trouble = '';
      }
    },
    asideCounted: (s, { payload }: PayloadAction<number>) => {
      s.aside = payload;
    },
    recoveredAs: (s, { payload }: PayloadAction<Recovered>) => {
      s.recovered.push(payload);
    },
    recoveredSeen: (s, { payload }: PayloadAction<string>) => {
      s.recovered = s.recovered.filter((r) => r.id !== payload);
    },
    sceneRenamed: (s, { payload }: PayloadAction<string>) => {
      s.name = payload;
    },
  },
});

/** The action the document stands at. */
export const headOf = (s: Pick<DocumentState, 'undo'>): string => s.undo.at(-1)?.action ?? START;

export const {
  loading,
  failed,
  opened,
  synced,
  acted,
  tookBack,
  broughtAgain,
  older,
  previewed,
  anchorsFound,
  saveStateChanged,
  asideCounted,
  recoveredAs,
  recoveredSeen,
  sceneRenamed,
} = slice.actions;
export const documentReducer = slice.reducer;

/** The open scene: its pieces, its history, and how far it is saved. */
import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { applyPatch, type Patch } from '@urnsmith/core/document/patch';
import type { Piece } from '@urnsmith/core/document/schema';
import type { SceneState } from '@urnsmith/core/document/scene';

export interface HistoryEntry {
  /** Number in the journal; 0 until it is saved. */
  number: number;
  label: string;
  forward: Patch;
  inverse: Patch;
}

export type SaveState = 'saved' | 'saving' | 'offline' | 'conflict';

export interface DocumentState {
  id: string;
  name: string;
  pieces: Piece[];
  /** Pieces as they are while a drag is under way; not yet an action. */
  preview: Record<string, Piece> | null;
  undo: HistoryEntry[];
  redo: HistoryEntry[];
  save: SaveState;
  savedAt: number;
  status: 'none' | 'loading' | 'ready' | 'failed';
  failure: string;
}

const initialState: DocumentState = {
  id: '',
  name: '',
  pieces: [],
  preview: null,
  undo: [],
  redo: [],
  save: 'saved',
  savedAt: 0,
  status: 'none',
  failure: '',
};

const NOTHING: Patch = { pieces: {} };

const slice = createSlice({
  name: 'document',
  initialState,
  reducers: {
    loading: (_, a: PayloadAction<string>) => ({
      ...initialState,
      id: a.payload,
      status: 'loading' as const,
    }),
    failed: (s, a: PayloadAction<string>) => {
      s.status = 'failed';
      s.failure = a.payload;
    },
    opened: (_, { payload }: PayloadAction<SceneState>) => ({
      ...initialState,
      id: payload.id,
      name: payload.name,
      pieces: payload.document.pieces,
      // An entry opened from the journal knows one direction; applying it makes the other known.
      undo: payload.undo.map((r) => ({ ...r, forward: NOTHING })),
      redo: payload.redo.map((r) => ({ ...r, inverse: NOTHING })),
      save: 'saved' as const,
      savedAt: Date.now(),
      status: 'ready' as const,
    }),
    acted: (s, { payload }: PayloadAction<Omit<HistoryEntry, 'number'>>) => {
      s.pieces = applyPatch({ pieces: s.pieces as Piece[] }, payload.forward).pieces;
      s.preview = null;
      s.undo.push({ ...payload, number: 0 });
      s.redo = [];
    },
    tookBack: (s) => {
      const e = s.undo.pop();
      if (!e) return;
      const before = s.pieces as Piece[];
      const after = applyPatch({ pieces: before }, e.inverse).pieces;
      s.redo.unshift({ ...e, forward: reverse(e.inverse, before) });
      s.pieces = after;
      s.preview = null;
    },
    broughtAgain: (s) => {
      const e = s.redo.shift();
      if (!e) return;
      const before = s.pieces as Piece[];
      s.undo.push({ ...e, inverse: reverse(e.forward, before) });
      s.pieces = applyPatch({ pieces: before }, e.forward).pieces;
      s.preview = null;
    },
    previewed: (s, { payload }: PayloadAction<Record<string, Piece> | null>) => {
      s.preview = payload as DocumentState['preview'];
    },
    numbered: (s, { payload }: PayloadAction<number>) => {
      const e = [...s.undo, ...s.redo].find((x) => x.number === 0);
      if (e) e.number = payload;
    },
    saveStateChanged: (s, { payload }: PayloadAction<SaveState>) => {
      s.save = payload;
      if (payload === 'saved') s.savedAt = Date.now();
    },
    sceneRenamed: (s, { payload }: PayloadAction<string>) => {
      s.name = payload;
    },
  },
});

/** The patch that undoes `patch` on `pieces`. */
function reverse(patch: Patch, pieces: Piece[]): Patch {
  const byId = new Map(pieces.map((p) => [p.id, p]));
  return {
    pieces: Object.fromEntries(Object.keys(patch.pieces).map((id) => [id, byId.get(id) ?? null])),
    ...(patch.order ? { order: pieces.map((p) => p.id) } : {}),
  };
}

export const {
  loading,
  failed,
  opened,
  acted,
  tookBack,
  broughtAgain,
  previewed,
  numbered,
  saveStateChanged,
  sceneRenamed,
} = slice.actions;
export const documentReducer = slice.reducer;

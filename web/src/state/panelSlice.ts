/** Panels around the stage, the Ledger's search, dialogs, and the last notice. */
import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

export type LedgerFilter = 'all' | 'solids' | 'cutters' | 'guides' | 'hidden';

export interface Notice {
  id: number;
  text: string;
  tone: 'info' | 'problem';
  /** Offers to take back what was just done. */
  undo?: boolean;
  /** Offers to take the last pick back. */
  picks?: boolean;
}

export interface PanelState {
  ledgerFilter: LedgerFilter;
  ledgerSearch: string;
  collapsed: string[];
  open: { ledger: boolean; card: boolean };
  search: boolean;
  /** The box that is open over the scene, by its name. */
  dialog: string | null;
  notice: Notice | null;
}

const initialState: PanelState = {
  ledgerFilter: 'all',
  ledgerSearch: '',
  collapsed: [],
  open: { ledger: true, card: true },
  search: false,
  dialog: null,
  notice: null,
};

let notices = 0;

const slice = createSlice({
  name: 'panels',
  initialState,
  reducers: {
    ledgerFiltered: (s, { payload }: PayloadAction<LedgerFilter>) => {
      s.ledgerFilter = payload;
    },
    ledgerSearched: (s, { payload }: PayloadAction<string>) => {
      s.ledgerSearch = payload;
    },
    collapseToggled: (s, { payload }: PayloadAction<string>) => {
      const at = s.collapsed.indexOf(payload);
      if (at < 0) s.collapsed.push(payload);
      else s.collapsed.splice(at, 1);
    },
    panelToggled: (s, { payload }: PayloadAction<'ledger' | 'card'>) => {
      s.open[payload] = !s.open[payload];
    },
    /** As they were in another scene. */
    panelsTaken: (s, { payload }: PayloadAction<PanelState['open']>) => {
      s.open = payload;
    },
    searchToggled: (s) => {
      s.search = !s.search;
    },
    dialogOpened: (s, { payload }: PayloadAction<string | null>) => {
      s.dialog = payload;
    },
    noticed: {
      prepare: (n: Omit<Notice, 'id'>) => ({ payload: { ...n, id: ++notices } }),
      reducer: (s, { payload }: PayloadAction<Notice>) => {
        s.notice = payload;
      },
    },
    noticeClosed: (s) => {
      s.notice = null;
    },
  },
});

export const panelActions = slice.actions;
export const panelReducer = slice.reducer;

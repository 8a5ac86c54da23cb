/** How the scene is looked at: the look, what is drawn besides the pieces, the working grid and the peg. */
import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { Matrix } from '@urnsmith/core/mesh/transform';
import type { Lane } from '@urnsmith/core/steps/index';
import type { Look } from '../viewport/looks';
import { handActions } from './handSlice';

export interface ViewState {
  look: Look;
  wire: boolean;
  xray: boolean;
  grid: boolean;
  parallel: boolean;
  isolated: boolean;
  /** Show the active piece as it stood before this lane. */
  stage: Lane | null;
  /** The frame of the seated working grid, in the world; null is level. */
  gridFrame: Matrix | null;
  /** The peg: a centre to turn about, snap to and place new pieces at. */
  peg: Matrix | null;
}

/** These show reflections, which lines over the surface would break: they begin without the wire. */
const POLISHED: ReadonlySet<Look> = new Set(['gloss', 'stripes']);

export type ViewSwitch = 'wire' | 'xray' | 'grid' | 'parallel' | 'isolated';

const initialState: ViewState = {
  look: 'clay',
  wire: true,
  xray: false,
  grid: true,
  parallel: false,
  isolated: false,
  stage: null,
  gridFrame: null,
  peg: null,
};

const slice = createSlice({
  name: 'view',
  initialState,
  reducers: {
    lookChosen: (s, { payload }: PayloadAction<Look>) => {
      if (POLISHED.has(payload) && !POLISHED.has(s.look)) s.wire = false;
      s.look = payload;
    },
    switched: (s, { payload }: PayloadAction<ViewSwitch>) => {
      s[payload] = !s[payload];
    },
    stageShown: (s, { payload }: PayloadAction<Lane | null>) => {
      s.stage = payload;
    },
    gridSeated: (s, { payload }: PayloadAction<Matrix | null>) => {
      s.gridFrame = payload;
    },
    pegSet: (s, { payload }: PayloadAction<Matrix | null>) => {
      s.peg = payload;
    },
  },
  extraReducers: (on) => {
    on.addCase(handActions.selected, (s) => {
      s.stage = null;
    });
  },
});

export const viewActions = slice.actions;
export const viewReducer = slice.reducer;

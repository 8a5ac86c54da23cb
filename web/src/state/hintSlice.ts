/** The thing under the pointer, on the stage, the strip, the Ledger or the Card. */
import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { ShadingFaultKind } from '@urnsmith/core/shading/faults';
import type { FaceLead } from '@urnsmith/core/shading/leads';

export interface HintState {
  /** A piece, on the stage or in the Ledger. */
  hovered: string | null;
  /** A bead, as makers of faces are named; what it made lights up. */
  bead: string | null;
  /** A warning of the chosen step, on the Card. */
  warning: number | null;
  /** A fault of shading on the Card, or the number of a place where it leans. */
  fault: ShadingFaultKind | number | null;
  /** A kind of face that may lead the shading, on the Card. */
  lead: FaceLead | null;
  /** The beads that made the face under the pointer, on the active piece; the last first. */
  story: ReadonlyArray<string>;
}

const initialState: HintState = {
  hovered: null,
  bead: null,
  warning: null,
  fault: null,
  lead: null,
  story: [],
};

const slice = createSlice({
  name: 'hints',
  initialState,
  reducers: {
    hovered: (s, { payload }: PayloadAction<string | null>) => {
      s.hovered = payload;
    },
    beadPointed: (s, { payload }: PayloadAction<string | null>) => {
      s.bead = payload;
    },
    warningPointed: (s, { payload }: PayloadAction<number | null>) => {
      s.warning = payload;
    },
    faultPointed: (s, { payload }: PayloadAction<ShadingFaultKind | number | null>) => {
      s.fault = payload;
    },
    leadPointed: (s, { payload }: PayloadAction<FaceLead | null>) => {
      s.lead = payload;
    },
    storyTold: (s, { payload }: PayloadAction<ReadonlyArray<string>>) => {
      s.story = payload as string[];
    },
  },
});

export const hintActions = slice.actions;
export const hintReducer = slice.reducer;

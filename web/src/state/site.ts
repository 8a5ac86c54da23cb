/**
 * The site where elements are edited: a piece's base, or the result of its steps, in a step of edits by hand there.
 */
import type { Action } from '@urnsmith/core/actions/actions';
import type { Piece } from '@urnsmith/core/document/schema';
import { editsOfStep, handStep, inLaneOrder, LANES, laneOf, type Lane } from '@urnsmith/core/steps/index';
import { newStepId } from './actions';
import type { HandState } from './handSlice';

export interface Site {
  /** Steps, in lane order, whose result is edited. */
  upTo: number;
  /** The step of edits by hand that takes more of them, in the piece's list; null when there is none there yet. */
  hand: number | null;
  /** The lane such a step is made in. */
  lane: Lane;
}

type Choice = Pick<HandState, 'onResult' | 'step'>;

/** The site that edits of a piece go to; null for its base. */
export function siteOf({ onResult, step }: Choice, piece: Piece): Site | null {
  const ordered = inLaneOrder((piece.steps ?? []).map((s, index) => ({ ...s, index })));
  // A step of edits that is chosen is meant, wherever it stands.
  const chosen = ordered.findIndex((s) => s.index === step && editsOfStep(s) && !s.off);
  if (chosen >= 0) return { upTo: chosen + 1, hand: step, lane: laneOf(ordered[chosen]) };
  return (onResult ?? !repeats(piece)) ? siteOnResult(piece) : null;
}

/** A mirrored or repeated piece is edited before that step, so that the copies follow. */
const repeats = (piece: Piece): boolean =>
  (piece.steps ?? []).some((s) => !s.off && ['Repeat', 'Bend'].includes(laneOf(s)));

/** Smoothing and shading come after: they are previewed on what is edited, not edited themselves. */
const EDITED = LANES.indexOf('Smooth');

/** The last of what steps make that can be edited; null where they make nothing. */
export function siteOnResult(piece: Piece): Site | null {
  const ordered = inLaneOrder((piece.steps ?? []).map((s, index) => ({ ...s, index })));
  const before = ordered.filter((s) => LANES.indexOf(laneOf(s)) < EDITED);
  const last = before.findLast((s) => !s.off);
  if (!last) return null;
  return { upTo: before.length, hand: editsOfStep(last) ? last.index : null, lane: laneOf(last) };
}

/** The edits there are at a site. */
export function actionsAt(piece: Piece, site: Site | null): Action[] {
  if (!site) return piece.actions ?? [];
  const step = site.hand === null ? null : piece.steps![site.hand];
  return editsOfStep(step ?? undefined) ?? [];
}

/** The piece with other edits at a site; a step of them is added where there was none. */
export function withActions(piece: Piece, site: Site | null, actions: Action[]): Piece {
  if (!site) return { ...piece, actions };
  const steps = piece.steps ?? [];
  if (site.hand === null) {
    const pin = site.lane === 'Form' ? {} : { pin: site.lane };
    return { ...piece, steps: [...steps, { id: newStepId(piece), ...handStep(actions), ...pin }] };
  }
  return {
    ...piece,
    steps: steps.map((s, i) => (i === site.hand ? { ...s, actions } : s)) as Piece['steps'],
  };
}

/**
 * Inputs of a piece's steps from the document around them: the frames they work about, the selections they act on.
 */
import { keptName } from '../select/kept';
import { matrixBetween, worldMatrix } from '../document/placement';
import type { Piece } from '../document/schema';
import { OperationError } from '../mesh/errors';
import { IDENTITY, invert, multiply, type Matrix } from '../mesh/transform';
import type { About } from '../steps/define';
import { STEPS, type Step } from '../steps';

/**
 * From the frame a step works about to the frame of its piece.
 * @throws OperationError `no-piece`
 */
export function frameAbout(pieces: ReadonlyMap<string, Piece>, piece: string, about: About): Matrix {
  if (about === 'piece') return IDENTITY;
  const toPiece = (): Matrix => invert(worldMatrix(pieces, piece));
  if (about === 'world') return toPiece();
  if ('peg' in about) return multiply(toPiece(), about.peg);
  if (!pieces.has(about.piece))
    throw new OperationError(
      'no-piece',
      `There is no piece “${about.piece}” to work about.`,
      undefined,
      'Choose another piece to work about, or the piece itself.',
    );
  return matrixBetween(pieces, about.piece, piece);
}

/** From the frame a step works about to its piece's; null where it names none, or one that is not there. */
export function frameOfStep(pieces: ReadonlyMap<string, Piece>, piece: string, step: Step): Matrix | null {
  const { about } = STEPS[step.kind];
  try {
    return about ? frameAbout(pieces, piece, about(step as never)) : null;
  } catch (e) {
    if (e instanceof OperationError) return null;
    throw e;
  }
}

/** Names of the kept selections that a piece's steps ask for. */
export function keptForSteps(piece: Piece): string[] {
  const scopes = (piece.steps ?? []).flatMap((s) => STEPS[s.kind].scopes?.(s as never) ?? []);
  return [...new Set(scopes.flatMap((scope) => keptName(scope) ?? []))];
}

/** Lines laid over the pieces: what is wrong, what a step takes, what it goes by. */
import type { Piece } from '@urnsmith/core/document/schema';
import { worldMatrix } from '@urnsmith/core/document/placement';
import type { Bounds } from '@urnsmith/core/mesh/measure';
import type { Warning } from '@urnsmith/core/mesh/errors';
import { applyMatrix, type Matrix } from '@urnsmith/core/mesh/transform';
import { frameOfStep } from '@urnsmith/core/build/ofPiece';
import type { StepReport } from '@urnsmith/core/build/report';
import { STEPS } from '@urnsmith/core/steps/index';
import { IDENTITY } from '../../state/elementHandle';
import { activePiece, piecesById } from '../../state/selectors';
import { knownLeads, knownShading } from '../../state/seenShading';
import type { RootState } from '../../state/store';
import type { Built } from '../../workers/builds';

type Points = Array<[number, number, number]>;

/** Lines where the piece in hand is faulty, or where its build could not do what was asked, in the world. */
export function badLines(s: RootState, built: Built | undefined): Float32Array | null {
  const piece = activePiece(s);
  if (!piece || !built) return null;
  const steps = built.display?.steps ?? [];
  const fault = built.fault ?? steps.find((x) => x.fault)?.fault;
  // Operands are handed to a cut in the host's frame, so their lines are in it too.
  const matrix = worldMatrix(piecesById(s), piece.id);
  if (fault?.lines) return inWorld(fault.lines, matrix);
  const seen = s.hints.fault === null ? undefined : knownShading(built.display);
  const pointed =
    typeof s.hints.fault === 'number'
      ? seen?.places[s.hints.fault]
      : seen?.faults.find((f) => f.kind === s.hints.fault);
  if (pointed) return inWorld(pointed.lines, matrix);
  if (s.hand.level !== 'piece') return null;
  const lines = warned(s, piece, steps).flatMap((w) => (w.lines ? [w.lines] : []));
  if (lines.length < 2) return lines.length ? inWorld(lines[0], matrix) : null;
  return inWorld(joined(lines), matrix);
}

/** The warnings to light up: the one pointed at, else those of the chosen step, else those of all steps. */
function warned(s: RootState, piece: Piece, steps: ReadonlyArray<StepReport>): Warning[] {
  const { step } = s.hand;
  const { warning: pointedWarning } = s.hints;
  const own = steps.filter((r) => !piece.steps?.[r.index]?.off && (step === null || r.index === step));
  const all = own.flatMap((r) => r.warnings);
  return pointedWarning === null ? all : all.slice(pointedWarning, pointedWarning + 1);
}

/** The edges the chosen step takes, in the world. */
export function takenLines(s: RootState, built: Built | undefined): Float32Array | null {
  const { active, step, level } = s.hand;
  if (!active || step === null || level !== 'piece') return null;
  const leads = s.hints.lead && knownLeads(built?.display)?.[s.hints.lead];
  if (leads) return inWorld(leads, worldMatrix(piecesById(s), active));
  const lines = built?.display?.steps.find((r) => r.index === step)?.lines;
  return lines ? inWorld(lines, worldMatrix(piecesById(s), active)) : null;
}

/** Guides of the step on the Card, such as a mirror's plane, in the world. */
export function guideLines(s: RootState, built: Built | undefined, m: Matrix): Points | null {
  const { active, step: index, level } = s.hand;
  const step = active && index !== null ? piecesById(s).get(active)?.steps?.[index] : undefined;
  if (!step || level !== 'piece' || step.off || !built?.display) return null;
  const frame = frameOfStep(piecesById(s), active!, step);
  const lines = frame && STEPS[step.kind].guides?.(step as never, frame, sizeOf(built.display.bounds));
  return lines?.flat().map((p) => applyMatrix(m, p)) ?? null;
}

const sizeOf = ({ min, max }: Bounds): number => Math.hypot(...max.map((x, k) => x - min[k]));

/** Lines last brought into the world, so that the same ones are the same object. */
const known = new WeakMap<Float64Array, { key: string; out: Float32Array }>();
const together = new WeakMap<Float64Array, { list: Float64Array[]; all: Float64Array }>();

function inWorld(lines: Float64Array, matrix: Matrix): Float32Array {
  const key = matrix === IDENTITY ? '' : matrix.join();
  const before = known.get(lines);
  if (before?.key === key) return before.out;
  const out = new Float32Array(lines.length);
  for (let i = 0; i < lines.length; i += 3) out.set(applyMatrix(matrix, lines.subarray(i, i + 3)), i);
  known.set(lines, { key, out });
  return out;
}

function joined(list: Float64Array[]): Float64Array {
  const before = together.get(list[0]);
  if (before?.list.length === list.length && before.list.every((l, i) => l === list[i])) return before.all;
  const all = new Float64Array(list.reduce((n, l) => n + l.length, 0));
  let at = 0;
  for (const l of list) {
    all.set(l, at);
    at += l.length;
  }
  together.set(list[0], { list, all });
  return all;
}

/** Cut: other pieces taken from this one, added to it, shared with it, or pressed into it. */
import { Type, type Static } from 'typebox';
import { carryingList, reference } from '../schema/references';
import { OperationError, warn, type Warning } from '../mesh/errors';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { transformMesh } from '../mesh/transform';
import { pointOf } from '../mesh/vec3';
import { hashOfText } from '../births/hash';
import { markMade } from '../mesh/lineage';
import { choice } from '../ops/fields';
import { cutIn, type CutManner } from '../cutting/cutModes';
import { idleCutters, type IdleCutter } from '../cutting/idle';
import { layerPull } from '../cutting/layerPull';
import { windingNumber } from '../cutting/winding';
import type { Cutter } from '../solid/boolean';
import type { CutResult } from '../solid/cutResult';
import { isSound, markSound } from '../solid/Solid';
import {
  keepsRest,
  movedOperands,
  NARROW,
  withPartsApart,
  withPartsTogether,
  type CutMemory,
} from './cutRest';
import { defineStep, type Operand, type Seen, type StepOf } from './define';

const othersOf = ({ others, nameOf }: Seen): string =>
  others.length === 1 ? nameOf(others[0]) : `${others.length} pieces`;

const MODES = ['subtract', 'union', 'intersect', 'split', 'recess', 'raise', 'sleeve', 'imprint'] as const;
type Mode = (typeof MODES)[number];

const SIGN: Partial<Record<Mode, string>> = { subtract: '−', union: '+', intersect: '∩' };

const mm = (title: string, least: number, usual: number) =>
  Type.Optional(Type.Number({ title, unit: 'mm', minimum: least, maximum: 10_000, default: usual }));

/** Parameters of the modes, beside the cutters. */
const MANNER = {
  mode: choice('Mode', MODES, 'subtract'),
  voids: Type.Optional(choice('Hollows', ['keep', 'drop'], 'keep')),
  keep: Type.Optional(choice('Keep', ['both', 'inside', 'outside'], 'both')),
  gap: mm('Gap', 0, 0),
  gapFrom: Type.Optional(choice('Gap from', ['both', 'inside', 'outside'], 'both')),
  thickness: mm('Thickness', 0.001, 2),
  nearest: Type.Optional(Type.Boolean({ title: 'Nearest wall only', default: false })),
  wall: Type.Optional(choice('Wall', ['inside', 'outside'], 'inside')),
  apart: Type.Optional(Type.Boolean({ title: 'Wall as a separate body', default: false })),
};
const isIn =
  (...modes: Mode[]) =>
  ({ mode }: { mode: Mode }): boolean =>
    modes.includes(mode);

export const cut = defineStep({
  kind: 'cut',
  title: 'Cut',
  lane: 'Cut',
  example: { kind: 'cut', mode: 'subtract', cutters: ['hole'] },
  params: {
    ...MANNER,
    cutters: carryingList('pieces', 'operand', { minItems: 0, maxItems: 1000 }),
    /** Flat neighbours from different operands become one face. */
    join: Type.Optional(Type.Boolean({ title: 'Join flat neighbours', default: true })),
    /** Cutters that are switched off for now. */
    resting: Type.Optional(Type.Array(reference('pieces', 'mention'), { maxItems: 1000 })),
  },
  fields: [
    {
      key: 'mode',
      wide: true,
      hints: {
        subtract: 'Takes the cutters away',
        union: 'Adds the cutters',
        intersect: 'Keeps what lies in all of them',
        split: 'Splits the piece into two bodies',
        recess: 'Takes a layer under the surface away; the floor follows the surface',
        raise: 'Adds a layer over the surface',
        sleeve: 'Subtracts, and lines the hole with a wall, through hollows too',
        imprint: 'Draws the line where they meet; takes nothing',
      },
    },
    { key: 'voids', when: isIn('union'), hints: { drop: 'What cannot be reached from outside goes' } },
    { key: 'keep', when: isIn('split') },
    { key: 'gap', when: isIn('split'), perPixel: 0.02 },
    { key: 'gapFrom', when: (s) => s.mode === 'split' && !!s.gap },
    { key: 'thickness', when: isIn('recess', 'raise', 'sleeve'), perPixel: 0.05 },
    { key: 'nearest', when: isIn('recess', 'raise') },
    { key: 'wall', when: isIn('sleeve') },
    { key: 'apart', when: isIn('sleeve') },
    { key: 'cutters', as: 'cutters' },
    { key: 'join' },
  ],
  adds: [
    {
      id: 'cut-subtract',
      title: 'Cut: subtract the others from the last selected',
      short: 'Cut',
      words: 'boolean difference hole minus remove',
      consumes: true,
      label: (seen) => `Subtract ${othersOf(seen)} from ${seen.name}`,
      step: ({ others }) => ({ kind: 'cut' as const, mode: 'subtract' as const, cutters: others }),
      ring: { piece: 0 },
      offers: ({ others, name }) =>
        others.length ? { text: `Subtract from ${name}`, value: `${others.length}` } : null,
    },
    {
      id: 'cut-union',
      title: 'Cut: union with the last selected',
      words: 'boolean add combine merge join plus',
      consumes: true,
      label: (seen) => `Union ${othersOf(seen)} to ${seen.name}`,
      step: ({ others }) => ({ kind: 'cut' as const, mode: 'union' as const, cutters: others }),
      offers: ({ others, name }) =>
        others.length ? { text: `Unite with ${name}`, value: `${others.length}` } : null,
    },
    {
      id: 'cut-intersect',
      title: 'Cut: intersect with the last selected',
      words: 'boolean overlap common',
      consumes: true,
      label: (seen) => `Intersect ${othersOf(seen)} with ${seen.name}`,
      step: ({ others }) => ({ kind: 'cut' as const, mode: 'intersect' as const, cutters: others }),
    },
    {
      id: 'cut-split',
      title: 'Cut: split the last selected by the others',
      words: 'boolean slice halves divide part separate',
      consumes: true,
      label: (seen) => `Split ${seen.name} by ${othersOf(seen)}`,
      step: ({ others }) => ({ kind: 'cut' as const, mode: 'split' as const, keep: 'both' as const, gap: 0, cutters: others }), // prettier-ignore
    },
    {
      id: 'cut-recess',
      title: 'Cut: recess the last selected within the others',
      words: 'boolean inlay emboss engrave sink panel deboss',
      consumes: true,
      label: (seen) => `Recess ${seen.name} within ${othersOf(seen)}`,
      step: ({ others }) => ({
        kind: 'cut' as const,
        mode: 'recess' as const,
        thickness: 2,
        cutters: others,
      }),
    },
    {
      id: 'cut-raise',
      title: 'Cut: raise the last selected within the others',
      words: 'boolean emboss plate pad panel',
      consumes: true,
      label: (seen) => `Raise ${seen.name} within ${othersOf(seen)}`,
      step: ({ others }) => ({ kind: 'cut' as const, mode: 'raise' as const, thickness: 2, cutters: others }),
    },
    {
      id: 'cut-sleeve',
      title: 'Cut: sleeve, a lined hole in the last selected',
      words: 'boolean liner bush tube wall hole',
      consumes: true,
      label: (seen) => `Line ${othersOf(seen)} in ${seen.name}`,
      step: ({ others }) => ({
        kind: 'cut' as const,
        mode: 'sleeve' as const,
        thickness: 2,
        cutters: others,
      }),
    },
    {
      id: 'cut-imprint',
      title: 'Cut: imprint the others on the last selected',
      words: 'boolean score project line divide faces',
      consumes: true,
      label: (seen) => `Imprint ${othersOf(seen)} on ${seen.name}`,
      step: ({ others }) => ({ kind: 'cut' as const, mode: 'imprint' as const, cutters: others }),
    },
  ],
  label: ({ cutters }, nameOf) => (cutters.length === 1 ? nameOf(cutters[0]) : `${cutters.length} cutters`),
  operands: activeCutters,
  makesRims: true,
  joins: isIn('subtract', 'union', 'recess', 'raise'),
  holds: (step) => (step.mode === 'union' ? activeCutters(step) : null),
  joined: (step, beside, added) => ({
    ...step,
    cutters: step.cutters.flatMap((c) => (c === beside ? [c, added] : [c])),
    ...(step.resting?.includes(beside) && { resting: [...step.resting, added] }),
  }),
  taken(mesh, step, { piece, operands, watch }, clearance, operand) {
    const host = { mesh, name: piece.name ?? piece.id, id: piece.id };
    if (!isIn('subtract', 'split', 'sleeve')(step))
      throw new OperationError(
        'takes-nothing',
        `A cut that is set to ${step.mode} has no volume to take out.`,
        undefined,
        'Set its mode to subtract, split or sleeve.',
      );
    const by = cuttersOf(
      operands.filter((o) => operand === undefined || o.id === operand),
      piece.id,
    );
    const within = (gap: number): CutResult => {
      const how = mannerOf({ mode: 'split', keep: 'inside', gap, gapFrom: 'inside' });
      return cutIn(host, by, how, { joins: step.join ?? true, widest: Infinity, watch }).result;
    };
    const out = within(clearance);
    nameCutters(out, by);
    if (faceCount(out.mesh)) return out.mesh;
    if (clearance && faceCount(within(0).mesh))
      throw new OperationError(
        'too-thick',
        `A clearance of ${clearance} mm leaves nothing of the material the cut removes.`,
        undefined,
        `Use less than ${clearance} mm.`,
      );
    throw new OperationError(
      'takes-nothing',
      `The cut takes nothing away from “${host.name}”.`,
      undefined,
      'Move the cutter into the piece.',
    );
  },
  prepare(mesh, step, { piece, operands, memory, watch }, moving) {
    const kept = memory.kept as CutMemory | undefined;
    const cutters = cuttersOf(
      operands.filter((o) => !o.inside),
      piece.id,
    );
    const how = mannerOf(step);
    if (!kept || !isPlain(step) || !keepsRest(kept, mesh, keptManner(step), cutters, moving)) return;
    const others = cutters.filter((c) => !moving.has(c.id));
    const host = { mesh, name: piece.name ?? piece.id, id: piece.id };
    const { result } = cutIn(host, others, how, { joins: step.join ?? true, widest: NARROW, watch });
    nameCutters(result, others);
    kept.rest = { without: moving, mesh: sound(withPartsApart(result.mesh)) };
  },
  run(mesh, step, { piece, operands, draft, memory, watch }) {
    const how = mannerOf(step);
    const key = keyOf(how, operands.length);
    if (!operands.length) return { mesh, key, warnings: [warn('all-off', 'All cutters are switched off.')] };
    if (!faceCount(mesh) && step.mode !== 'union')
      return { mesh, key, warnings: [warn('nothing-left', 'Nothing is left to cut.')] };
    const cutters = cuttersOf(
      operands.filter((o) => !o.inside),
      piece.id,
    );
    const joins = step.join ?? true;
    const warnings: Warning[] = [];
    const all = (of: PolyMesh, by: typeof cutters, widest = Infinity): CutResult => {
      const host = { mesh: of, name: piece.name ?? piece.id, id: piece.id };
      const out = cutIn(host, by, how, { joins, widest, watch });
      nameCutters(out.result, by);
      warnings.push(...out.warnings);
      return out.result;
    };
    const manner = keptManner(step);
    const before = memory.kept as CutMemory | undefined;
    const moved = isPlain(step) ? movedOperands(before, mesh, manner, cutters) : null;
    const rest = moved && before?.rest?.without === moved ? before.rest : null;
    const kept: CutMemory = { host: mesh, manner, operands: cutters, rest };
    memory.kept = kept;
    let result: CutResult;
    if (draft && moved) {
      const others = cutters.filter((c) => !moved.has(c.id));
      kept.rest ??= { without: moved, mesh: sound(withPartsApart(all(mesh, others, NARROW).mesh)) };
      const moving = cutters.filter((c) => moved.has(c.id));
      const cut = all(kept.rest.mesh, moving, NARROW);
      result = { ...cut, mesh: sound(withPartsTogether(cut.mesh)) };
    } else result = all(mesh, cutters);
    const quick = draft && moved !== null;
    const failed = operands.find((o) => o.failed);
    const idle =
      quick || step.mode === 'intersect'
        ? []
        : idleCutters(mesh, cutters, result, {
            adds: isIn('union', 'raise')(step),
            takes: isIn('subtract', 'sleeve')(step),
            onSurface: isIn('recess', 'imprint')(step),
          });
    const { mode, thickness } = how;
    const pull =
      !quick && cutters.length && (mode === 'recess' || mode === 'raise')
        ? layerPull(result.mesh, cutters[0].mesh, mode, thickness)
        : null;
    return {
      mesh: result.mesh,
      key,
      ...(pull && { pulls: [pull] }),
      ...(idle.length && { idle }),
      draft: quick,
      counts: { cutters: cutters.length },
      warnings: failed
        ? [warn('operand-failed', `“${failed.name}” has a step that failed: ${failed.failed}`)]
        : !faceCount(result.mesh)
          ? [warn('nothing-left', 'The cut leaves nothing of the piece.')]
          : !result.report.touched && !quick
            ? untouched(step.mode, mesh, cutters)
            : [...warnings, ...idle.flatMap((i) => idleWarning(i, cutters))],
    };
  },
});

/**
 * A cutter that does not meet the piece's surface; one that lies in another is no fault, and whether a hollow stays is
 * told at the end of the build.
 */
function idleWarning(
  { operand, why, parts }: IdleCutter,
  cutters: ReadonlyArray<{ id: string; name: string }>,
): Warning[] {
  const name = cutters.find((c) => c.id === operand)?.name ?? operand;
  if (why === 'short')
    return [warn('cutter-short', `“${name}” lies inside the piece and does not reach its surface.`)];
  if (why !== 'misses') return [];
  const what = parts
    ? `${parts.some} of the ${parts.of} parts of “${name}” ${parts.some === 1 ? 'does' : 'do'} not touch the piece.`
    : `“${name}” does not touch the piece.`;
  return [warn('cutter-misses', what)];
}

/** The warnings for a cut that met nothing, but for a hollow that it made. */
function untouched(mode: Mode, mesh: PolyMesh, cutters: ReadonlyArray<{ mesh: PolyMesh }>): Warning[] {
  const inside = cutters.some((c) => windingNumber(mesh, pointOf(c.mesh.positions, 0)) > 0.5);
  return mode === 'subtract' && inside ? [] : [warn('touches-nothing', 'No cutter touches the piece.')];
}

/** The cutters can be cut in by and by. */
const isPlain = (step: Asked): boolean =>
  isIn('subtract', 'union', 'intersect')(step) && (step.voids ?? 'keep') === 'keep';

const keptManner = (step: Asked & { join?: boolean }): string =>
  JSON.stringify([mannerOf(step), step.join ?? true]);

type Asked = Partial<Static<ReturnType<typeof Type.Object<typeof MANNER>>>> & { mode: Mode };

function mannerOf(step: Asked): CutManner {
  return {
    mode: step.mode,
    voids: step.voids ?? 'keep',
    keep: step.keep ?? 'both',
    gap: step.gap ?? 0,
    gapFrom: step.gapFrom ?? 'both',
    thickness: step.thickness ?? 2,
    nearest: step.nearest ?? false,
    wall: step.wall ?? 'inside',
    apart: step.apart ?? false,
  };
}

/** The number on its bead. */
function keyOf({ mode, gap, thickness }: CutManner, cutters: number): string {
  const sign = SIGN[mode];
  if (sign) return `${sign} ${cutters}`;
  const size = mode === 'split' ? gap : mode === 'imprint' ? 0 : thickness;
  return size ? `${mode} ${Number(size.toPrecision(4))} mm` : `${mode} ${cutters}`;
}

/** The cutters of a step that are at work: not switched off, each once. */
export function activeCutters(step: { cutters: string[]; resting?: string[] }): string[] {
  const resting = new Set(step.resting);
  return [...new Set(step.cutters)].filter((c) => !resting.has(c));
}

type CutStep = StepOf<'cut', (typeof cut)['params']>;
/** How a cut is to be made. */
export type CutWish = Pick<CutStep, 'mode' | 'thickness'>;

export const cutBy = (cutters: string[], wish: CutWish = { mode: 'subtract' }): CutStep => ({
  kind: 'cut',
  ...wish,
  cutters,
});

/** The first of some steps that cuts with a piece; null where none does. */
export const cutWith = (steps: ReadonlyArray<{ kind: string }>, cutter: string): CutStep | null =>
  (steps.find((s) => s.kind === 'cut' && (s as CutStep).cutters.includes(cutter)) as CutStep) ?? null;

export const needsThickness = (mode: CutStep['mode']): boolean =>
  mode === 'recess' || mode === 'raise' || mode === 'sleeve';

/** The step with one more cutter, where it cuts as is wished; null where it does not. */
export function withOneMoreCutter<S extends { kind: string; off?: boolean }>(
  step: S,
  { mode, thickness }: CutWish,
  cutter: string,
): S | null {
  if (step.kind !== 'cut' || step.off) return null;
  const own = step as unknown as CutStep;
  if ((own.mode ?? 'subtract') !== mode || own.thickness !== thickness) return null;
  return { ...step, cutters: [...own.cutters, cutter] };
}

/** The gap between the inner half and the cutter, mm, for a split that keeps both halves; null for all else. */
export function halvesOf(step: { kind: string }): { gap: number } | null {
  if (step.kind !== 'cut') return null;
  const { mode, keep = 'both', gap = 0, gapFrom = 'both' } = step as CutStep;
  if (mode !== 'split' || keep !== 'both') return null;
  return { gap: gapFrom === 'both' ? gap / 2 : gapFrom === 'inside' ? gap : 0 };
}

/** Results of cuts do not cross themselves. */
const sound = markSound;

/** Faces of cutters are named by the cutter too. */
function nameCutters({ mesh, operandOfFace }: CutResult, cutters: ReadonlyArray<{ id: string }>): void {
  const ofCutter = cutters.map((): number[] => []);
  operandOfFace.forEach((o, f) => o > 0 && ofCutter[o - 1].push(f));
  cutters.forEach(({ id }, k) => markMade(mesh, ofCutter[k], 'cut', hashOfText(id)));
}

/** The operands in the host's frame. */
const cuttersOf = (operands: Operand[], host: string): Array<Required<Cutter>> =>
  operands.map((o) => ({ id: o.id, name: o.name, mesh: placed(o, host) }));

interface Placed {
  matrix: string;
  mesh: PolyMesh;
}
/** Per mesh, host and operand: twins share their mesh. */
const placedCache = new WeakMap<PolyMesh, Map<string, Placed>>();

/** An operand that has not moved stays the same mesh. */
function placed({ id, mesh, matrix }: Operand, host: string): PolyMesh {
  let known = placedCache.get(mesh);
  if (!known) placedCache.set(mesh, (known = new Map()));
  const key = JSON.stringify([host, id]);
  const at = matrix.join();
  const before = known.get(key);
  if (before?.matrix === at) return before.mesh;
  const out = transformMesh(mesh, matrix);
  if (isSound(mesh)) markSound(out);
  known.set(key, { matrix: at, mesh: out });
  return out;
}

/** Cut: other pieces taken from, added to or shared with this one. */
import { Type } from 'typebox';
import { carryingList, reference } from '../../document/references';
import { warn } from '../../mesh/errors';
import { faceCount, type PolyMesh } from '../../mesh/PolyMesh';
import { transformMesh, type Matrix } from '../../mesh/transform';
import { hashOfText } from '../../births/hash';
import { markMade } from '../../mesh/lineage';
import type { CutResult } from '../../solid/cutResult';
import { cut as cutSolids } from '../../solid/boolean';
import { isSound, markSound } from '../../solid/Solid';
import { movedOperands, NARROW, withPartsApart, withPartsTogether, type CutMemory } from '../cutRest';
import { defineStep, type Seen } from '../define';

const othersOf = ({ others, nameOf }: Seen): string =>
  others.length === 1 ? nameOf(others[0]) : `${others.length} pieces`;

const MODE_SIGN = { subtract: '−', union: '+', intersect: '∩' } as const;

export const cut = defineStep({
  kind: 'cut',
  title: 'Cut',
  lane: 'Cut',
  example: { kind: 'cut', mode: 'subtract', cutters: ['hole'] },
  params: {
    mode: Type.Union([Type.Literal('subtract'), Type.Literal('union'), Type.Literal('intersect')], {
      default: 'subtract',
      title: 'Mode',
    }),
    cutters: carryingList('pieces', 'operand', { minItems: 0, maxItems: 1000 }),
    /** Flat neighbours from different operands become one face. */
    join: Type.Optional(Type.Boolean({ title: 'Join flat neighbours', default: true })),
    /** Cutters that are switched off for now. */
    resting: Type.Optional(Type.Array(reference('pieces', 'mention'), { maxItems: 1000 })),
  },
  fields: [{ key: 'mode', wide: true }, { key: 'cutters' }, { key: 'join' }],
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
  ],
  label: ({ cutters }, nameOf) => (cutters.length === 1 ? nameOf(cutters[0]) : `${cutters.length} cutters`),
  operands: activeCutters,
  makesRims: true,
  joins: (step) => step.mode !== 'intersect',
  holds: (step) => (step.mode === 'union' ? activeCutters(step) : null),
  joined: (step, beside, added) => ({
    ...step,
    cutters: step.cutters.flatMap((c) => (c === beside ? [c, added] : [c])),
    ...(step.resting?.includes(beside) && { resting: [...step.resting, added] }),
  }),
  run(mesh, step, { piece, operands, draft, memory, watch }) {
    const key = `${MODE_SIGN[step.mode]} ${operands.length}`;
    if (!operands.length) return { mesh, key, warnings: [warn('all-off', 'All cutters are switched off.')] };
    if (!faceCount(mesh) && step.mode !== 'union')
      return { mesh, key, warnings: [warn('nothing-left', 'Nothing is left to cut.')] };
    const cutters = operands
      .filter((o) => !o.inside)
      .map((o) => ({ id: o.id, name: o.name, mesh: placed(o.mesh, o.matrix) }));
    const all = (of: PolyMesh, by: typeof cutters, widest?: number): CutResult => {
      const host = { mesh: of, name: piece.name ?? piece.id, id: piece.id };
      const out = cutSolids(host, by, step.mode, step.join ?? true, widest, watch);
      nameCutters(out, by);
      return out;
    };
    const manner = `${step.mode} ${step.join ?? true}`;
    const before = memory.kept as CutMemory | undefined;
    const moved = draft ? movedOperands(before, mesh, manner, cutters) : null;
    const kept: CutMemory = { host: mesh, manner, operands: cutters, rest: null };
    memory.kept = kept;
    let result: CutResult;
    if (moved) {
      const without = [...moved].sort().join(' ');
      const others = cutters.filter((c) => !moved.has(c.id));
      kept.rest =
        before?.rest?.without === without
          ? before.rest
          : { without, mesh: sound(withPartsApart(all(mesh, others, NARROW).mesh)) };
      const { mesh: rest } = kept.rest;
      const cut = all(rest, cutters.filter((c) => moved.has(c.id)), NARROW); // prettier-ignore
      result = { ...cut, mesh: sound(withPartsTogether(cut.mesh)) };
    } else result = all(mesh, cutters);
    const failed = operands.find((o) => o.failed);
    return {
      mesh: result.mesh,
      key,
      draft: moved !== null,
      counts: { cutters: cutters.length },
      warnings: failed
        ? [warn('operand-failed', `“${failed.name}” has a step that failed: ${failed.failed}`)]
        : !faceCount(result.mesh)
          ? [warn('nothing-left', 'The cut leaves nothing of the piece.')]
          : !result.report.touched && !moved
            ? [warn('touches-nothing', 'No cutter touches the piece.')]
            : [],
    };
  },
});

/** The cutters of a step that are at work: not switched off, each once. */
export function activeCutters(step: { cutters: string[]; resting?: string[] }): string[] {
  const resting = new Set(step.resting);
  return [...new Set(step.cutters)].filter((c) => !resting.has(c));
}

/** Results of cuts do not cross themselves. */
const sound = markSound;

/** Faces of cutters are named by the cutter too. */
function nameCutters({ mesh, operandOfFace }: CutResult, cutters: ReadonlyArray<{ id: string }>): void {
  const ofCutter = cutters.map((): number[] => []);
  operandOfFace.forEach((o, f) => o > 0 && ofCutter[o - 1].push(f));
  cutters.forEach(({ id }, k) => markMade(mesh, ofCutter[k], 'cut', hashOfText(id)));
}

const placedCache = new WeakMap<PolyMesh, Map<string, PolyMesh>>();

/** The operand in the host's frame, cached so that an unmoved cutter stays the same mesh. */
function placed(mesh: PolyMesh, matrix: Matrix): PolyMesh {
  let byMatrix = placedCache.get(mesh);
  if (!byMatrix) placedCache.set(mesh, (byMatrix = new Map()));
  const key = matrix.join();
  let out = byMatrix.get(key);
  if (!out) {
    if (byMatrix.size > 4) byMatrix.clear();
    out = transformMesh(mesh, matrix);
    if (isSound(mesh)) markSound(out);
    byMatrix.set(key, out);
  }
  return out;
}

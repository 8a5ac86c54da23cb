/** Random recipes, sound and spoilt: checking them never fails, and what is found sound can be built or refused in words. */
import { recipeFaults } from '../core/src/document/validate';
import type { Recipe } from '../core/src/document/schema';
import { OperationError } from '../core/src/mesh/errors';
import { Evaluator } from '../core/src/build/evaluate';
import { Random } from './random';

export interface RecipeCounts {
  recipes: number;
  sound: number;
  built: number;
  faults: string[];
}

function piece(r: Random, id: string, others: string[]): Record<string, unknown> {
  const steps: unknown[] = [];
  if (others.length && r.chance(0.6))
    steps.push({ kind: 'cut', mode: r.of(['subtract', 'union', 'intersect']), cutters: [r.of(others), r.of(others)], resting: r.chance(0.2) ? others : undefined }); // prettier-ignore
  if (r.chance(0.5)) steps.push({ kind: 'bevel', scope: r.of([{ rule: 'all' }, { rule: 'rims' }, { rule: 'sharp', angle: 30 }]), width: r.between(0.05, 3), segments: r.int(1, 4) }); // prettier-ignore
  if (r.chance(0.2)) steps.push({ kind: 'smooth', levels: r.int(0, 2) });
  if (r.chance(0.3)) steps.push({ kind: 'normals' });
  return {
    id,
    base: r.of([
      { primitive: 'box', width: r.between(5, 30), height: r.between(5, 30), depth: r.between(5, 30) },
      { primitive: 'cylinder', radius: r.between(3, 12), height: r.between(5, 40), sides: r.int(3, 24) },
      { primitive: 'sphere', radius: r.between(3, 12), sides: r.int(3, 16), rings: r.int(2, 8) },
    ]),
    transform: {
      move: [r.between(-9, 9), r.between(-9, 9), r.between(-9, 9)],
      turn: [0, r.between(0, 90), 0],
    },
    ...(steps.length ? { steps } : {}),
    ...(others.length && r.chance(0.2) ? { parent: r.of(others) } : {}),
  };
}

const NOISE: unknown[] = [
  null,
  -1,
  1e308,
  'constructor',
  '__proto__',
  {},
  [],
  true,
  { rule: 'toString' },
  Infinity,
  NaN,
];

function spoil(value: unknown, r: Random): unknown {
  if (typeof value !== 'object' || value === null || r.chance(0.15)) return r.of(NOISE);
  const copy = (Array.isArray(value) ? [...(value as unknown[])] : { ...value }) as Record<string, unknown>;
  const key = r.of([...Object.keys(copy), 'extra']);
  copy[key] = spoil(copy[key], r);
  return copy;
}

export function soakRecipes(count: number, seed: number): RecipeCounts {
  const r = new Random(seed);
  const out: RecipeCounts = { recipes: 0, sound: 0, built: 0, faults: [] };
  for (; out.recipes < count; out.recipes++) {
    const ids: string[] = [];
    const pieces: unknown[] = [];
    for (let k = 0; k < r.int(1, 4); k++) {
      pieces.push(piece(r, `p${k}`, [...ids]));
      ids.push(`p${k}`);
    }
    const recipe = JSON.parse(JSON.stringify({ pieces })) as unknown;
    const tried = r.chance(0.5) ? spoil(recipe, r) : recipe;
    try {
      if (recipeFaults(tried).length) continue;
      out.sound++;
      const e = new Evaluator({
        blob: () => { throw new OperationError('no-blob', 'None.'); },
        file: () => { throw new OperationError('no-file', 'None.'); },
      }); // prettier-ignore
      e.setPieces((tried as Recipe).pieces);
      for (const p of (tried as Recipe).pieces) e.build(p.id);
      out.built++;
    } catch (e) {
      if (!(e instanceof OperationError))
        out.faults.push(`${String(e).slice(0, 100)}: ${JSON.stringify(tried).slice(0, 1500)}`);
    }
  }
  return out;
}

/** Bent: the directions light comes from most, and how much of it gets there, kept for renderers and game engines. */
import { Type } from 'typebox';
import { choice } from '../ops/fields';
import { counted } from '../ops/operation';
import { bentNormals } from '../shading/bentNormals';
import { defineStep } from './define';

/** Rays while a hand is at it. */
const DRAFT_RAYS = 8;

export const bent = defineStep({
  kind: 'bent',
  title: 'Bent normals',
  lane: 'Shade',
  example: { kind: 'bent', rays: 32, reach: 40 },
  params: {
    rays: Type.Optional(Type.Integer({ title: 'Rays', unit: '', minimum: 2, maximum: 4096, default: 64 })),
    reach: Type.Optional(
      Type.Number({ title: 'Reach', unit: 'mm', minimum: 0.01, maximum: 100_000, default: 50 }),
    ),
    /** Another one gives other rays, as good as these. */
    seed: Type.Optional(Type.Integer({ title: 'Seed', unit: '', minimum: 0, maximum: 9999, default: 0 })),
    openness: Type.Optional(choice('Openness', ['colour', 'off'], 'colour')),
  },
  fields: [
    { key: 'rays' },
    { key: 'reach', perPixel: 0.5 },
    { key: 'seed' },
    {
      key: 'openness',
      hints: {
        colour: 'Hidden places get darker, here and in the file',
        off: 'Only the directions go into the file',
      },
    },
  ],
  adds: [
    {
      title: 'Bent normals and openness',
      short: 'Bent',
      words: 'ambient occlusion ao bake cavity dark corners vertex colour point color',
      step: { kind: 'bent' as const },
    },
  ],
  label: () => 'Bent',
  shadesOnly: true,
  run(mesh, step, { draft, watch }) {
    const asked = step.rays ?? 64;
    const rays = draft ? Math.min(asked, DRAFT_RAYS) : asked;
    const found = bentNormals(mesh, { rays, reach: step.reach ?? 50, seed: step.seed ?? 0 }, watch);
    const mean = found.openness.reduce((sum, x) => sum + x, 0) / (found.openness.length || 1);
    const { openness: _, ...corner } = mesh.layers.corner;
    return {
      mesh: {
        ...mesh,
        layers: {
          ...mesh.layers,
          corner: {
            ...corner,
            bent: { size: 3, data: found.normals },
            ...(step.openness !== 'off' && { openness: { size: 1, data: found.openness } }),
          },
        },
      },
      key: `${Math.round(100 * mean)}% open`,
      counts: { corners: mesh.corners.length },
      says: `${counted(rays, 'ray')} from each of ${counted(mesh.corners.length, 'corner')}; ${Math.round(100 * mean)}% of them escape.`,
      draft: rays < asked,
    };
  },
});

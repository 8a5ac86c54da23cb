/** Smooth: Catmull–Clark, with fewer levels while working and more in what is exported. */
import { Type } from 'typebox';
import { subdivide } from '../../subdivide/catmullClark';
import { ontoLimit } from '../../subdivide/limit';
import { defineStep } from '../define';

export const smooth = defineStep({
  kind: 'smooth',
  title: 'Smooth',
  lane: 'Smooth',
  example: { kind: 'smooth', levels: 2, exportLevels: 3 },
  params: {
    levels: Type.Optional(Type.Integer({ title: 'Levels', unit: '', minimum: 0, maximum: 6, default: 2 })),
    exportLevels: Type.Optional(
      Type.Integer({ title: 'Levels exported', unit: '', minimum: 0, maximum: 6, default: 3 }),
    ),
    /** Points go where infinitely many levels would put them, with the normals there. */
    limit: Type.Optional(Type.Boolean({ title: 'On the limit surface', default: false })),
  },
  fields: [{ key: 'levels', perPixel: 0.05 }, { key: 'exportLevels', perPixel: 0.05 }, { key: 'limit' }],
  run(mesh, step, { final, limits }) {
    const wanted = final ? (step.exportLevels ?? 3) : (step.levels ?? 2);
    let levels = wanted;
    while (levels > 0 && mesh.corners.length * 4 ** (levels - 1) > limits.faces) levels--;
    return {
      mesh: levels && step.limit ? ontoLimit(subdivide(mesh, levels)) : subdivide(mesh, levels),
      key: `${levels} ${levels === 1 ? 'level' : 'levels'}`,
      warning:
        levels < wanted
          ? `Stopped at ${levels} levels: more would make over ${limits.faces / 1e6} million faces.`
          : undefined,
    };
  },
});

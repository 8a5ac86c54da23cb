/** Smooth: Catmull–Clark, with fewer levels while working and more in what is exported. */
import { Type } from 'typebox';
import { subdivide } from '../subdivide/catmullClark';
import { limitNormals, ontoLimit } from '../subdivide/limit';
import { builtNormals } from '../shading/builtNormals';
import { withCrease } from '../subdivide/withCrease';
import { subdivideCalmly } from '../subdivide/subdivideCalmly';
import { withoutWideFaces } from '../subdivide/withoutWideFaces';
import { warn, type Warning } from '../mesh/errors';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { isClosed } from '../mesh/Topology';
import { counted } from '../ops/operation';
import { defineStep } from './define';
import { edgesInScope, ScopeSchema } from '../select/rules';

/** More levels than there ever are. */
const FOR_GOOD = 10;

/** Adds the normals of the limit surface. A crease has no single normal, so its corners take the shading instead. */
function withSurface(mesh: PolyMesh): PolyMesh {
  const { normal: _, surface: __, ...corner } = mesh.layers.corner;
  const data = builtNormals({ ...mesh, layers: { ...mesh.layers, corner } });
  const limit = limitNormals(mesh);
  for (let c = 0; c < limit.length; c += 3)
    if (limit[c] !== 0 || limit[c + 1] !== 0 || limit[c + 2] !== 0) data.set(limit.subarray(c, c + 3), c);
  return {
    ...mesh,
    layers: { ...mesh.layers, corner: { ...mesh.layers.corner, surface: { size: 3, data } } },
  };
}

/** Faces at whose corners a normal is held. */
function heldNormals(mesh: PolyMesh): number[] {
  const held = mesh.layers.corner.normal?.data;
  if (!held) return [];
  const isHeld = (c: number): boolean => held[3 * c] !== 0 || held[3 * c + 1] !== 0 || held[3 * c + 2] !== 0;
  return Array.from({ length: faceCount(mesh) }, (_, f) => f).filter((f) => {
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) if (isHeld(c)) return true;
    return false;
  });
}

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
    /** These edges stay sharp. */
    crease: Type.Optional(ScopeSchema),
    strength: Type.Optional(
      Type.Number({ title: 'Sharp for', unit: 'levels', minimum: 0, maximum: FOR_GOOD, default: FOR_GOOD }),
    ),
    /** Points go where infinitely many levels would put them, with the normals there. */
    limit: Type.Optional(Type.Boolean({ title: 'On the limit surface', default: false })),
  },
  fields: [
    { key: 'levels', perPixel: 0.05 },
    { key: 'exportLevels', perPixel: 0.05 },
    { key: 'crease', label: 'Holds', none: 'none' },
    { key: 'strength', when: (s) => s.crease !== undefined, perPixel: 0.05 },
    { key: 'limit' },
  ],
  adds: [
    {
      id: 'smooth',
      title: 'Smooth preview on or off',
      short: 'Smooth preview',
      words: 'subdivide subdivision soften',
      switches: true,
      step: { kind: 'smooth', levels: 2, exportLevels: 3 },
    },
  ],
  scopes: ({ crease }) => (crease ? [crease] : []),
  run(given, step, { final, draft, limits, watch }) {
    const held = step.crease
      ? withCrease(given, edgesInScope(given, step.crease), step.strength ?? FOR_GOOD)
      : given;
    const divided = withoutWideFaces(held);
    const wanted = final ? (step.exportLevels ?? 3) : (step.levels ?? 2);
    let levels = wanted;
    while (levels > 0 && divided.corners.length * 4 ** (levels - 1) > limits.faces) levels--;
    const checked = !draft && isClosed(divided);
    const finish = (m: PolyMesh): PolyMesh => (levels && step.limit ? ontoLimit(m) : m);
    const { mesh, held: still } = checked
      ? subdivideCalmly(divided, levels, watch, finish)
      : { mesh: finish(subdivide(divided, levels, watch)), held: new Float64Array(0) };
    const warnings: Warning[] = [];
    const dropped = levels ? heldNormals(given) : [];
    if (dropped.length)
      warnings.push(
        warn(
          'held-lost',
          `${counted(dropped.length, 'face')} with held normals let go of them: smoothing gives them other corners. Hold them after it.`,
          'face',
          dropped,
        ),
      );
    if (levels < wanted)
      warnings.push(
        warn(
          'too-many-faces',
          `Stopped at ${levels} levels: more would make over ${limits.faces / 1e6} million faces.`,
        ),
      );
    if (still.length)
      warnings.push({
        ...warn(
          'held',
          `${counted(still.length / 6, 'edge')} kept sharp, so that nothing goes through itself.`,
        ),
        lines: still,
      });
    return {
      mesh: levels && !draft ? withSurface(mesh) : mesh,
      key: `${levels} ${levels === 1 ? 'level' : 'levels'}`,
      counts: { levels },
      warnings,
      // While a hand is at it, what crosses may cross.
      draft: draft && levels > 0,
    };
  },
});

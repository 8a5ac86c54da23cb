/** Marks on edges: hard, crease, seam, share of a bevel's width; any set of them at once, set or cleared with 0. */
import { isWhole, MARKS, type MarkName } from '../mesh/layerKinds';
import { Type } from 'typebox';
import type { Layer, LayerArray } from '../mesh/layers';
import { faceNormal } from '../mesh/measure';
import type { PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';
import { OperationError } from '../mesh/errors';
import { dot } from '../mesh/vec3';
import { angle, params, share } from './fields';
import { counted, defineOperation } from './operation';
import { onBox } from './tool';

const schema = params({
  marks: Type.Array(Type.Union(MARKS.map((m) => Type.Literal(m))), {
    title: 'Marks',
    uniqueItems: true,
    minItems: 1,
    default: ['hard'],
  }),
  value: share('Strength', 1, 0, 10),
  /** Only edges whose faces meet at more than this; 0 takes all. */
  sharper: angle('Sharper than', 0, 0, 180),
});

export const mark = defineOperation({
  kind: 'mark',
  title: 'Mark edges',
  on: ['edge'],
  params: schema,
  example: onBox({ op: 'mark', select: { rule: 'sharp', angle: 30 }, marks: ['hard'] }),
  tools: [
    {
      id: 'markHard',
      title: 'Mark edges hard',
      short: 'Hard',
      start: () => ({ marks: ['hard'] }),
      ring: { edge: 6 },
    },
    { id: 'crease', title: 'Crease along the edges', short: 'Crease', start: () => ({ marks: ['crease'] }) },
    { id: 'seam', title: 'Seam along the edges', short: 'Seam', start: () => ({ marks: ['seam'] }) },
    {
      id: 'roundShare',
      title: 'Mark edges to be rounded at half the width',
      short: 'Round half as wide',
      start: () => ({ marks: ['round'], value: 0.5 }),
    },
    {
      id: 'clearHard',
      title: 'Clear hard marks',
      short: 'Not hard',
      start: () => ({ marks: ['hard'], value: 0 }),
    },
    {
      id: 'markOver',
      title: 'Mark all edges over an angle',
      short: 'All over an angle',
      start: () => ({ marks: ['hard'], sharper: 30 }),
      onAll: true,
    },
  ],
  refuses: ['none-sharper'],
  says: ({ edges }, { marks, value }) =>
    value > 0
      ? `Marked ${counted(edges, 'edge')} ${marks.join(', ')}.`
      : `Cleared ${marks.join(', ')} from ${counted(edges, 'edge')}.`,
  run(mesh, selection, p) {
    const edges = selection.indices.filter((e) => p.sharper === 0 || isSharper(mesh, e, p.sharper));
    if (!edges.length)
      throw new OperationError(
        'none-sharper',
        `None of the ${counted(selection.indices.length, 'picked edge')} is sharper than ${p.sharper}°.`,
        { domain: 'edge', indices: [...selection.indices] },
        'Lower the angle, or pick other edges.',
      );
    const out = marked(mesh, edges, p.marks, p.value);
    const changed = (e: number): boolean =>
      p.marks.some((m) => (mesh.layers.edge[m]?.data[e] ?? 0) !== (out.layers.edge[m]?.data[e] ?? 0));
    return {
      mesh: out,
      selection,
      counts: { edges: edges.filter(changed).length },
    };
  },
});

/** The mesh with marks on some of its edges. @param value strength; 0 clears them */
export function marked(
  mesh: PolyMesh,
  edges: ReadonlyArray<number>,
  marks: ReadonlyArray<MarkName>,
  value: number,
): PolyMesh {
  const edge: Record<string, Layer> = { ...mesh.layers.edge };
  for (const m of marks) {
    const layer = written(mesh, m, edges, value);
    if (layer) edge[m] = layer;
    else delete edge[m];
  }
  return { ...mesh, layers: { ...mesh.layers, edge } };
}

/** The layer with the value on some edges; null when nothing is marked any more. */
function written(mesh: PolyMesh, m: MarkName, edges: ReadonlyArray<number>, value: number): Layer | null {
  const { edgeCount } = topologyOf(mesh);
  const whole = isWhole(m);
  const data: LayerArray = whole ? new Uint8Array(edgeCount) : new Float32Array(edgeCount);
  const before = mesh.layers.edge[m]?.data;
  if (before) data.set(before);
  for (const e of edges) data[e] = whole ? Number(value > 0) : value;
  return data.some((x) => x !== 0) ? { size: 1, data } : null;
}

/** Open edges have no angle. */
function isSharper(mesh: PolyMesh, e: number, degrees: number): boolean {
  const t = topologyOf(mesh);
  const c = t.cornerOfEdge[e];
  if (t.twin[c] < 0) return false;
  const cos = dot(faceNormal(mesh, t.faceOfCorner[c]), faceNormal(mesh, t.faceOfCorner[t.twin[c]]));
  return cos < Math.cos((degrees * Math.PI) / 180) - 1e-9;
}

/** Marks on edges: hard, crease, seam, share of a bevel's width; set, or cleared with 0. */
import type { Static } from 'typebox';
import type { Layer, LayerArray } from '../mesh/layers';
import { topologyOf } from '../mesh/Topology';
import { choice, params, share } from './fields';
import { counted, type Operation } from './operation';

const schema = params({
  layer: choice('Mark', ['hard', 'crease', 'seam', 'round'], 'hard'),
  value: share('Strength', 1, 0, 10),
});
type Params = Required<Static<typeof schema>> & {
  layer: 'hard' | 'crease' | 'seam' | 'round';
  value: number;
};

export const mark: Operation<Params> = {
  kind: 'mark',
  title: 'Mark edges',
  on: ['edge'],
  params: schema,
  run(mesh, selection, p) {
    const { edgeCount } = topologyOf(mesh);
    const whole = p.layer === 'hard' || p.layer === 'seam';
    const before = mesh.layers.edge[p.layer]?.data;
    const data: LayerArray = whole ? new Uint8Array(edgeCount) : new Float32Array(edgeCount);
    if (before) data.set(before);
    for (const e of selection.indices) data[e] = whole ? Number(p.value > 0) : p.value;
    const { [p.layer]: _, ...others } = mesh.layers.edge;
    const edge: Record<string, Layer> = others;
    if (data.some((x) => x !== 0)) edge[p.layer] = { size: 1, data };
    return {
      mesh: { ...mesh, layers: { ...mesh.layers, edge } },
      selection,
      report: `${p.value > 0 ? 'Marked' : 'Cleared'} ${counted(selection.indices.length, 'edge')}${p.value > 0 ? ` ${p.layer}` : ''}.`,
    };
  },
};

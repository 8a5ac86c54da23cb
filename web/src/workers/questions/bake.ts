/** The edited base as bytes to store, with the built meshes of other pieces brought into its frame. */
import type { Evaluator } from '@urnsmith/core/build/evaluate';
import type { Kept, Piece } from '@urnsmith/core/document/schema';
import { encodeMesh } from '@urnsmith/core/formats/meshBlob';
import { transformMesh, type Matrix } from '@urnsmith/core/mesh/transform';
import { joinMeshes } from '@urnsmith/core/ops/join';
import { listed } from '@urnsmith/core/select/rules';
import { defineQuestion } from './define';

interface Bake {
  with?: Array<{ id: string; place: Matrix }>;
}
/** @property selections its kept selections as they are now, for a piece that goes on from these bytes */
export interface Baked {
  bytes: Uint8Array;
  selections?: Piece['selections'];
}

export const bake = defineQuestion(
  'bake',
  ({ with: others = [] }: Bake, { id, mesh, evaluator }): Baked => {
    const brought = others.map((o) => transformMesh(evaluator.build(o.id).mesh, o.place));
    return { bytes: encodeMesh(joinMeshes([mesh, ...brought])), selections: keptNow(evaluator, id) };
  },
  { aboutBase: true },
);

/** The kept selections of a piece in the elements it has now. */
function keptNow(evaluator: Evaluator, id: string): Piece['selections'] {
  const { selections } = evaluator.piece(id);
  if (!selections) return undefined;
  return Object.fromEntries(
    Object.entries(selections).map(([name, kept]) => [
      name,
      'picks' in kept ? kept : (listed(evaluator.recall(id, kept).selection) as Kept),
    ]),
  );
}

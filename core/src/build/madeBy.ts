/** Edges that a step made, marked for the steps after it that ask for them. */
import { makerOf } from '../births/births';
import type { Makers } from '../births/Makers';
import { faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';
import { madeName } from '../select/madeName';
import { withKept } from '../select/kept';
import { filtered } from '../select/selection';
import type { Piece } from '../document/schema';
import { STEPS } from '../steps';

/** Whether a later step of the piece works on what a step made. @param name of the step among those of its piece */
export const isAskedFor = (piece: Piece, name: string): boolean =>
  (piece.steps ?? []).some((s) =>
    (STEPS[s.kind].scopes?.(s as never) ?? []).some((scope) => scope.rule === 'made' && scope.step === name),
  );

/** The mesh with the edges marked that part faces a step made from others. @param by the step as makers name it */
export function withMadeEdges(mesh: PolyMesh, name: string, by: string, makers: Makers): PolyMesh {
  const own = new Map<number, boolean>();
  const isOwn = (f: number): boolean => {
    const maker = makerOf(mesh, f);
    let known = own.get(maker);
    if (known === undefined) {
      const [last = ''] = makers.story(maker);
      own.set(maker, (known = last === by || last.startsWith(`${by}#`)));
    }
    return known;
  };
  const made = Uint8Array.from({ length: faceCount(mesh) }, (_, f) => Number(isOwn(f)));
  const t = topologyOf(mesh);
  const edges = filtered('edge', t.edgeCount, (e) => {
    const c = t.cornerOfEdge[e];
    return t.twin[c] >= 0 && made[t.faceOfCorner[c]] !== made[t.faceOfCorner[t.twin[c]]];
  });
  return withKept(mesh, new Map([[madeName(name), edges]]));
}

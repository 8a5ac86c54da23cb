/** What a bevel is refused with, and the edges at fault. */
import type { PolyMesh } from '../../mesh/PolyMesh';
import { type Topology } from '../../mesh/Topology';
import { OperationError } from '../../mesh/errors';
import { edgeLines } from '../../inspect/edgeLines';
import { edgesOf } from './layOut';

export function tooBent(mesh: PolyMesh, rounded: Uint8Array): OperationError {
  const edges = [...edgesOf(rounded)];
  return new OperationError(
    'bevel-bent',
    'The edges cannot be rounded: faces beside them are so bent or thin that they have no direction.',
    { domain: 'edge', indices: edges },
    'Flatten or divide those faces first.',
    undefined,
    edgeLines(mesh, edges),
  );
}

export function besideFoldedFaces(mesh: PolyMesh, edges: number[]): OperationError {
  return new OperationError(
    'bevel-folded',
    'The edges cannot be rounded: faces around them do not agree on which side is out.',
    { domain: 'edge', indices: edges },
    'Turn the faces that look the wrong way over first (Face outward does it for all).',
    undefined,
    edgeLines(mesh, edges),
  );
}

/** The outlines of a region touch or cross, so it cannot be divided; with the groups around and their widths. */
export class TouchingOutlines extends Error {
  constructor(readonly groups: Map<number, number>) {
    super('outlines touch');
  }
}

export function tooWide(
  mesh: PolyMesh,
  t: Topology,
  rounded: Uint8Array,
  groupOfVertex: Int32Array,
  reached: Float64Array,
  width: number,
): OperationError {
  const bad: number[] = [];
  for (let e = 0; e < t.edgeCount; e++)
    if (rounded[e] && reached[groupOfVertex[t.edges[2 * e]]] < width) bad.push(e);
  const most = Math.min(...reached);
  return new OperationError(
    'bevel-too-wide',
    `A width of ${format(width)} mm does not fit: strips would collide at ${format(most)} mm.`,
    { domain: 'edge', indices: bad },
    `Use at most ${format(most)} mm, or turn clamping on.`,
    undefined,
    edgeLines(mesh, bad),
  );
}

const format = (x: number): string => String(Number(x.toPrecision(4)));

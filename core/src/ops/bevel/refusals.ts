/** Refusals of a bevel, with the edges at fault. */
import type { PolyMesh } from '../../mesh/PolyMesh';
import { OperationError } from '../../mesh/errors';
import { edgeLines } from '../../inspect/edgeLines';
import { leastWidth, stoppedOf } from './groups';
import type { BevelGroup } from './groups';
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

export function tooWide(mesh: PolyMesh, groups: ReadonlyArray<BevelGroup>, width: number): OperationError {
  const stopped = stoppedOf(groups, width);
  const bad = stopped.flatMap((g) => g.edges);
  const most = leastWidth(stopped, width);
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

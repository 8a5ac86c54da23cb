/** Selecting commands: from what is picked to what is picked next. One table for keys, buttons and tests. */
import type { PolyMesh } from '../mesh/PolyMesh';
import { faceNormal } from '../mesh/measure';
import { OperationError } from '../mesh/errors';
import { topologyOf } from '../mesh/Topology';
import { enclose, everything, grow, invert, repeatAlong, shrink, type CarryOn } from './grow';
import { resolveSelect, type Select } from './rules';
import { convertSelection, selectionOf, type Selection } from './selection';
import { alike, type Trait } from './traits';
import {
  borderEdges,
  edgeLoop,
  edgeRing,
  faceStrip,
  flatFaces,
  shellFaces,
  shortestFaceWay,
  shortestWay,
} from './walks';

export interface PickOptions extends CarryOn {
  trait?: Trait;
  tolerance?: number;
  angle?: number;
  select?: Select;
}

type Pick = (mesh: PolyMesh, s: Selection, o: PickOptions) => Selection;

/** Runs something on edges and brings the result back to the kind that was picked. */
const viaEdges =
  (run: (mesh: PolyMesh, edges: Selection) => number[]): Pick =>
  (mesh, s) => {
    const edges = convertSelection(mesh, s, 'edge');
    return convertSelection(mesh, selectionOf('edge', run(mesh, edges)), s.kind);
  };

export const PICKS = {
  all: (mesh, s) => everything(mesh, s.kind),
  none: (_, s) => ({ kind: s.kind, indices: [] }),
  invert,
  grow,
  shrink,
  loop: (mesh, s) =>
    s.kind === 'face'
      ? selectionOf('face', convertSelection(mesh, s, 'edge').indices.length ? facesAlong(mesh, s) : [])
      : viaEdges((m, e) => e.indices.flatMap((i) => edgeLoop(m, i).edges))(mesh, s, {}),
  ring: (mesh, s) =>
    s.kind === 'face'
      ? selectionOf('face', facesAlong(mesh, s))
      : viaEdges((m, e) => e.indices.flatMap((i) => edgeRing(m, i).edges))(mesh, s, {}),
  border: (mesh, s) => {
    const faces = convertSelection(mesh, s, 'face', s.kind !== 'edge');
    return selectionOf('edge', borderEdges(mesh, faces.indices));
  },
  shell: (mesh, s) => {
    const faces = convertSelection(mesh, s, 'face', false);
    return convertSelection(mesh, selectionOf('face', shellFaces(mesh, faces.indices)), s.kind);
  },
  flat: (mesh, s, o) => {
    const faces = convertSelection(mesh, s, 'face', false);
    return selectionOf(
      'face',
      flatFaces(mesh, faces.indices, o.angle ?? 5, (f) => faceNormal(mesh, f)),
    );
  },
  way,
  enclose,
  alike: (mesh, s, o) =>
    alike(
      mesh,
      s,
      o.trait ?? ({ face: 'area', edge: 'length', vertex: 'valence' } as const)[s.kind],
      o.tolerance ?? 0.01,
    ),
  repeat: (mesh, s, o) => repeatAlong(mesh, s, o),
  rule: (mesh, s, o) => (o.select ? resolveSelect(mesh, o.select, { last: s }) : s),
} satisfies Record<string, Pick>;

export type PickName = keyof typeof PICKS;

/** @throws OperationError when the command has nothing to start from */
export function pickMore(mesh: PolyMesh, name: PickName, s: Selection, options: PickOptions = {}): Selection {
  const startsAnywhere = name === 'all' || name === 'none' || name === 'invert' || name === 'rule';
  if (!s.indices.length && !startsAnywhere)
    throw new OperationError(
      'nothing-picked',
      'Nothing is picked to start from.',
      undefined,
      'Click an element first.',
    );
  return (PICKS[name] as Pick)(mesh, s, options);
}

/** Strips through picked faces: along the direction two neighbours give, else both ways. */
function facesAlong(mesh: PolyMesh, s: Selection): number[] {
  const t = topologyOf(mesh);
  const picked = new Set(s.indices);
  const shared: number[] = [];
  for (let e = 0; e < t.edgeCount; e++) {
    const c = t.cornerOfEdge[e];
    if (t.twin[c] >= 0 && picked.has(t.faceOfCorner[c]) && picked.has(t.faceOfCorner[t.twin[c]]))
      shared.push(e);
  }
  const edges = shared.length ? shared : convertSelection(mesh, s, 'edge').indices;
  return [...picked, ...edges.flatMap((e) => faceStrip(mesh, e))];
}

/** The shortest way that joins all picked elements, one after the other in their order of index. */
function way(mesh: PolyMesh, s: Selection): Selection {
  const out = new Set(s.indices);
  const t = topologyOf(mesh);
  for (let k = 0; k + 1 < s.indices.length; k++) {
    const [a, b] = [s.indices[k], s.indices[k + 1]];
    if (s.kind === 'face') for (const f of found(shortestFaceWay(mesh, a, b))) out.add(f);
    else if (s.kind === 'vertex') for (const v of found(shortestWay(mesh, a, b))) out.add(v);
    else {
      const ways = [0, 1].flatMap((i) =>
        [0, 1].map((j) => found(shortestWay(mesh, t.edges[2 * a + i], t.edges[2 * b + j]))),
      );
      const points = ways.reduce((x, y) => (y.length < x.length ? y : x));
      for (const e of edgesBetween(mesh, points)) out.add(e);
    }
  }
  return selectionOf(s.kind, out);
}

function found(way_: number[] | null): number[] {
  if (way_) return way_;
  throw new OperationError(
    'no-way',
    'The picked elements are not joined, so there is no path between them.',
    undefined,
    'Pick elements of one shell.',
  );
}

function edgesBetween(mesh: PolyMesh, points: number[]): number[] {
  const t = topologyOf(mesh);
  const pairs = new Set(points.slice(1).map((v, k) => `${Math.min(v, points[k])},${Math.max(v, points[k])}`));
  const out: number[] = [];
  for (let e = 0; e < t.edgeCount; e++) {
    const [a, b] = [t.edges[2 * e], t.edges[2 * e + 1]];
    if (pairs.has(`${Math.min(a, b)},${Math.max(a, b)}`)) out.push(e);
  }
  return out;
}

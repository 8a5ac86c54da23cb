/** Putting points together: weld by distance, weld at the middle or at the last picked, collapse edges and faces. */
import { MeshDraft } from '../mesh/MeshDraft';
import { evenly } from '../mesh/layers';
import { faceCount, vertexCount, type PolyMesh } from '../mesh/PolyMesh';
import { keepManifold } from '../mesh/makeManifold';
import { topologyOf } from '../mesh/Topology';
import { OperationError } from '../mesh/errors';
import { pointOf, type Vec3 } from '../mesh/vec3';
import { islandsOf, pointsOf, selectionOf, type Selection } from '../select/selection';
import { PointGrid } from '../spatial/PointGrid';
import { choice, length, params } from './fields';
import { counted, defineOperation } from './operation';
import { onSheet } from './tool';

const weldSchema = params({
  to: choice('Weld', ['near', 'middle', 'last'], 'near'),
  distance: length('Nearer than', 0.01, 0, 1e6),
});

export const weld = defineOperation({
  kind: 'weld',
  title: 'Weld',
  on: ['vertex'],
  params: weldSchema,
  example: onSheet({ op: 'weld', select: { points: [0, 1] }, to: 'middle' }),
  tools: [
    {
      title: 'Weld near points',
      short: 'Weld near',
      words: 'merge vertices distance',
      start: (hand) => ({ to: 'near', distance: slightlyMore(hand.gap()) }),
    },
    {
      id: 'weldMiddle',
      title: 'Weld at the middle',
      short: 'Weld middle',
      words: 'merge vertices center',
      start: () => ({ to: 'middle' }),
      ring: { point: 1 },
      next: { point: 0 },
    },
  ],
  shows: { distance: (p) => p.to === 'near' },
  refuses: ['nothing-near', 'nothing-left'],
  says: ({ points, into }) => `Welded ${counted(points, 'point')} into ${into}.`,
  run(mesh, selection, p) {
    const points = [...selection.indices];
    const groups = p.to === 'near' ? nearGroups(mesh, points, p.distance) : [points];
    const merged = groups.filter((g) => g.length > 1);
    if (!merged.length)
      throw new OperationError(
        'nothing-near',
        `No two of the ${counted(points.length, 'picked point')} are nearer to each other than ${p.distance} mm.`,
        { domain: 'vertex', indices: points },
        'Raise the distance, or pick other points.',
      );
    const result = mergePoints(
      mesh,
      merged,
      p.to === 'last' ? (g) => pointOf(mesh.positions, g[g.length - 1]) : undefined,
    );
    const gone = merged.reduce((n, g) => n + g.length, 0);
    return {
      mesh: result.mesh,
      selection: result.made,
      counts: { points: gone, into: merged.length },
    };
  },
});

/** A distance within which points lie that are so far apart, mm, to three digits. */
function slightlyMore(gap: number | null): number {
  return gap ? Number((1.02 * gap).toPrecision(3)) : 0.01;
}

export const collapse = defineOperation({
  kind: 'collapse',
  title: 'Collapse',
  on: ['edge', 'face'],
  params: params({}),
  example: onSheet({ op: 'collapse', select: { faces: [5] } }),
  tools: [{ at: ['face', 'edge'], words: 'merge' }],
  refuses: ['nothing-left'],
  says: ({ islands }) => `Collapsed ${counted(islands, 'island')} to points.`,
  run(mesh, selection) {
    const groups = islandsOf(mesh, selection).map((list) =>
      pointsOf(mesh, { kind: selection.kind, indices: list }),
    );
    const { mesh: out, made } = mergePoints(mesh, joined(groups));
    return {
      mesh: out,
      selection: made,
      counts: { islands: groups.length },
    };
  },
});

/** Groups that share a point are one. */
function joined(groups: number[][]): number[][] {
  const owner = new Map<number, number[]>();
  const out: number[][] = [];
  for (const g of groups) {
    let into: number[] | undefined;
    for (const v of g) into ??= owner.get(v);
    if (!into) out.push((into = []));
    for (const v of g) {
      if (!into.includes(v)) into.push(v);
      owner.set(v, into);
    }
  }
  return out;
}

/** Points nearer to each other than a distance, chained, by a grid of that size. */
export function nearGroups(mesh: PolyMesh, points: ReadonlyArray<number>, reach: number): number[][] {
  const grid = new PointGrid(mesh.positions, reach);
  const parent = new Map<number, number>(points.map((v) => [v, v]));
  const find = (v: number): number => {
    while (parent.get(v) !== v) v = parent.get(v)!;
    return v;
  };
  for (const v of points) {
    for (const w of grid.near(pointOf(mesh.positions, v))) {
      const [a, b] = [find(v), find(w)];
      if (a !== b) parent.set(Math.max(a, b), Math.min(a, b));
    }
    grid.add(v);
  }
  const groups = new Map<number, number[]>();
  for (const v of points) {
    const root = find(v);
    const list = groups.get(root);
    if (list) list.push(v);
    else groups.set(root, [v]);
  }
  return [...groups.values()];
}

interface Merged {
  mesh: PolyMesh;
  /** The points the groups became. */
  made: Selection;
  /** The new number of an old point; −1 when it is gone. */
  now(v: number): number;
}

/**
 * Makes one point of each group, at the middle unless told otherwise. Faces lose corners that fall together, vanish
 * below three, and are divided where they come to touch themselves; two faces left back to back vanish.
 */
export function mergePoints(
  mesh: PolyMesh,
  groups: number[][],
  place: (group: number[]) => Vec3 = (g) => middle(mesh, g),
): Merged {
  const draft = new MeshDraft(mesh);
  const target = new Int32Array(vertexCount(mesh)).fill(-1);
  const made: number[] = [];
  for (const g of groups) {
    const p = draft.addPoint(place(g), evenly(g));
    made.push(p);
    for (const v of g) target[v] = p;
  }
  const t = topologyOf(mesh);
  joinEdges(draft, target);
  const changed: Loop[] = [];
  for (let f = 0; f < faceCount(mesh); f++) {
    const corners: number[] = [];
    let touched = false;
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++) {
      touched ||= target[mesh.corners[c]] >= 0;
      corners.push(c);
    }
    if (!touched) continue;
    draft.dropFace(f);
    const at = (c: number): number =>
      target[mesh.corners[c]] >= 0 ? target[mesh.corners[c]] : mesh.corners[c];
    const kept = corners.filter((c, k) => at(c) !== at(corners[(k + 1) % corners.length]));
    for (const loop of withoutTouching(kept, at))
      changed.push({ face: f, corners: loop, points: loop.map(at) });
  }
  for (const { face, corners, points } of withoutBackToBack(changed))
    draft.addFace({ loop: points, face, corners, edges: corners.map((c) => t.edgeOfCorner[c]) });
  const out = draft.finish();
  if (!faceCount(out.mesh))
    throw new OperationError(
      'nothing-left',
      'That would leave no face of the piece.',
      undefined,
      'Pick fewer elements.',
    );
  return {
    // Where merging made parts touch in a point or an edge, each keeps its own.
    mesh: keepManifold(out.mesh, mesh),
    made: selectionOf(
      'vertex',
      made.map((p) => out.point(p)).filter((v) => v >= 0),
    ),
    now: (v) => (target[v] >= 0 ? out.point(target[v]) : out.vertexOf[v]),
  };
}

/** Edges that come to run between the same two points are one. @param target per point the one it becomes, or −1 */
function joinEdges(draft: MeshDraft, target: Int32Array): void {
  const { edges, edgeCount } = topologyOf(draft.mesh);
  const first = new Map<string, number>();
  const now = (v: number): number => (target[v] >= 0 ? target[v] : v);
  for (let e = 0; e < edgeCount; e++) {
    if (target[edges[2 * e]] < 0 && target[edges[2 * e + 1]] < 0) continue;
    const [a, b] = [now(edges[2 * e]), now(edges[2 * e + 1])];
    const key = a < b ? `${a} ${b}` : `${b} ${a}`;
    const other = first.get(key);
    if (other === undefined) first.set(key, e);
    else if (a !== b) draft.joinEdges(other, e);
  }
}

interface Loop {
  face: number;
  corners: number[];
  points: number[];
}

/** An outline that visits a point twice falls into the loops between the visits. */
export function withoutTouching(corners: number[], at: (c: number) => number): number[][] {
  const out: number[][] = [];
  const open: number[] = [];
  for (const c of corners) {
    const seen = open.findIndex((d) => at(d) === at(c));
    if (seen >= 0) {
      const loop = open.splice(seen);
      if (loop.length >= 3) out.push(loop);
    }
    open.push(c);
  }
  if (open.length >= 3) out.push(open);
  return out;
}

function withoutBackToBack(loops: Loop[]): Loop[] {
  const bySet = new Map<string, number[]>();
  loops.forEach((l, i) => {
    const key = [...l.points].sort((a, b) => a - b).join();
    const list = bySet.get(key);
    if (list) list.push(i);
    else bySet.set(key, [i]);
  });
  const gone = new Set<number>();
  for (const list of bySet.values())
    for (let i = 0; i < list.length; i++)
      for (let j = i + 1; j < list.length; j++)
        if (
          !gone.has(list[i]) &&
          !gone.has(list[j]) &&
          reversed(loops[list[i]].points, loops[list[j]].points)
        )
          gone.add(list[i]).add(list[j]);
  return loops.filter((_, i) => !gone.has(i));
}

function reversed(a: number[], b: number[]): boolean {
  const at = b.indexOf(a[0]);
  return a.every((p, k) => b[(at - k + 2 * b.length) % b.length] === p);
}

function middle(mesh: PolyMesh, points: number[]): Vec3 {
  const out: Vec3 = [0, 0, 0];
  for (const v of points) for (let k = 0; k < 3; k++) out[k] += mesh.positions[3 * v + k] / points.length;
  return out;
}

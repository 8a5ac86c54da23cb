/**
 * Dissolve: picked edges, points or the edges between picked faces go, and the faces beside them become one. The
 * shape stays closed; points left in the middle of a straight run between two edges go too.
 */
import { MeshDraft } from '../mesh/MeshDraft';
import { isMade } from '../mesh/lineage';
import { faceCorners, faceCount, type PolyMesh } from '../mesh/PolyMesh';
import { keepManifold } from '../mesh/makeManifold';
import { nextCorner, prevCorner, topologyOf } from '../mesh/Topology';
import { OperationError, warn } from '../mesh/errors';
import { maskOf, NOTHING, selectionOf, WORD_OF, type Selection } from '../select/selection';
import { flag, params } from './fields';
import { counted, defineOperation } from './operation';
import { onSheet } from './tool';

const schema = params({ points: flag('Take left-over points away', true) });

export const dissolve = defineOperation({
  kind: 'dissolve',
  title: 'Dissolve',
  on: ['edge', 'vertex', 'face'],
  params: schema,
  example: onSheet({
    op: 'dissolve',
    select: { rule: 'within', of: 'edges', min: [-1, -1, -20], max: [1, 1, 20] },
  }),
  tools: [
    { title: 'Dissolve, joining the faces around', keyOnly: true },
    { id: 'remove', at: ['edge', 'vertex'], ring: { edge: 5, point: 5 } },
    { id: 'removeOther', at: ['face'], keyOnly: true },
  ],
  refuses: ['cannot-dissolve'],
  says: ({ faces, edges, points }) =>
    `Dissolved ${faces ? counted(faces, 'face') : edges ? counted(edges, 'edge') : counted(points, 'point')}.`,
  run(mesh, selection, p) {
    const t = topologyOf(mesh);
    const gone = edgesToGo(mesh, selection);
    const drop = new Set<number>();
    const merged = mergeAcross(mesh, gone);
    const candidates = selection.kind === 'vertex' ? selection.indices : p.points ? endsOf(mesh, gone) : [];
    for (const v of leftOver(mesh, candidates, gone, merged.refused)) drop.add(v);
    keepOutlines(mesh, drop, merged.groups);
    const draft = new MeshDraft(mesh);
    const inMerged = new Set(merged.groups.flatMap((g) => g.faces));
    let made = 0;
    const add = (corners: number[], [face, ...also]: ReadonlyArray<number>): boolean => {
      const kept = corners.filter((c) => !drop.has(mesh.corners[c]));
      if (kept.length < 3) return false;
      draft.addFace({
        loop: kept.map((c) => mesh.corners[c]),
        face,
        also,
        corners: kept,
        edges: kept.map((c) => t.edgeOfCorner[c]),
        inPlace: true,
      });
      return true;
    };
    for (const g of merged.groups) {
      for (const f of g.faces) draft.dropFace(f);
      if (add(g.outline, keptFirst(mesh, g.faces))) made++;
    }
    if (drop.size)
      for (let f = 0; f < faceCount(mesh); f++) {
        if (inMerged.has(f)) continue;
        const corners = faceCorners(mesh, f);
        if (!corners.some((c) => drop.has(mesh.corners[c]))) continue;
        draft.dropFace(f);
        add(corners, [f]);
      }
    if (!merged.groups.length && !drop.size)
      throw new OperationError(
        'cannot-dissolve',
        'Nothing could be dissolved: the faces beside the picked elements would not become one simple face.',
        { domain: selection.kind, indices: [...selection.indices] },
        'Pick fewer of them, or delete faces instead.',
      );
    const out = draft.finish();
    return {
      // Without its left-over points a run may fall onto another between the same two ends.
      mesh: keepManifold(out.mesh, mesh),
      selection:
        selection.kind === 'face'
          ? selectionOf(
              'face',
              Array.from({ length: made }, (_, i) => out.firstNewFace + i),
            )
          : NOTHING,
      counts: { [WORD_OF[selection.kind]]: selection.indices.length },
      warnings: merged.refused.size
        ? [
            warn(
              'stayed',
              `${counted(merged.refused.size, 'edge')} stayed: without them a face would have a hole or touch itself.`,
              'edge',
              merged.refused,
            ),
          ]
        : undefined,
    };
  },
});

/** A point stays if, without it, a face would have fewer than three corners. */
function keepOutlines(mesh: PolyMesh, drop: Set<number>, groups: Merged[]): void {
  const inGroup = new Set(groups.flatMap((g) => g.faces));
  const outlines = groups.map((g) => g.outline.map((c) => mesh.corners[c]));
  for (let f = 0; f < faceCount(mesh); f++)
    if (!inGroup.has(f))
      outlines.push(Array.from(mesh.corners.subarray(mesh.faceStart[f], mesh.faceStart[f + 1])));
  for (let changed = true; changed;) {
    changed = false;
    for (const loop of outlines) {
      if (loop.filter((v) => !drop.has(v)).length >= 3) continue;
      for (const v of loop) changed = drop.delete(v) || changed;
    }
  }
}

function edgesToGo(mesh: PolyMesh, s: Selection): Set<number> {
  const t = topologyOf(mesh);
  const on = maskOf(mesh, s);
  const out = new Set<number>();
  for (let e = 0; e < t.edgeCount; e++) {
    const c = t.cornerOfEdge[e];
    if (t.twin[c] < 0) continue;
    const picked =
      s.kind === 'edge'
        ? on[e]
        : s.kind === 'vertex'
          ? on[t.edges[2 * e]] || on[t.edges[2 * e + 1]]
          : on[t.faceOfCorner[c]] && on[t.faceOfCorner[t.twin[c]]];
    if (picked) out.add(e);
  }
  return out;
}

/** Faces that were there before those an operation under way has made. */
function keptFirst(mesh: PolyMesh, faces: number[]): number[] {
  const made = new Set(faces.filter((f) => isMade(mesh, f)));
  return made.size ? [...faces.filter((f) => !made.has(f)), ...made] : faces;
}

interface Merged {
  faces: number[];
  /** Corners of the outline, in order. */
  outline: number[];
}

/** Groups of faces joined across these edges, where each group is one simple polygon. */
function mergeAcross(mesh: PolyMesh, gone: ReadonlySet<number>): { groups: Merged[]; refused: Set<number> } {
  const t = topologyOf(mesh);
  const neighbours = new Map<number, number[]>();
  for (const e of gone) {
    const c = t.cornerOfEdge[e];
    const [f, g] = [t.faceOfCorner[c], t.faceOfCorner[t.twin[c]]];
    for (const [a, b] of [
      [f, g],
      [g, f],
    ]) {
      const list = neighbours.get(a);
      if (list) list.push(b);
      else neighbours.set(a, [b]);
    }
  }
  const seen = new Set<number>();
  const groups: Merged[] = [];
  const refused = new Set<number>();
  for (const first of neighbours.keys()) {
    if (seen.has(first)) continue;
    const faces = [first];
    seen.add(first);
    for (let i = 0; i < faces.length; i++)
      for (const g of neighbours.get(faces[i])!)
        if (!seen.has(g)) {
          seen.add(g);
          faces.push(g);
        }
    const outline = traceOutline(mesh, faces, gone);
    if (outline && !coversOneFace(mesh, outline)) groups.push({ faces, outline });
    else
      for (const f of faces)
        for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
          if (gone.has(t.edgeOfCorner[c])) refused.add(t.edgeOfCorner[c]);
  }
  return { groups, refused };
}

/** The one outline around faces joined across edges; null when there are several or it visits a point twice. */
function traceOutline(mesh: PolyMesh, faces: number[], gone: ReadonlySet<number>): number[] | null {
  const t = topologyOf(mesh);
  let start = -1;
  let sides = 0;
  for (const f of faces)
    for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
      if (!gone.has(t.edgeOfCorner[c])) {
        sides++;
        if (start < 0) start = c;
      }
  if (sides < 3) return null;
  const outline: number[] = [];
  const points = new Set<number>();
  for (let c = start; ;) {
    outline.push(c);
    if (points.has(mesh.corners[c])) return null;
    points.add(mesh.corners[c]);
    let next = nextCorner(mesh, t, c);
    while (gone.has(t.edgeOfCorner[next])) next = nextCorner(mesh, t, t.twin[next]);
    if (next === start) break;
    c = next;
    if (outline.length > sides) return null;
  }
  return outline.length === sides ? outline : null;
}

/** The merged face would lie back to back on a single other face, enclosing nothing. */
function coversOneFace(mesh: PolyMesh, outline: number[]): boolean {
  const t = topologyOf(mesh);
  const beyond = new Set(outline.map((c) => (t.twin[c] < 0 ? -1 : t.faceOfCorner[t.twin[c]])));
  if (beyond.size !== 1 || beyond.has(-1)) return false;
  const [f] = beyond;
  return mesh.faceStart[f + 1] - mesh.faceStart[f] === outline.length;
}

const endsOf = (mesh: PolyMesh, edges: Iterable<number>): number[] => {
  const t = topologyOf(mesh);
  return [...new Set([...edges].flatMap((e) => [t.edges[2 * e], t.edges[2 * e + 1]]))];
};

/** The points at which just two edges stay. */
function leftOver(
  mesh: PolyMesh,
  points: ReadonlyArray<number>,
  gone: ReadonlySet<number>,
  refused: ReadonlySet<number>,
): number[] {
  const t = topologyOf(mesh);
  return points.filter((v) => {
    const staying = new Set<number>();
    for (let i = t.vertexStart[v]; i < t.vertexStart[v + 1]; i++) {
      const c = t.vertexCorners[i];
      for (const e of [t.edgeOfCorner[c], t.edgeOfCorner[prevCorner(mesh, t, c)]])
        if (!gone.has(e) || refused.has(e)) staying.add(e);
    }
    return staying.size === 2;
  });
}

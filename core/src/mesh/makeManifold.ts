/**
 * Keeps a manifold mesh manifold through operations that make parts of it touch: each part gets points of its own.
 * Where two edges have come to run between the same two points, which a mesh of indices cannot tell apart, all but
 * one get a point in their middle.
 */
import { copyLayers } from './layers';
import { between, MeshDraft } from './MeshDraft';
import { faceCorners, faceCount, makeMesh, type PolyMesh } from './PolyMesh';
import { isManifold, pairCrowdedEdges, separateFans } from './separateFans';
import { nextCorner, topologyOf } from './Topology';
import { lerp, pointOf } from './vec3';

/**
 * @param before the mesh the operation was given: one that was not manifold is left to its owner
 * @returns a mesh with the same faces in the same order, unless edges had to be divided: those faces come last
 */
export function keepManifold(mesh: PolyMesh, before: PolyMesh): PolyMesh {
  if (isManifold(mesh) || !isManifold(before)) return mesh;
  const apart = separated(mesh);
  return divideDoubled(apart)?.mesh ?? apart;
}

function separated(mesh: PolyMesh): PolyMesh {
  const apart = separateFans(mesh);
  if (!apart) return mesh;
  const bare = makeMesh(gatherPoints(mesh.positions, apart.source), mesh.faceStart, apart.corners);
  const [was, is] = [topologyOf(mesh), topologyOf(bare)];
  const edgeSource = Int32Array.from(is.cornerOfEdge, (c: number) => was.edgeOfCorner[c]);
  return {
    ...bare,
    layers: {
      ...mesh.layers,
      vertex: copyLayers(mesh.layers.vertex, apart.source),
      edge: copyLayers(mesh.layers.edge, edgeSource),
    },
  };
}

function gatherPoints(positions: Float64Array, source: Uint32Array): Float64Array {
  const out = new Float64Array(3 * source.length);
  source.forEach((v, i) => out.set(positions.subarray(3 * v, 3 * v + 3), 3 * i));
  return out;
}

/**
 * When several edges run between the same two points, all but one get a point in their middle.
 * @returns null when there are none; else the mesh, and per face the one it was
 */
export function divideDoubled(mesh: PolyMesh): { mesh: PolyMesh; sourceFace: Int32Array } | null {
  const t = topologyOf(mesh);
  const crowded = new Map<number, number[]>();
  for (let c = 0; c < mesh.corners.length; c++) {
    const e = t.edgeOfCorner[c];
    if (t.edgeUse[e] > 2) crowded.set(e, [...(crowded.get(e) ?? []), c]);
  }
  if (!crowded.size) return null;
  const mate = Int32Array.from(t.twin);
  pairCrowdedEdges(mesh, t, mate);
  const draft = new MeshDraft(mesh);
  const pointOn = new Map<number, number>();
  for (const [e, list] of crowded) {
    const [a, b] = [t.edges[2 * e], t.edges[2 * e + 1]];
    let first = true;
    for (const c of list) {
      if (pointOn.has(c)) continue;
      const other = mate[c];
      if (first && other >= 0) {
        first = false;
        pointOn.set(c, -1).set(other, -1);
        continue;
      }
      const p = draft.addPoint(
        lerp(pointOf(mesh.positions, a), pointOf(mesh.positions, b), 0.5),
        between(a, b, 0.5),
      );
      pointOn.set(c, p);
      if (other >= 0) pointOn.set(other, p);
    }
  }
  for (let f = 0; f < faceCount(mesh); f++) {
    const corners = faceCorners(mesh, f);
    if (!corners.some((c) => (pointOn.get(c) ?? -1) >= 0)) continue;
    draft.dropFace(f);
    const with_ = corners.flatMap((c) => {
      const own = {
        point: mesh.corners[c],
        source: c as number | ReturnType<typeof between>,
        edge: t.edgeOfCorner[c],
      };
      const p = pointOn.get(c) ?? -1;
      return p < 0
        ? [own]
        : [own, { point: p, source: between(c, nextCorner(mesh, t, c), 0.5), edge: own.edge }];
    });
    draft.addFace({
      loop: with_.map((x) => x.point),
      face: f,
      corners: with_.map((x) => x.source),
      edges: with_.map((x) => x.edge),
      inPlace: true,
    });
  }
  return draft.finish();
}

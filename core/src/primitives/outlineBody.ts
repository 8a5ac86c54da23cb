/** A straight body over closed outlines with holes. */
import { constrainedTriangles } from '../planar/constrainedTriangles';
import type { CurvedContour } from '../planar/contours';
import { divideRegion } from '../planar/divideRegion';
import { keepManifold } from '../mesh/makeManifold';
import { EMPTY_MESH, type PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';
import { LoopBuilder, type Point } from './LoopBuilder';

/** @param contours that do not cross, outer ones counter-clockwise, holes clockwise */
export function bodyOver(contours: CurvedContour[], height: number): PolyMesh {
  const b = new LoopBuilder();
  const { flat, place } = placesOf(contours);
  const xy = Float64Array.from(flat.flat());
  const [low, high] = [-height / 2, height / 2];
  const at = (y: number): number[] => flat.map(([x, up]) => b.point([x, y, -up]));
  const [bottom, top] = [at(low), at(high)];
  const sides: Array<[number, number]> = [];
  let from = 0;
  for (const { points: c, tangents } of contours) {
    let run = 0;
    for (let k = 0; k < c.length; k++) {
      const [i, j] = [place[from + k], place[from + ((k + 1) % c.length)]];
      sides.push([i, j]);
      const far = run + Math.hypot(flat[j][0] - flat[i][0], flat[j][1] - flat[i][1]);
      // The inside lies to the left of the outline, so the wall faces right.
      const looks = tangents[k]?.map(([x, y]): Point => [y, 0, x]);
      b.face(
        [bottom[i], bottom[j], top[j], top[i]],
        [[run, low], [far, low], [far, high], [run, high]], // prettier-ignore
        looks && [looks[0], looks[1], looks[1], looks[0]],
      );
      run = far;
    }
    from += c.length;
  }
  for (const loop of divideRegion(xy, constrainedTriangles(xy, sides))) {
    const uv = loop.map((i): [number, number] => [flat[i][0], flat[i][1]]);
    b.face(loop.map((i) => top[i]), uv); // prettier-ignore
    b.face([...loop].reverse().map((i) => bottom[i]), [...uv].reverse()); // prettier-ignore
  }
  const mesh = withBridges(b.mesh(), sides.length);
  // Where outlines touch in a corner, two walls meet two others along one line.
  return flat.length < place.length ? keepManifold(mesh, EMPTY_MESH) : mesh;
}

/** The points of outlines, those in one place once, and per point of an outline which of them it is. */
function placesOf(contours: ReadonlyArray<CurvedContour>): {
  flat: Array<readonly [number, number]>;
  place: number[];
} {
  const flat: Array<readonly [number, number]> = [];
  const at = new Map<string, number>();
  const place = contours.flatMap(({ points }) =>
    points.map((p) => {
      const key = p.join();
      let i = at.get(key);
      if (i === undefined) at.set(key, (i = flat.push(p) - 1));
      return i;
    }),
  );
  return { flat, place };
}

/** Marks the edges that part one flat end into several faces. @param walls faces that come first */
export function withBridges(mesh: PolyMesh, walls: number): PolyMesh {
  const t = topologyOf(mesh);
  const data = new Uint8Array(t.edgeCount);
  for (let e = 0; e < t.edgeCount; e++) {
    const c = t.cornerOfEdge[e];
    const other = t.twin[c];
    if (other >= 0 && t.faceOfCorner[c] >= walls && t.faceOfCorner[other] >= walls) data[e] = 1;
  }
  if (!data.includes(1)) return mesh;
  return { ...mesh, layers: { ...mesh.layers, edge: { ...mesh.layers.edge, bridge: { size: 1, data } } } };
}

/** A straight body over closed outlines with holes, its corners rounded; what is drawn, read from SVG or set as text. */
import { Type } from 'typebox';
import { constrainedTriangles } from '../../planar/constrainedTriangles';
import { divideRegion } from '../../planar/divideRegion';
import { roundedContour, turnedByNesting, withoutCrossings, type Contour } from '../../planar/contours';
import type { PolyMesh } from '../../mesh/PolyMesh';
import { topologyOf } from '../../mesh/Topology';
import { definePrimitive } from '../define';
import { count, length } from '../fields';
import { LoopBuilder } from '../LoopBuilder';

const MOST_POINTS = 4000;
const coordinate = Type.Number({ minimum: -100000, maximum: 100000 });

export const outline = definePrimitive({
  kind: 'outline',
  title: 'Outline',
  words: 'profile shape slot polygon plate logo svg',
  params: {
    /** Closed outlines in any order, each in X and −Z as seen from above, mm; one inside another is a hole in it. */
    contours: Type.Optional(
      Type.Array(Type.Array(Type.Tuple([coordinate, coordinate]), { minItems: 3, maxItems: MOST_POINTS }), {
        title: 'Contours',
        minItems: 1,
        maxItems: 500,
        default: [[[-20, -15], [20, -15], [20, 15], [-20, 15]]],
        drawn: true,
      }),
    ),
    height: Type.Optional(length('Height', 10)),
    corner: Type.Optional(length('Corner radius', 0, 0)),
    cornerSides: Type.Optional(count('Corner sides', 6, 1, 64)),
  },
  fault: (p) => {
    const points = p.contours.reduce((sum, c) => sum + c.length, 0);
    if (points > MOST_POINTS)
      return `The outlines have ${points} points; keep to ${MOST_POINTS}, or make curves coarser.`;
    return withoutCrossings(roundedOf(p));
  },
  build: (p) => bodyOver(turnedByNesting(roundedOf(p)), p.height),
  handles: (p) => [
    { key: 'height', label: 'height', at: [0, p.height / 2, 0], along: [0, 1, 0], rate: 2 },
  ],
  key(p, n) {
    const span = (a: 0 | 1): number => {
      const all = p.contours.flat().map((q) => q[a]);
      return Math.max(...all) - Math.min(...all);
    };
    return `${n(span(0))} × ${n(p.height)} × ${n(span(1))}`;
  },
}); // prettier-ignore

const roundedOf = (p: { contours: Contour[]; corner: number; cornerSides: number }): Contour[] =>
  p.contours.map((c) => roundedContour(c, p.corner, p.cornerSides));

/** @param contours outer ones counter-clockwise, holes clockwise */
function bodyOver(contours: Contour[], height: number): PolyMesh {
  const b = new LoopBuilder();
  const flat = contours.flat();
  const xy = Float64Array.from(flat.flat());
  const [low, high] = [-height / 2, height / 2];
  const at = (y: number): number[] => flat.map(([x, up]) => b.point([x, y, -up]));
  const [bottom, top] = [at(low), at(high)];
  const sides: Array<[number, number]> = [];
  let from = 0;
  for (const c of contours) {
    let run = 0;
    for (let k = 0; k < c.length; k++) {
      const [i, j] = [from + k, from + ((k + 1) % c.length)];
      sides.push([i, j]);
      const far = run + Math.hypot(flat[j][0] - flat[i][0], flat[j][1] - flat[i][1]);
      b.face([bottom[i], bottom[j], top[j], top[i]], [[run, low], [far, low], [far, high], [run, high]]); // prettier-ignore
      run = far;
    }
    from += c.length;
  }
  for (const loop of divideRegion(xy, constrainedTriangles(xy, sides))) {
    const uv = loop.map((i): [number, number] => [flat[i][0], flat[i][1]]);
    b.face(loop.map((i) => top[i]), uv); // prettier-ignore
    b.face([...loop].reverse().map((i) => bottom[i]), [...uv].reverse()); // prettier-ignore
  }
  return withBridges(b.mesh(), sides.length);
}

/** Marks the edges that part one flat end into several faces. @param walls faces that come first */
function withBridges(mesh: PolyMesh, walls: number): PolyMesh {
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

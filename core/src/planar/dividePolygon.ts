/** Divides a flat face given by its outlines (one outer, any number of holes) into simple polygons. */
import type { Vec3 } from '../mesh/vec3';
import { constrainedTriangles } from './constrainedTriangles';
import { divideRegion } from './divideRegion';
import { frameFrom } from './frame';

/**
 * @param outlines loops of point ids; the outer one counter-clockwise about the normal, holes clockwise
 * @param positions 3 numbers per point id
 * @param normal of the plane they lie in; need not be of unit length
 */
export function dividePolygon(outlines: number[][], positions: ArrayLike<number>, normal: Vec3): number[][] {
  const frame = frameFrom([0, 0, 0], normal);
  const flat = (p: number): [number, number] => {
    const [x, y, z] = [positions[3 * p], positions[3 * p + 1], positions[3 * p + 2]];
    return [
      x * frame.u[0] + y * frame.u[1] + z * frame.u[2],
      x * frame.v[0] + y * frame.v[1] + z * frame.v[2],
    ];
  };
  const areas = outlines.map((l) => loopArea(l.map(flat)));
  const out: number[][] = [];
  // Each counter-clockwise outline takes the holes inside it.
  outlines.forEach((outer, i) => {
    if (areas[i] <= 0) return;
    const ring = outer.map(flat);
    const holes = outlines.filter(
      (l, k) => areas[k] <= 0 && ownerOf(l, outlines, areas, flat) === i && ring.length > 0,
    );
    if (!holes.length) out.push(...splitRepeats(outer));
    else out.push(...divide(outer, holes, flat));
  });
  return out;
}

function ownerOf(
  hole: number[],
  outlines: number[][],
  areas: number[],
  flat: (p: number) => [number, number],
): number {
  let best = -1;
  outlines.forEach((o, i) => {
    if (areas[i] > 0 && inside(flat(hole[0]), o.map(flat)) && (best < 0 || areas[i] < areas[best])) best = i;
  });
  return best >= 0 ? best : areas.indexOf(Math.max(...areas));
}

function divide(outer: number[], holes: number[][], flat: (p: number) => [number, number]): number[][] {
  const ids: number[] = [];
  const sides: Array<[number, number]> = [];
  for (const loop of [outer, ...holes]) {
    const at = ids.length;
    ids.push(...loop);
    loop.forEach((_, i) => sides.push([at + i, at + ((i + 1) % loop.length)]));
  }
  const xy = Float64Array.from(ids.flatMap(flat));
  const triangles = constrainedTriangles(xy, sides);
  return divideRegion(xy, triangles).map((loop) => loop.map((i) => ids[i]));
}

function splitRepeats(loop: number[]): number[][] {
  const parts: number[][] = [];
  const stack: number[] = [];
  for (const v of loop) {
    const i = stack.indexOf(v);
    if (i >= 0) {
      const part = stack.splice(i);
      if (part.length >= 3) parts.push(part);
    }
    stack.push(v);
  }
  if (stack.length >= 3) parts.push(stack);
  return parts;
}

function loopArea(p: Array<[number, number]>): number {
  let sum = 0;
  p.forEach(([x, y], i) => {
    const [u, v] = p[(i + 1) % p.length];
    sum += x * v - y * u;
  });
  return sum / 2;
}

function inside([x, y]: [number, number], p: Array<[number, number]>): boolean {
  let odd = false;
  p.forEach(([ax, ay], i) => {
    const [bx, by] = p[(i + 1) % p.length];
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) odd = !odd;
  });
  return odd;
}

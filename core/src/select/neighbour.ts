/** The neighbour of an element that lies in a direction of the picture: how picks go from one to the next by keys. */
import type { Outlines } from './pickedSize';
import type { ElementKind } from './selection';

/** Screen position, pixels; NaN behind the eye. */
export type Drawn = (vertex: number) => readonly [number, number];

/** A neighbour further off the direction than this is no step that way. */
const MOST_OFF = Math.cos((75 * Math.PI) / 180);
/** How much less a neighbour is worth, as cosines: one that shares just a point, and one that faces away. */
const JUST_A_POINT = 0.3;
const AWAY = 0.5;

/**
 * Neighbours are faces that share an edge or a point, edges that share a face or a point, points that share an edge. The
 * one is taken whose middle is drawn most nearly in the direction. Time linear in the mesh.
 * @param toward pixels, x to the right and y down
 * @returns null where there is none that way
 */
export function neighbourToward(
  m: Outlines,
  kind: ElementKind,
  from: number,
  drawn: Drawn,
  toward: readonly [number, number],
): number | null {
  const [x, y] = middleOf(m, kind, from, drawn);
  const length = Math.hypot(...toward);
  let best: number | null = null;
  let most = -Infinity;
  for (const [other, less] of neighboursOf(m, kind, from, drawn)) {
    const [ox, oy] = middleOf(m, kind, other, drawn);
    const [dx, dy] = [ox - x, oy - y];
    const cosine = (dx * toward[0] + dy * toward[1]) / (Math.hypot(dx, dy) * length);
    if (cosine > MOST_OFF && cosine - less > most) [best, most] = [other, cosine - less];
  }
  return best;
}

/** The screen position of the middle of an element's points. */
export function middleOf(m: Outlines, kind: ElementKind, i: number, drawn: Drawn): [number, number] {
  const points = pointsOf(m, kind, i);
  let [x, y] = [0, 0];
  for (const v of points) {
    const [px, py] = drawn(v);
    x += px / points.length;
    y += py / points.length;
  }
  return [x, y];
}

function pointsOf(m: Outlines, kind: ElementKind, i: number): number[] {
  if (kind === 'vertex') return [i];
  if (kind === 'edge') return [m.edges[2 * i], m.edges[2 * i + 1]];
  return Array.from({ length: m.faceStart[i + 1] - m.faceStart[i] }, (_, k) => m.corners[m.faceStart[i] + k]);
}

/** Neighbours, each with what it is worth less than the best sort. */
function neighboursOf(m: Outlines, kind: ElementKind, from: number, drawn: Drawn): Map<number, number> {
  const found = new Map<number, number>();
  const note = (i: number, less: number): void => {
    if (i !== from) found.set(i, Math.min(less, found.get(i) ?? Infinity));
  };
  const own = new Set(pointsOf(m, kind, from));
  if (kind !== 'face')
    for (let e = 0; 2 * e < m.edges.length; e++) {
      const [a, b] = [m.edges[2 * e], m.edges[2 * e + 1]];
      if (!own.has(a) && !own.has(b)) continue;
      if (kind === 'edge') note(e, 0);
      else note(own.has(a) ? b : a, 0);
    }
  if (kind === 'vertex') return found;
  const edges = new Set(kind === 'edge' ? [from] : []);
  if (kind === 'face')
    for (let c = m.faceStart[from]; c < m.faceStart[from + 1]; c++) edges.add(m.edgeOfCorner[c]);
  for (let f = 0; f + 1 < m.faceStart.length; f++) {
    let [point, edge] = [false, false];
    for (let c = m.faceStart[f]; c < m.faceStart[f + 1]; c++) {
      if (own.has(m.corners[c])) point = true;
      if (edges.has(m.edgeOfCorner[c])) edge = true;
    }
    if (!point && !edge) continue;
    const away = turn(m, f, drawn) < 0 ? AWAY : 0;
    if (kind === 'face') note(f, (edge ? 0 : JUST_A_POINT) + away);
    else if (edge) for (let c = m.faceStart[f]; c < m.faceStart[f + 1]; c++) note(m.edgeOfCorner[c], away);
  }
  return found;
}

/** Twice the area a face is drawn with; below zero where it faces away. */
export function turn(m: Outlines, f: number, drawn: Drawn): number {
  const at = pointsOf(m, 'face', f).map(drawn);
  // y counts downward in the picture.
  return at.reduce((sum, [x, y], k) => {
    const [nx, ny] = at[(k + 1) % at.length];
    return sum - (x * ny - nx * y);
  }, 0);
}

/**
 * Elements inside an outline drawn on the screen: through the whole depth, or only those seen. What is seen is found
 * with a depth buffer over the outline's bounds (Catmull 1974, section 2.4), so the cost is one look at every element
 * and one at every pixel of every triangle there, whatever lies behind what.
 */
import { faceCount, vertexCount, type PolyMesh } from '../mesh/PolyMesh';
import { topologyOf } from '../mesh/Topology';
import { triangulate } from '../planar/triangulate';
import { selectionOf, type ElementKind, type Selection } from './selection';

/** How the piece is looked at. Pixels count from the top left of the picture. */
export interface Look {
  /** Column-major: from the piece's frame into the eye's, which looks along −z with y up. */
  toEye: ReadonlyArray<number>;
  /** Perspective: pixels per unit of width at depth 1. Parallel: pixels per unit. */
  scale: number;
  parallel: boolean;
  width: number;
  height: number;
}

export type ScreenOutline = ReadonlyArray<readonly [number, number]>;

/** How far, in pixels as seen there, an element may lie behind what is drawn and still count as on it. */
const SLACK = 3;

/** @returns elements whose middle is drawn inside the outline, ascending */
export function insideOutline(
  mesh: PolyMesh,
  kind: ElementKind,
  outline: ScreenOutline,
  look: Look,
  through: boolean,
): Selection {
  const t = topologyOf(mesh);
  const drawn = project(mesh, look);
  const box = boundsOf(outline, look);
  const seen = through ? null : new DepthBuffer(mesh, drawn, box, look);
  const facing = seen && facingElements(mesh, kind, drawn, look);
  const n = kind === 'face' ? faceCount(mesh) : kind === 'edge' ? t.edgeCount : vertexCount(mesh);
  const out: number[] = [];
  const middle = new Float64Array(3);
  for (let i = 0; i < n; i++) {
    if (facing && !facing[i]) continue;
    if (kind === 'vertex') middle.set(drawn.subarray(3 * i, 3 * i + 3));
    else {
      const points =
        kind === 'edge'
          ? t.edges.subarray(2 * i, 2 * i + 2)
          : mesh.corners.subarray(mesh.faceStart[i], mesh.faceStart[i + 1]);
      meanOf(mesh.positions, points, middle);
      projectOne(middle, 0, look, middle, 0);
    }
    const [x, y, q] = middle;
    if (!(x >= box.l && x <= box.r && y >= box.t && y <= box.b) || !within(outline, x, y)) continue;
    if (seen && !seen.reaches(x, y, q)) continue;
    out.push(i);
  }
  return selectionOf(kind, out);
}

/** Pixel x, y and nearness per point. */
function project(mesh: PolyMesh, look: Look): Float64Array {
  const out = new Float64Array(mesh.positions.length);
  for (let i = 0; i < out.length; i += 3) projectOne(mesh.positions, i, look, out, i);
  return out;
}

/** Nearness is 1 / depth in perspective, −depth in a parallel view; all is NaN behind the eye. */
function projectOne(from: ArrayLike<number>, i: number, look: Look, out: Float64Array, at: number): void {
  const m = look.toEye;
  const [x, y, z] = [from[i], from[i + 1], from[i + 2]];
  const depth = -(m[2] * x + m[6] * y + m[10] * z + m[14]);
  if (!look.parallel && depth <= 0) {
    out[at] = out[at + 1] = out[at + 2] = NaN;
    return;
  }
  const s = look.parallel ? look.scale : look.scale / depth;
  out[at] = look.width / 2 + s * (m[0] * x + m[4] * y + m[8] * z + m[12]);
  out[at + 1] = look.height / 2 - s * (m[1] * x + m[5] * y + m[9] * z + m[13]);
  out[at + 2] = look.parallel ? -depth : 1 / depth;
}

/** The mean of some points, written to `out`. */
function meanOf(p: ArrayLike<number>, points: ArrayLike<number>, out: Float64Array): void {
  let [x, y, z] = [0, 0, 0];
  for (let k = 0; k < points.length; k++) {
    const i = 3 * points[k];
    x += p[i];
    y += p[i + 1];
    z += p[i + 2];
  }
  out[0] = x / points.length;
  out[1] = y / points.length;
  out[2] = z / points.length;
}

interface Box {
  l: number;
  r: number;
  t: number;
  b: number;
}

function boundsOf(outline: ScreenOutline, { width, height }: Look): Box {
  const xs = outline.map((p) => p[0]);
  const ys = outline.map((p) => p[1]);
  return {
    l: Math.max(0, Math.min(...xs)),
    r: Math.min(width, Math.max(...xs)),
    t: Math.max(0, Math.min(...ys)),
    b: Math.min(height, Math.max(...ys)),
  };
}

function within(poly: ScreenOutline, x: number, y: number): boolean {
  let odd = false;
  for (let i = 0, j = poly.length - 1; i < poly.length; j = i++) {
    const [[ax, ay], [bx, by]] = [poly[i], poly[j]];
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) odd = !odd;
  }
  return odd;
}

/** Elements with a face turned to the eye beside them; one seen edge-on is not seen. */
function facingElements(mesh: PolyMesh, kind: ElementKind, drawn: Float64Array, look: Look): Uint8Array {
  const t = topologyOf(mesh);
  const out = new Uint8Array(
    kind === 'face' ? faceCount(mesh) : kind === 'edge' ? t.edgeCount : vertexCount(mesh),
  );
  for (let f = 0; f < faceCount(mesh); f++) {
    if (!facesEye(mesh, f, drawn, look)) continue;
    if (kind === 'face') out[f] = 1;
    else
      for (let c = mesh.faceStart[f]; c < mesh.faceStart[f + 1]; c++)
        out[kind === 'edge' ? t.edgeOfCorner[c] : mesh.corners[c]] = 1;
  }
  return out;
}

/** Uses the winding of the drawn outline: y runs down, so counter-clockwise has a negative area. */
function facesEye(mesh: PolyMesh, f: number, drawn: Float64Array, look: Look): boolean {
  const [s, e] = [mesh.faceStart[f], mesh.faceStart[f + 1]];
  let [area, round] = [0, 0];
  for (let c = s; c < e; c++) {
    const [i, j] = [3 * mesh.corners[c], 3 * mesh.corners[c + 1 < e ? c + 1 : s]];
    area += drawn[i] * drawn[j + 1] - drawn[j] * drawn[i + 1];
    round += Math.hypot(drawn[j] - drawn[i], drawn[j + 1] - drawn[i + 1]);
  }
  // Mirrored pieces are wound the other way on the screen.
  const m = look.toEye;
  const mirrored =
    m[0] * (m[5] * m[10] - m[6] * m[9]) -
      m[4] * (m[1] * m[10] - m[2] * m[9]) +
      m[8] * (m[1] * m[6] - m[2] * m[5]) <
    0;
  return (mirrored ? area : -area) > 2e-4 * round * round;
}

/** Nearness of what is nearest, per pixel of a part of the picture. */
class DepthBuffer {
  private readonly near: Float32Array;
  private readonly x0: number;
  private readonly y0: number;
  private readonly w: number;
  private readonly h: number;

  constructor(
    mesh: PolyMesh,
    drawn: Float64Array,
    box: Box,
    private readonly look: Look,
  ) {
    this.x0 = Math.floor(box.l);
    this.y0 = Math.floor(box.t);
    this.w = Math.max(1, Math.ceil(box.r) - this.x0);
    this.h = Math.max(1, Math.ceil(box.b) - this.y0);
    this.near = new Float32Array(this.w * this.h).fill(-Infinity);
    const { corners } = triangulate(mesh);
    for (let i = 0; i < corners.length; i += 3)
      this.draw(
        drawn,
        3 * mesh.corners[corners[i]],
        3 * mesh.corners[corners[i + 1]],
        3 * mesh.corners[corners[i + 2]],
      );
  }

  /** A place is seen when nothing is drawn well in front of it at its pixel. */
  reaches(x: number, y: number, q: number): boolean {
    const { parallel, scale } = this.look;
    const [u, v] = [Math.floor(x) - this.x0, Math.floor(y) - this.y0];
    if (u < 0 || v < 0 || u >= this.w || v >= this.h) return true;
    return this.near[v * this.w + u] <= (parallel ? q + SLACK / scale : q * (1 + SLACK / scale));
  }

  private draw(d: Float64Array, a: number, b: number, c: number): void {
    const [ax, ay, bx, by, cx, cy] = [d[a], d[a + 1], d[b], d[b + 1], d[c], d[c + 1]];
    const { x0, y0, w, h, near } = this;
    const left = Math.max(0, Math.floor(Math.min(ax, bx, cx)) - x0);
    const right = Math.min(w - 1, Math.ceil(Math.max(ax, bx, cx)) - x0);
    const top = Math.max(0, Math.floor(Math.min(ay, by, cy)) - y0);
    const bottom = Math.min(h - 1, Math.ceil(Math.max(ay, by, cy)) - y0);
    // With a point behind the eye nothing compares, and nothing is drawn.
    if (!(left <= right && top <= bottom)) return;
    const area = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay);
    if (Math.abs(area) < 1e-9) return;
    for (let y = top; y <= bottom; y++) {
      const py = y + y0 + 0.5;
      for (let x = left; x <= right; x++) {
        const px = x + x0 + 0.5;
        const u = ((bx - px) * (cy - py) - (cx - px) * (by - py)) / area;
        const v = ((cx - px) * (ay - py) - (ax - px) * (cy - py)) / area;
        if (u < 0 || v < 0 || u + v > 1) continue;
        const q = u * d[a + 2] + v * d[b + 2] + (1 - u - v) * d[c + 2];
        const at = y * w + x;
        if (q > near[at]) near[at] = q;
      }
    }
  }
}

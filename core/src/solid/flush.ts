/**
 * Finds faces of different operands that lie in one plane, whatever frame they stand in. What is done with them is in
 * partOperands.ts.
 */
import type { Bounds } from '../mesh/measure';
import type { PolyMesh } from '../mesh/PolyMesh';
import { TOLERANCE } from '../mesh/tolerance';
import { facetsOf, liesInPlane, type Facets } from './facets';
import type { Solid } from './Solid';

/** Two facets in one plane whose boxes meet. Operand a comes before operand b. */
export interface FlushPair {
  a: number;
  facetA: number;
  b: number;
  facetB: number;
  /** They face the same way. */
  same: boolean;
}

const NORMAL_CELL = 1 / 32;
const SAME_WAY = 1e-3;

/** Facets of one operand that may meet others, with their boxes: minimum, then maximum. */
interface Near {
  operand: number;
  facets: Facets;
  list: number[];
  box: Float64Array;
}

/** Expected time linear in facets near other operands, plus pairs found. */
export function flushPairs(solids: ReadonlyArray<Solid>): FlushPair[] {
  const { size } = solids[0];
  const reach = TOLERANCE.kernel * size;
  const offsetCell = size / 128;
  const cells = new Map<number, Array<{ near: Near; at: number }>>();
  const out: FlushPair[] = [];
  for (const near of facetsNearOthers(solids, reach)) {
    // Look among the operands before, then add this one's own.
    for (let at = 0; at < near.list.length; at++)
      eachNearCell(near, at, offsetCell, reach, (key) => {
        for (const other of cells.get(key) ?? []) {
          const same = inOnePlane(other.near, other.at, near, at, reach);
          if (same === null) continue;
          const [facetA, facetB] = [other.near.list[other.at], near.list[at]];
          out.push({ a: other.near.operand, facetA, b: near.operand, facetB, same });
        }
      });
    for (let at = 0; at < near.list.length; at++) {
      const key = homeCell(near.facets, near.list[at], offsetCell);
      const cell = cells.get(key);
      if (cell) cell.push({ near, at });
      else cells.set(key, [{ near, at }]);
    }
  }
  return out;
}

function facetsNearOthers(solids: ReadonlyArray<Solid>, reach: number): Near[] {
  return solids.map(({ mesh, bounds }, operand) => {
    const others = solids.filter((s, p) => p !== operand && boundsMeet(s.bounds, bounds, reach));
    const list: number[] = [];
    const facets = facetsOf(mesh);
    if (!others.length) return { operand, facets, list, box: new Float64Array(0) };
    const outside = outsideCodes(mesh, others, reach);
    for (let i = 0; i < facets.face.length; i++) {
      let all = 63;
      for (let c = facets.start[i]; c < facets.start[i + 1]; c++)
        all &= outside[mesh.corners[facets.corners[c]]];
      if (!all) list.push(i);
    }
    const box = new Float64Array(6 * list.length);
    list.forEach((i, at) => layBox(facets, i, box, 6 * at));
    return { operand, facets, list, box };
  });
}

function boundsMeet(a: Bounds, b: Bounds, reach: number): boolean {
  return a.min.every((x, k) => x <= b.max[k] + reach && b.min[k] <= a.max[k] + reach);
}

/** Per point, on which of the six sides of the box around the other operands it lies (Cohen & Sutherland's codes). */
function outsideCodes(mesh: PolyMesh, others: ReadonlyArray<Solid>, reach: number): Uint8Array {
  const p = mesh.positions;
  const out = new Uint8Array(p.length / 3);
  for (let k = 0; k < 3; k++) {
    const lo = Math.min(...others.map((o) => o.bounds.min[k])) - reach;
    const hi = Math.max(...others.map((o) => o.bounds.max[k])) + reach;
    for (let v = 0; v < out.length; v++)
      out[v] |= p[3 * v + k] < lo ? 1 << (2 * k) : p[3 * v + k] > hi ? 2 << (2 * k) : 0;
  }
  return out;
}

function layBox({ mesh, start, corners }: Facets, i: number, box: Float64Array, at: number): void {
  const p = mesh.positions;
  box.fill(Infinity, at, at + 3).fill(-Infinity, at + 3, at + 6);
  for (let c = start[i]; c < start[i + 1]; c++)
    for (let k = 0; k < 3; k++) {
      const x = p[3 * mesh.corners[corners[c]] + k];
      if (x < box[at + k]) box[at + k] = x;
      if (x > box[at + 3 + k]) box[at + 3 + k] = x;
    }
}

function boxesMeet(a: Float64Array, i: number, b: Float64Array, j: number, reach: number): boolean {
  for (let k = 0; k < 3; k++)
    if (a[i + k] > b[j + 3 + k] + reach || b[j + k] > a[i + 3 + k] + reach) return false;
  return true;
}

/** Cells of planes: the sizes of the normal's components, and the distance from the origin. */
const cellOf = (x: number, y: number, z: number, d: number): number => ((d * 64 + x) * 64 + y) * 64 + z;

function homeCell(f: Facets, i: number, offsetCell: number): number {
  const cell = (k: number): number => Math.floor(Math.abs(f.normal[3 * i + k]) / NORMAL_CELL);
  return cellOf(cell(0), cell(1), cell(2), Math.floor(Math.abs(f.offset[i]) / offsetCell));
}

/** Calls `each` with the cells in which a plane that is nearly the same may lie. */
function eachNearCell(
  { facets: f, list, box }: Near,
  at: number,
  offsetCell: number,
  reach: number,
  each: (key: number) => void,
): void {
  const i = list[at];
  let [extent, far] = [0, 0];
  for (let k = 6 * at; k < 6 * at + 3; k++) {
    extent = Math.max(extent, box[k + 3] - box[k]);
    far = Math.max(far, Math.abs(box[k]), Math.abs(box[k + 3]));
  }
  // A small facet knows its plane's direction less well, and the offset follows from that.
  const tilt = Math.min(SAME_WAY, (2 * reach) / (extent || 1));
  const slack = Math.min(reach + 2 * tilt * far, 2 * offsetCell);
  const lo = (x: number, within: number, cell: number): number =>
    Math.floor(Math.max(0, Math.abs(x) - within) / cell);
  const hi = (x: number, within: number, cell: number): number => Math.floor((Math.abs(x) + within) / cell);
  const [nx, ny, nz, d] = [f.normal[3 * i], f.normal[3 * i + 1], f.normal[3 * i + 2], f.offset[i]];
  for (let a = lo(nx, tilt, NORMAL_CELL); a <= hi(nx, tilt, NORMAL_CELL); a++)
    for (let b = lo(ny, tilt, NORMAL_CELL); b <= hi(ny, tilt, NORMAL_CELL); b++)
      for (let c = lo(nz, tilt, NORMAL_CELL); c <= hi(nz, tilt, NORMAL_CELL); c++)
        for (let e = lo(d, slack, offsetCell); e <= hi(d, slack, offsetCell); e++) each(cellOf(a, b, c, e));
}

/** Whether two facets that meet lie in one plane; then whether they face the same way. */
function inOnePlane(a: Near, i: number, b: Near, j: number, reach: number): boolean | null {
  const [f, g, k, l] = [a.facets, b.facets, a.list[i], b.list[j]];
  const cos =
    f.normal[3 * k] * g.normal[3 * l] +
    f.normal[3 * k + 1] * g.normal[3 * l + 1] +
    f.normal[3 * k + 2] * g.normal[3 * l + 2];
  if (Math.abs(cos) < 1 - SAME_WAY * SAME_WAY || !boxesMeet(a.box, 6 * i, b.box, 6 * j, reach)) return null;
  return liesInPlane(f, k, g, l, reach) || liesInPlane(g, l, f, k, reach) ? cos > 0 : null;
}

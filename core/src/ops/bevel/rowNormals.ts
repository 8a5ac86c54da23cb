/**
 * The normals of the surface a rounding stands for, told by what they are made of: walls, which are rounded again with
 * other normals whenever something else moves, and how the profile turns between them. They are worked out when the
 * rounding is put together: see `workedNormals`.
 */
import type { Vec3 } from '../../mesh/vec3';
import type { Columns } from './columns';
import type { Grown } from './grown';
import { plateBetween } from './strips';

/** A wall where a rail runs: the normal at a point of what is left of a region, or between two corners where nothing is. */
export interface Wall {
  point: number;
  region: number;
  corners: [number, number];
  /** Of the second corner. */
  share: number;
}

/** Normals by number. Those a mean is of come before it. */
export interface NormalRows {
  walls: ReadonlyArray<Wall>;
  /**
   * Per normal: the two walls it lies between. In the first, `MEAN` where it is a mean, and `GIVEN` where it is the same
   * whatever the walls; in the second, its place in the last list then.
   */
  right: ReadonlyArray<number>;
  left: ReadonlyArray<number>;
  /** Per normal: the share of the angle from the right wall to the left one. */
  lean: ReadonlyArray<number>;
  /** Per normal: the first of what it is a mean of. */
  start: ReadonlyArray<number>;
  of: ReadonlyArray<number>;
  by: ReadonlyArray<number>;
  /** 3 numbers each. */
  given: ReadonlyArray<number>;
}
export const [MEAN, GIVEN] = [-1, -2];

export const NO_NORMALS: NormalRows = {
  walls: [],
  right: [],
  left: [],
  lean: [],
  start: [],
  of: [],
  by: [],
  given: [],
};

/** Which of the two rows at a point of a column: a square profile has an edge between them. */
export type Beside = 'before' | 'after';

export class RowNormals implements NormalRows {
  readonly walls: Wall[] = [];
  readonly right: number[] = [];
  readonly left: number[] = [];
  readonly lean: number[] = [];
  readonly start: number[] = [];
  readonly of: number[] = [];
  readonly by: number[] = [];
  readonly given: number[] = [];
  /** Per edge: numbers of normals by column, cell and row, and of walls by column, cell and side. */
  private readonly known = new Map<number, { normals: Int32Array; walls: Int32Array }>();

  constructor(
    private readonly g: Grown,
    private readonly columns: Columns,
  ) {}

  turned(right: number, left: number, lean: number): number {
    return this.add(right, left, lean);
  }

  mean(of: ReadonlyArray<number>, by: ReadonlyArray<number>): number {
    const n = this.add(MEAN, -1, 0);
    this.of.push(...of);
    this.by.push(...by);
    return n;
  }

  fixed(normal: Vec3): number {
    return this.add(GIVEN, this.given.push(...normal) - 3, 0);
  }

  private add(right: number, left: number, lean: number): number {
    this.right.push(right);
    this.left.push(left);
    this.start.push(this.of.length);
    return this.lean.push(lean) - 1;
  }

  /**
   * The normal at a row of an edge's strip, −1 where the strip is flat.
   * @param column number from the edge's start
   * @param cell the cell beside it the normal is for: the one before the column, or after it
   * @param row from the right rail
   */
  at(edge: number, column: number, cell: Beside, row: number, beside: Beside): number {
    const { leans } = this.columns.of(edge)[column];
    if (!leans) return -1;
    const list = leans[beside];
    const { normals } = this.ofEdge(edge);
    const twice = leans.before === leans.after ? 0 : Number(beside === 'after');
    const n = this.g.options.segments;
    const key = 4 * (column * (n + 1) + row) + 2 * Number(cell === 'after') + twice;
    if (normals[key] >= 0) return normals[key];
    const [right, left] = [this.wall(edge, column, cell, 'right'), this.wall(edge, column, cell, 'left')];
    return (normals[key] = this.add(right, left, list[Math.min(row, list.length - 1)]));
  }

  private ofEdge(edge: number): { normals: Int32Array; walls: Int32Array } {
    let out = this.known.get(edge);
    if (out) return out;
    const columns = this.g.stripOf.get(edge)!.columns.length;
    out = {
      normals: new Int32Array(4 * columns * (this.g.options.segments + 1)).fill(-1),
      walls: new Int32Array(4 * columns).fill(-1),
    };
    this.known.set(edge, out);
    return out;
  }

  /** The number of the wall on a side of an edge, at the end of one of its columns. */
  wall(edge: number, column: number, cell: Beside, side: 'left' | 'right'): number {
    const { walls } = this.ofEdge(edge);
    const key = 4 * column + 2 * Number(cell === 'after') + Number(side === 'left');
    if (walls[key] >= 0) return walls[key];
    const { columns, [side]: rail } = this.g.stripOf.get(edge)!;
    const { t, mesh } = this.g;
    const at = columns[column];
    const other = columns[cell === 'after' ? column + 1 : column - 1] ?? at;
    const c = side === 'left' ? t.cornerOfEdge[edge] : t.twin[t.cornerOfEdge[edge]];
    const f = t.faceOfCorner[c];
    const next = c + 1 === mesh.faceStart[f + 1] ? mesh.faceStart[f] : c + 1;
    const wall: Wall = {
      point: at[side],
      region: plateBetween(rail, at[side], other[side]),
      corners: side === 'left' ? [c, next] : [next, c],
      share: at.share,
    };
    return (walls[key] = this.walls.push(wall) - 1);
  }
}

/**
 * The normals of the surface a rounding stands for, told by what they are made of: walls, which are rounded again with
 * other normals whenever something else moves, and how the profile turns between them. They are worked out when the
 * rounding is put together: see `worked`.
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

export type RowNormal =
  /** Turned from the right wall's to the left wall's by a share of the angle between them. */
  | { kind: 'turned'; right: Wall; left: Wall; lean: number }
  /** The mean of others, which come before it. */
  | { kind: 'mean'; of: ReadonlyArray<number>; by: ReadonlyArray<number> }
  /** The same whatever the walls. */
  | { kind: 'fixed'; normal: Vec3 };

/** Which of the two rows at a point of a column: a square profile has an edge between them. */
export type Beside = 'before' | 'after';

export class RowNormals {
  readonly list: RowNormal[] = [];
  /** Per edge: numbers of normals by column, cell and row. */
  private readonly known = new Map<number, Int32Array>();

  constructor(
    private readonly g: Grown,
    private readonly columns: Columns,
  ) {}

  add(n: RowNormal): number {
    return this.list.push(n) - 1;
  }

  /**
   * The normal at a row of an edge's strip, −1 where the strip is flat.
   * @param column number from the edge's start
   * @param cell the cell beside it the normal is for: the one before the column, or after it
   * @param row from the right rail
   */
  at(edge: number, column: number, cell: Beside, row: number, beside: Beside): number {
    const curve = this.columns.of(edge)[column];
    if (!curve.leans) return -1;
    const n = this.g.options.segments;
    const { columns } = this.g.stripOf.get(edge)!;
    let known = this.known.get(edge);
    if (!known) this.known.set(edge, (known = new Int32Array(4 * columns.length * (n + 1)).fill(-1)));
    const key = 4 * (column * (n + 1) + row) + 2 * Number(cell === 'after') + Number(beside === 'after');
    if (known[key] >= 0) return known[key];
    const lean = curve.leans[beside][Math.min(row, curve.leans[beside].length - 1)];
    const turned = { kind: 'turned', right: this.wall(edge, column, cell, 'right'), left: this.wall(edge, column, cell, 'left'), lean } as const; // prettier-ignore
    return (known[key] = this.add(turned));
  }

  /** The wall on a side of an edge, at the end of one of its columns. */
  wall(edge: number, column: number, cell: Beside, side: 'left' | 'right'): Wall {
    const { columns, [side]: rail } = this.g.stripOf.get(edge)!;
    const { t, mesh } = this.g;
    const at = columns[column];
    const other = columns[cell === 'after' ? column + 1 : column - 1] ?? at;
    const c = t.cornerOfEdge[edge];
    const d = t.twin[c];
    const next = (k: number): number => {
      const f = t.faceOfCorner[k];
      return k + 1 === mesh.faceStart[f + 1] ? mesh.faceStart[f] : k + 1;
    };
    return {
      point: at[side],
      region: plateBetween(rail, at[side], other[side]),
      corners: side === 'left' ? [c, next(c)] : [next(d), d],
      share: at.share,
    };
  }
}

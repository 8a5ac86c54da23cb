/**
 * The faces of strips: a row of quads from column to column. Strips of edges that run into each other are one run.
 * Where a face of a row would be a sliver, one of its columns leaves that row out: its points there stay points of the
 * rows beside, and of the rail.
 */
import { nextCorner } from '../../mesh/Topology';
import { add, cross, distance, dot, length, lerp, pointOf, sub, unit, type Vec3 } from '../../mesh/vec3';
import { flatParts } from '../../planar/flatParts';
import type { Grown } from './grown';
import type { Columns } from './columns';
import { edgesOf } from './layOut';
import { withPassed } from './inserted';
import type { OutFace, Source } from './shape';
import type { RowNormals } from './rowNormals';
import { plateBetween, type Column } from './strips';

/** A face thinner than this share of the width is a sliver. */
const SLIVER = 0.015;
/** Faces of more than four corners with points further apart across their plane are divided, mm. */
const BENT = 1e-3;

/** The quads between two neighbouring columns of one edge, as seen by a run that may go against the edge. */
interface Cell {
  edge: number;
  against: boolean;
  /** At its two ends, in the order of the run. */
  columns: [Column, Column];
  /** Number of the first along the edge. */
  first: number;
  /** Points across at its two ends, from the run's right rail to its left. */
  ids: [number[], number[]];
  /** Plates of the rails right and left of the edge. */
  plates: [number, number];
}

/** The columns that go through a row, as a list and as a mark per column. */
interface Row {
  columns: number[];
  through: Uint8Array;
}

type Heading = [edge: number, against: boolean];

export class StripFaces {
  readonly faces: OutFace[] = [];
  /** Points made only as ends of columns that do not go across: nothing needs them. */
  readonly idle = new Set<number>();

  constructor(
    private readonly g: Grown,
    private readonly columns: Columns,
    private readonly normals: RowNormals,
  ) {
    const seen = new Set<number>();
    for (const e of edgesOf(g.rounded)) {
      if (seen.has(e)) continue;
      const run = this.runThrough(e);
      for (const [edge] of run.headings) seen.add(edge);
      const cells = run.headings.flatMap((h) => this.cellsOf(h));
      if (!cells.length) continue;
      const rows = this.rowsOf(cells, run.closed);
      rows.forEach(({ columns }, k) => {
        for (let i = 0; i + 1 < columns.length; i++) this.addFace(cells, rows, k, columns[i], columns[i + 1]);
      });
      this.findIdle(cells, rows);
    }
  }

  /** The edges that run on from an edge both ways, as far as just two strips meet and nothing is between them. */
  private runThrough(e: number): { headings: Heading[]; closed: boolean } {
    const seen = new Set([e]);
    let first: Heading = [e, false];
    for (let back = this.next([e, true]); back; back = this.next(back)) {
      if (back[0] === e) return { headings: this.onFrom([e, false]), closed: true };
      // Where a vertex belongs to two fans, a way back need not be the way on.
      if (seen.has(back[0])) break;
      seen.add(back[0]);
      first = [back[0], !back[1]];
    }
    return { headings: this.onFrom(first), closed: false };
  }

  private onFrom(first: Heading): Heading[] {
    const out = [first];
    const seen = new Set([first[0]]);
    for (let h = this.next(first); h && !seen.has(h[0]); h = this.next(h)) {
      seen.add(h[0]);
      out.push(h);
    }
    return out;
  }

  private next([e, against]: Heading): Heading | null {
    const v = this.ends(e)[against ? 0 : 1];
    const plan = this.columns.planOf.get(v)!;
    if (plan.open || plan.spokes.length !== 2 || plan.spokes.some((s) => s.gap !== 'none')) return null;
    const on = plan.spokes.find((s) => s.edge !== e);
    return on ? [on.edge, this.ends(on.edge)[0] !== v] : null;
  }

  private ends(e: number): [number, number] {
    const { mesh, t } = this.g;
    const c = t.cornerOfEdge[e];
    return [mesh.corners[c], mesh.corners[nextCorner(mesh, t, c)]];
  }

  private cellsOf([edge, against]: Heading): Cell[] {
    const { columns, left, right } = this.g.stripOf.get(edge)!;
    const n = this.g.options.segments;
    const across = this.columns.of(edge).map(({ ids }) => {
      const all = ids.length === 1 ? new Array<number>(n + 1).fill(ids[0]) : ids;
      return against ? [...all].reverse() : all;
    });
    const cells = columns.slice(1).map((q, j): Cell => {
      const p = columns[j];
      return {
        edge,
        against,
        columns: against ? [q, p] : [p, q],
        first: j,
        ids: against ? [across[j + 1], across[j]] : [across[j], across[j + 1]],
        plates: [plateBetween(right, q.right, p.right), plateBetween(left, p.left, q.left)],
      };
    });
    return against ? cells.reverse() : cells;
  }

  /** The columns that go through each row, nearest the right rail first. Number k stands before cell k. */
  private rowsOf(cells: Cell[], closed: boolean): Row[] {
    const all = Array.from({ length: cells.length + 1 }, (_, k) => k);
    const widths = all.map((k) => this.widthAt(cells[Math.max(0, k - 1)], k ? 1 : 0));
    const weights = all.map((k) => this.weight(cells[k - 1], cells[k]));
    return Array.from({ length: this.g.options.segments }, (_, row) => {
      const sides = all.map((k) => [0, 1].map((s) => this.g.points.at(pointAt(cells, k, row + s))));
      const sliver = (i: number, j: number): boolean =>
        thickness([sides[i][0], sides[j][0], sides[j][1], sides[i][1]]) <
        SLIVER * Math.max(widths[i], widths[j]);
      const kept: number[] = [];
      for (const k of all) {
        let drop = false;
        while (!drop && kept.length && sliver(kept[kept.length - 1], k)) {
          if (weights[kept[kept.length - 1]] < weights[k]) kept.pop();
          else drop = true;
        }
        if (!drop || weights[k] === Infinity) kept.push(k);
      }
      // A rim so small is drawn as it is.
      const columns = closed && kept.length < 4 ? all : kept;
      const through = new Uint8Array(all.length);
      for (const k of columns) through[k] = 1;
      return { columns, through };
    });
  }

  /** How far the rails are from the rim at an end of a cell. */
  private widthAt({ edge, columns, ids }: Cell, end: 0 | 1): number {
    const [a, b] = this.ends(edge).map((v) => pointOf(this.g.mesh.positions, v));
    const rim = lerp(a, b, columns[end].share);
    const across = ids[end];
    return Math.max(...[across[0], across[across.length - 1]].map((p) => distance(this.g.points.at(p), rim)));
  }

  /** How much a column matters: more where the run turns; most where it ends or has no width. */
  private weight(before: Cell | undefined, after: Cell | undefined): number {
    if (!before || !after || before.ids[1][0] === before.ids[1].at(-1)) return Infinity;
    return before.edge === after.edge ? 0 : 2 - dot(this.direction(before), this.direction(after));
  }

  private direction({ edge, against }: Cell): Vec3 {
    const [a, b] = this.ends(edge).map((v) => pointOf(this.g.mesh.positions, v));
    return unit(against ? sub(a, b) : sub(b, a));
  }

  /** The ends on a rail of columns that leave the row beside it out, if they were made for that only. */
  private findIdle(cells: Cell[], rows: Row[]): void {
    const last = rows.length - 1;
    for (const [row, side] of [
      [0, 0],
      [last, last + 1],
    ]) {
      for (let k = 1; k < cells.length; k++) {
        const p = pointAt(cells, k, side);
        if (!rows[row].through[k] && this.g.strips.partners.has(p)) this.idle.add(p);
      }
    }
  }

  /** The face of a row between columns i and j. */
  private addFace(cells: Cell[], rows: Row[], row: number, i: number, j: number): void {
    const { t, strips } = this.g;
    const n = rows.length;
    type Corner = [number, Source];
    const corner = (k: number, cell: Cell, side: number): Corner => [
      pointAt(cells, k, side),
      this.source(cell, cell === cells[k] ? 0 : 1, side, row),
    ];
    /** Columns between that end at a side of the row, or have their end on the rail there. */
    const onSide = (side: number, beside: Row | undefined): Corner[] => {
      const out: Corner[] = [];
      for (let k = i + 1; k < j; k++)
        if (beside ? beside.through[k] : !strips.partners.has(pointAt(cells, k, side)))
          out.push(corner(k, cells[k - 1], side));
      return out;
    };
    const [first, last] = [cells[i], cells[j - 1]];
    const corners = [
      corner(i, first, row),
      ...onSide(row, rows[row - 1]),
      corner(j, last, row),
      corner(j, last, row + 1),
      ...onSide(row + 1, rows[row + 1]).reverse(),
      corner(i, first, row + 1),
    ];
    const kept = corners.filter(([p], k) => p !== corners[(k + 1) % corners.length][0]);
    const { loop, sources } = withPassed(
      { loop: kept.map(([p]) => p), sources: kept.map(([, s]) => s) },
      this.g,
      this.normals,
    );
    if (loop.length < 3 || new Set(loop).size < loop.length) return;
    const between = cells.slice(i, j);
    const lengthOf = ({ ids }: Cell): number =>
      distance(this.g.points.at(ids[0][0]), this.g.points.at(ids[1][0])) +
      distance(this.g.points.at(ids[0][n]), this.g.points.at(ids[1][n]));
    const { edge, against } = between.reduce((x, y) => (lengthOf(y) > lengthOf(x) ? y : x));
    const left = t.cornerOfEdge[edge];
    const right = t.twin[left];
    const which = against ? n - 1 - row : row;
    const [from, other] = which * 2 + 1 > n ? [left, right] : [right, left];
    const shapedBy = [...new Set(between.flatMap((cell) => this.ends(cell.edge)))];
    for (const part of flatParts(
      loop.map((p) => this.g.points.at(p)),
      BENT,
    ))
      this.faces.push({
        loop: part.map((k) => loop[k]),
        sources: part.map((k) => sources[k]),
        from,
        made: { role: 'strip', which, other, edge },
        region: -1,
        shapedBy,
      });
  }

  /** @param k row of the point @param row of the face */
  private source(
    { edge, against, columns, first, plates }: Cell,
    end: 0 | 1,
    k: number,
    row: number,
  ): Source {
    const { mesh, t, options } = this.g;
    const n = options.segments;
    const i = against ? n - k : k;
    const c = t.cornerOfEdge[edge];
    const onLeft = i * 2 >= n;
    const column = columns[end];
    const start = (end === 0) !== against;
    const normal = this.normals.at(
      edge,
      start ? first : first + 1,
      start ? 'after' : 'before',
      i,
      (k === row) !== against ? 'after' : 'before',
    );
    return {
      kind: 'between',
      corners: onLeft ? [c, nextCorner(mesh, t, c)] : [nextCorner(mesh, t, t.twin[c]), t.twin[c]],
      share: column.share,
      point: onLeft ? column.left : column.right,
      region: plates[onLeft ? 1 : 0],
      t: Math.abs((2 * i) / n - 1),
      normal,
    };
  }
}

/** Point of a column of a run, so many rows from the right rail. */
const pointAt = (cells: Cell[], column: number, side: number): number =>
  column ? cells[column - 1].ids[1][side] : cells[0].ids[0][side];

/** Twice the area of a quad over its longest side. */
function thickness([a, b, c, d]: Vec3[]): number {
  const longest = Math.max(distance(a, b), distance(b, c), distance(c, d), distance(d, a));
  return longest > 0 ? length(add(cross(sub(b, a), sub(c, a)), cross(sub(c, a), sub(d, a)))) / longest : 0;
}

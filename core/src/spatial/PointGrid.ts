/** Points sorted into cubes, for finding those near a place. */
import { distance, pointOf, type Vec3 } from '../mesh/vec3';

export class PointGrid {
  private readonly cells = new Map<string, number[]>();
  private readonly side: number;

  /** @param reach how far off `near` looks, in the unit of the positions */
  constructor(
    private readonly positions: ArrayLike<number>,
    private readonly reach: number,
  ) {
    let farthest = 0;
    for (let i = 0; i < positions.length; i++) farthest = Math.max(farthest, Math.abs(positions[i]));
    // Cells are numbered exactly: far out, none is so small that its number would be rounded.
    this.side = Math.max(reach, farthest * 2 ** -40, 1e-12);
  }

  add(v: number): void {
    const key = this.cell(pointOf(this.positions, v)).join();
    const list = this.cells.get(key);
    if (list) list.push(v);
    else this.cells.set(key, [v]);
  }

  /** Added points no farther off than the reach, in no order that matters. */
  near(at: Vec3): number[] {
    const [x, y, z] = this.cell(at);
    const out: number[] = [];
    for (let i = x - 1; i <= x + 1; i++)
      for (let j = y - 1; j <= y + 1; j++)
        for (let k = z - 1; k <= z + 1; k++)
          for (const v of this.cells.get(`${i},${j},${k}`) ?? [])
            if (distance(at, pointOf(this.positions, v)) <= this.reach) out.push(v);
    return out;
  }

  /** The nearest of them; null when none is. */
  nearest(at: Vec3): number | null {
    let best: number | null = null;
    let least = Infinity;
    for (const v of this.near(at)) {
      const d = distance(at, pointOf(this.positions, v));
      if (d < least) [best, least] = [v, d];
    }
    return best;
  }

  private cell(at: Vec3): Vec3 {
    return at.map((x) => Math.floor(x / this.side)) as Vec3;
  }
}

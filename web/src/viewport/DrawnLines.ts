/** Lines that are being drawn or shown as guides, over everything: 2 pixels with a dark edge, dots where points are set. */
import { BufferGeometry, Float32BufferAttribute, Group, Points, type PointsMaterial } from 'three';
import { CASING, WideLines } from './WideLines';
import { dots } from './marks';

const COLOR = '#f0b35f';

export class DrawnLines extends Group {
  private readonly lines = new WideLines({ color: COLOR, width: 2, edge: 1 });
  private readonly dots: Array<Points<BufferGeometry, PointsMaterial>>;
  private geometry = new BufferGeometry();

  constructor() {
    super();
    this.lines.through = true;
    this.lines.order = 20;
    // A lighter dot over a dark one.
    this.dots = [
      { color: CASING, size: 11 },
      { color: COLOR, size: 8 },
    ].map((look, i) => {
      const p = new Points(this.geometry, dots({ ...look, depthTest: false, toneMapped: false }));
      p.renderOrder = 20.2 + i / 10;
      p.frustumCulled = false;
      p.raycast = () => {};
      return p;
    });
    this.add(this.lines, ...this.dots);
  }

  /** @param ends two points per line, of the world; a line of no length is a dot */
  show(ends: ReadonlyArray<readonly [number, number, number]>): void {
    const long: number[] = [];
    const set: number[] = [];
    for (let i = 0; i + 1 < ends.length; i += 2) {
      const [a, b] = [ends[i], ends[i + 1]];
      if (a.every((x, k) => x === b[k])) set.push(...a);
      else long.push(...a, ...b);
    }
    this.visible = ends.length > 0;
    this.lines.show(new Float32Array(long));
    this.geometry.dispose();
    this.geometry = new BufferGeometry().setAttribute('position', new Float32BufferAttribute(set, 3));
    for (const p of this.dots) [p.geometry, p.visible] = [this.geometry, set.length > 0];
  }

  dispose(): void {
    this.geometry.dispose();
    this.lines.dispose();
    for (const p of this.dots) p.material.dispose();
  }
}

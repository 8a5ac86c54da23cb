/** Lines of real width in pixels with a dark edge, so that they are seen on any surface. */
import { Color, Group, type BufferAttribute } from 'three';
import { LineMaterial } from 'three/examples/jsm/lines/LineMaterial.js';
import { LineSegments2 } from 'three/examples/jsm/lines/LineSegments2.js';
import { LineSegmentsGeometry } from 'three/examples/jsm/lines/LineSegmentsGeometry.js';

/** Dark enough under every light colour, and light colours are bright enough on it: at least 3:1 both ways. */
export const CASING = '#0b1514';

export interface WideLook {
  color: string;
  /** Width in pixels, without the dark edge. */
  width: number;
  /** Width of the dark edge on either side, pixels. */
  edge: number;
}

export class WideLines extends Group {
  private geometry = new LineSegmentsGeometry();
  private readonly lines: LineSegments2[];

  constructor({ color, width, edge }: WideLook) {
    super();
    const line = (c: string, w: number): LineSegments2 => {
      const material = new LineMaterial({ color: new Color(c).getHex(), linewidth: w, toneMapped: false });
      material.transparent = true;
      material.depthWrite = false;
      // A little in front of the surface the edge lies on.
      material.polygonOffset = true;
      material.polygonOffsetFactor = -2;
      material.polygonOffsetUnits = -4;
      const l = new LineSegments2(this.geometry, material);
      l.raycast = () => {};
      l.frustumCulled = false;
      return l;
    };
    this.lines = [line(CASING, width + 2 * edge), line(color, width)];
    this.add(...this.lines);
    this.visible = false;
    this.raycast = () => {};
  }

  set order(n: number) {
    this.lines.forEach((l, i) => (l.renderOrder = n + i * 0.1));
  }

  /** Drawn through what lies in front. */
  set through(on: boolean) {
    for (const l of this.lines) l.material.depthTest = !on;
  }

  /** @param ends two points of 3 numbers per line; the same array again changes nothing */
  show(ends: Float32Array | null): void {
    if (ends === this.shown) return;
    this.shown = ends;
    this.visible = ends !== null && ends.length > 0;
    this.geometry.dispose();
    this.geometry = new LineSegmentsGeometry();
    if (ends?.length) this.geometry.setPositions(ends);
    for (const l of this.lines) l.geometry = this.geometry;
  }
  private shown: Float32Array | null = null;

  dispose(): void {
    this.geometry.dispose();
    for (const l of this.lines) l.material.dispose();
  }
}

/** Ends of edges, by pairs of point indices. */
export function endsOf(pairs: ArrayLike<number>, { array }: BufferAttribute): Float32Array {
  const out = new Float32Array(3 * pairs.length);
  for (let i = 0; i < pairs.length; i++) for (let k = 0; k < 3; k++) out[3 * i + k] = array[3 * pairs[i] + k];
  return out;
}

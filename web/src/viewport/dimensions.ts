/** Where a primitive's dimension handles sit, and how a drag along them changes its numbers. */
import type { Primitive } from '@urnsmith/core/primitives/index';

export interface Dimension {
  /** Key of the primitive's schema. */
  key: string;
  label: string;
  /** Where the handle sits and the direction it is pulled, in the piece's own frame. */
  at: [number, number, number];
  along: [number, number, number];
  /** Change of the number per millimetre pulled: centred dimensions grow both ways. */
  rate: number;
}

export function dimensionsOf(p: Primitive): Dimension[] {
  const d = (
    key: string,
    label: string,
    at: Dimension['at'],
    along: Dimension['along'],
    rate: number,
  ): Dimension => ({ key, label, at, along, rate });
  switch (p.primitive) {
    case 'box':
      return [
        d('width', 'width', [p.width / 2, 0, 0], [1, 0, 0], 2),
        d('height', 'height', [0, p.height / 2, 0], [0, 1, 0], 2),
        d('depth', 'depth', [0, 0, p.depth / 2], [0, 0, 1], 2),
      ];
    case 'cylinder':
      return [
        d('radius', 'radius', [p.radius, 0, 0], [1, 0, 0], 1),
        d('height', 'height', [0, p.height / 2, 0], [0, 1, 0], 2),
      ];
    case 'cone':
      return [
        d('bottomRadius', 'bottom radius', [p.bottomRadius, -p.height / 2, 0], [1, 0, 0], 1),
        d('topRadius', 'top radius', [p.topRadius, p.height / 2, 0], [1, 0, 0], 1),
        d('height', 'height', [0, p.height / 2, 0], [0, 1, 0], 2),
      ];
    case 'sphere':
    case 'quadSphere':
      return [d('radius', 'radius', [p.radius, 0, 0], [1, 0, 0], 1)];
    case 'torus':
      return [
        d('radius', 'radius', [p.radius, 0, 0], [1, 0, 0], 1),
        d('tubeRadius', 'tube radius', [0, p.tubeRadius, p.radius], [0, 1, 0], 1),
      ];
    case 'tube':
      return [
        d('outerRadius', 'outer radius', [p.outerRadius, 0, 0], [1, 0, 0], 1),
        d('innerRadius', 'inner radius', [0, p.height / 2, p.innerRadius], [0, 0, 1], 1),
        d('height', 'height', [-(p.outerRadius + p.innerRadius) / 2, p.height / 2, 0], [0, 1, 0], 2),
      ];
    case 'plane':
      return [
        d('width', 'width', [p.width / 2, 0, 0], [1, 0, 0], 2),
        d('depth', 'depth', [0, 0, p.depth / 2], [0, 0, 1], 2),
      ];
    case 'disc':
      return [d('radius', 'radius', [p.radius, 0, 0], [1, 0, 0], 1)];
  }
}

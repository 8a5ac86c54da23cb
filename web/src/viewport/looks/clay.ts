/** Plain matt clay, for building. */
import { FrontSide, MeshStandardMaterial } from 'three';
import { defineLook } from './define';

/** The colour of a piece that has none of its own. */
export const CLAY = '#c9c8bd';

export const clay = defineLook({
  name: 'clay',
  mixesColours: true,
  crowds: true,
  material({ color, coloured, lit }) {
    const m = new MeshStandardMaterial({
      color,
      roughness: 0.82,
      metalness: 0,
      side: FrontSide,
      vertexColors: coloured,
    });
    if (lit === 'hovered') m.emissive.set('#1d2a26');
    return m;
  },
});

/** A cut that is being drawn, as lines in the world: the outline on the face, the body it will take, where the pointer is. */
import { boxOfDrawn, outlineOfDrawn, spanOfDrawn, type DrawnCut } from '@urnsmith/core/document/drawnCut';
import { applyMatrix } from '@urnsmith/core/mesh/transform';
import { roundedContour } from '@urnsmith/core/planar/contours';
import type { Vec3 } from '@urnsmith/core/mesh/vec3';
import { composed, type CutDrawing } from '../hands/cutState';
import type { CutSettings } from '../state/settingSlice';

const cornerOf = (d: DrawnCut): number => {
  const { width, length } = boxOfDrawn(d);
  return d.shape === 'slot' ? Math.min(width, length) / 2 : d.shape === 'round' ? 0 : d.corner;
};

/** Two places a line. */
export function cutLines(d: CutDrawing, settings: CutSettings): Vec3[] | null {
  const { frame, hover } = d;
  if (!frame) return null;
  const at = (x: number, y: number, z: number): Vec3 => applyMatrix(frame, [x, y, z]);
  if (d.stage === 'aim') {
    if (!hover) return null;
    if (d.sides) return null;
    const [x, z] = hover;
    // The plane of the face, along its own axes.
    const arm = d.on.size / 12;
    return [at(x - arm, 0, z), at(x + arm, 0, z), at(x, 0, z - arm), at(x, 0, z + arm)];
  }
  const drawn = composed(d, settings);
  const free = drawn.shape === 'free' && d.stage === 'outline';
  const outline = free
    ? [...drawn.points.map(([x, z]): [number, number] => [x, z]), d.to]
    : roundedContour(outlineOfDrawn(drawn), cornerOf(drawn), 6).points;
  const round = (y: number): Vec3[] =>
    outline.flatMap(([x, z], k) => {
      const [nx, nz] = outline[(k + 1) % outline.length];
      return free && k === outline.length - 1 ? [] : [at(x, y, z), at(nx, y, nz)];
    });
  const face = round(0);
  if (d.stage === 'outline') return face;
  const [low, high] = spanOfDrawn(drawn, d.on);
  const end = drawn.mode === 'union' ? high : low;
  const every = Math.max(1, Math.floor(outline.length / 8));
  const walls = outline.filter((_, k) => k % every === 0).flatMap(([x, z]) => [at(x, 0, z), at(x, end, z)]);
  const { middle } = boxOfDrawn(drawn);
  return [...face, ...round(end), ...walls, at(middle[0], 0, middle[1]), at(middle[0], end, middle[1])];
}

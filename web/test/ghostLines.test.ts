import { BufferAttribute, BufferGeometry, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { drawableOf } from '@urnsmith/core/formats/drawable';
import { buildPrimitive, type Primitive } from '@urnsmith/core/primitives/index';
import { ghostEdges } from '../src/viewport/GhostLines';

function edgesOf(p: Primitive): { features: number; others: number; seenFrom(eye: Vector3): number } {
  const d = drawableOf(buildPrimitive(p));
  const surface = new BufferGeometry()
    .setAttribute('position', new BufferAttribute(d.positions, 3))
    .setIndex(new BufferAttribute(d.indices, 1));
  const g = ghostEdges(surface);
  const { feature, middle, one, other } = g.attributes;
  const read = (a: typeof middle, i: number): Vector3 =>
    new Vector3().fromBufferAttribute(a as BufferAttribute, i);
  const all = Array.from({ length: feature.count / 2 }, (_, i) => 2 * i);
  return {
    features: all.filter((i) => feature.getX(i) === 1).length,
    others: all.filter((i) => feature.getX(i) === 0).length,
    seenFrom: (eye) =>
      all.filter((i) => {
        const sight = eye.clone().sub(read(middle, i));
        return feature.getX(i) === 0 && read(one, i).dot(sight) * read(other, i).dot(sight) <= 0;
      }).length,
  };
}

describe('the lines of a ghost', () => {
  it('are the rims of a cylinder, and the two of its sides where it turns away', () => {
    const e = edgesOf({ primitive: 'cylinder', radius: 10, height: 30, sides: 24 });
    expect([e.features, e.others]).toEqual([48, 24]);
    expect(e.seenFrom(new Vector3(200, 7, 31))).toBe(2);
    expect(e.seenFrom(new Vector3(-40, 90, -3))).toBe(2);
    // From straight above no side is between what is seen and what is not.
    expect(e.seenFrom(new Vector3(0, 200, 0))).toBe(0);
  });

  it('are twelve of a box, and one ring round a ball', () => {
    expect(edgesOf({ primitive: 'box', width: 10, height: 20, depth: 30 })).toMatchObject({
      features: 12,
      others: 0,
    });
    const ball = edgesOf({ primitive: 'sphere', radius: 10, sides: 32, rings: 16 });
    expect(ball.features).toBe(0);
    const ring = ball.seenFrom(new Vector3(60, 11, 23));
    expect(ring).toBeGreaterThan(30);
    expect(ring).toBeLessThan(100);
  });
});

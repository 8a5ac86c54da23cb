/** The anchor target at a place on a host. */
import { targetAt } from '@urnsmith/core/document/anchors';
import type { Vec3 } from '@urnsmith/core/mesh/vec3';
import { defineQuestion } from './define';

interface Anchor {
  /** Steps of the host before the cut, in lane order. */
  upTo: number;
  /** In the host's frame. */
  point: Vec3;
  near?: Parameters<typeof targetAt>[2];
}

export const anchor = defineQuestion(
  'anchor',
  ({ upTo, point, near }: Anchor, { id, evaluator }) => ({
    anchor: targetAt(evaluator.build(id, undefined, upTo).mesh, point, near),
  }),
  { aboutBase: true },
);

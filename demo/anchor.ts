/** Anchors as a click would make them: to the faces a base has where it is pointed at. */
import { targetAt } from '@urnsmith/core/document/anchors';
import type { Anchor } from '@urnsmith/core/select/anchor';
import type { Piece } from '@urnsmith/core/document/schema';
import type { PolyMesh } from '@urnsmith/core/mesh/PolyMesh';
import type { Vec3 } from '@urnsmith/core/mesh/vec3';
import { Evaluator } from '@urnsmith/core/build/evaluate';

const none = (): never => {
  throw new Error('no file is used');
};

export class AnchorsOn {
  private readonly base: PolyMesh;

  constructor(host: Piece) {
    const e = new Evaluator({ blob: none, file: none });
    const { steps: _, ...plain } = host;
    e.setPieces([plain]);
    this.base = e.build(host.id).mesh;
  }

  hold(hold: Anchor['hold'], point: Vec3): Anchor {
    const { target, facing, opposite } = targetAt(this.base, point)!;
    return { hold, to: hold === 'middle' ? [target, opposite!] : [target], facing };
  }
}

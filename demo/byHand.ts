/** Editing a base as a hand would: every action is applied at once, so the next can pick from what is there. */
import { applyAction, type Action } from '@urnsmith/core/actions/actions';
import type { PolyMesh } from '@urnsmith/core/mesh/PolyMesh';
import { faceCount } from '@urnsmith/core/mesh/PolyMesh';
import { faceNormal } from '@urnsmith/core/mesh/measure';
import type { Vec3 } from '@urnsmith/core/mesh/vec3';
import { buildPrimitive, type Primitive } from '@urnsmith/core/primitives/index';
import { middleOf } from '@urnsmith/core/select/measure';
import { listed, resolveSelect, type Select } from '@urnsmith/core/select/rules';
import type { Selection } from '@urnsmith/core/select/selection';

export class ByHand {
  readonly actions: Action[] = [];
  private mesh: PolyMesh;
  private last: Selection | null = null;

  constructor(base: Primitive) {
    this.mesh = buildPrimitive(base);
  }

  /** Applies an operation to what is given, or to the picks the action before left. */
  act(op: string, params: Record<string, unknown> = {}, on: Select = this.picked()): this {
    const action: Action = { op, select: on, ...params };
    const result = applyAction(this.mesh, action, { last: this.last });
    this.actions.push(action);
    this.mesh = result.mesh;
    this.last = result.selection;
    return this;
  }

  /** Faces by their middle and normal. */
  faces(test: (middle: Vec3, normal: Vec3) => boolean): Select {
    const faces: number[] = [];
    for (let f = 0; f < faceCount(this.mesh); f++)
      if (test(middleOf(this.mesh, 'face', f), faceNormal(this.mesh, f))) faces.push(f);
    return { faces };
  }

  /** Edges with more than an angle between their faces, degrees. */
  edges(angle: number): { edges: number[] } {
    const { indices } = resolveSelect(this.mesh, { rule: 'sharp', angle });
    return { edges: [...indices] };
  }

  /** Points by where they are. */
  points(test: (at: Vec3) => boolean): Select {
    const points: number[] = [];
    for (let v = 0; v < this.mesh.positions.length / 3; v++)
      if (test(middleOf(this.mesh, 'vertex', v))) points.push(v);
    return { points };
  }

  private picked(): Select {
    if (!this.last) throw new Error('Nothing was picked yet.');
    return listed(this.last);
  }
}

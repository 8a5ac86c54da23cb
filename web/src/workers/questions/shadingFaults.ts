/** Faults of shading and UVs of the built piece, with where they are. */
import { faultLines, shadingFaults, type ShadingFaultKind } from '@urnsmith/core/shading/faults';
import { defineQuestion } from './define';

export interface SeenFault {
  kind: ShadingFaultKind;
  count: number;
  /** Degrees. */
  worst: number;
  /** 6 numbers each, in the frame of the piece. */
  lines: Float64Array;
}

export const seenFaults = defineQuestion(
  'shadingFaults',
  (_: object, { id, evaluator }): { shadingFaults: SeenFault[] } => {
    const { mesh, formed } = evaluator.build(id);
    return {
      shadingFaults: shadingFaults(mesh, formed).map((f) => ({
        kind: f.kind,
        count: f.indices.length,
        worst: f.worst,
        lines: faultLines(mesh, f),
      })),
    };
  },
  { aboutBase: true },
);

/** Faults of shading and UVs of the built piece, with where they are. */
import { faultLines, shadingFaults, type ShadingFaultKind } from '@urnsmith/core/shading/faults';
import { defineAside } from './define';

export interface SeenFault {
  kind: ShadingFaultKind;
  count: number;
  /** Degrees. */
  worst: number;
  /** 6 numbers each, in the frame of the piece. */
  lines: Float64Array;
}

export const seenFaults = defineAside(
  'shadingFaults',
  (_: object, { mesh, formed }, watch): { shadingFaults: SeenFault[] } => {
    watch(0);
    return {
      shadingFaults: shadingFaults(mesh, formed).map((f) => ({
        kind: f.kind,
        count: f.indices.length,
        worst: f.worst,
        lines: faultLines(mesh, f),
      })),
    };
  },
);

/** The lines along which a ring cut would run. */
import { ringCutLines } from '@urnsmith/core/ops/ringCut';
import { defineQuestion } from './define';

interface Ring {
  edge: number;
  count: number;
  slide: number;
}

export const ring = defineQuestion('ring', (q: Ring, { mesh }) => ({
  lines: ringCutLines(mesh, q.edge, q),
}));

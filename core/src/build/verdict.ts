/** The verdict on the shading of a piece: one sentence over all measures. */
import { counted } from '../ops/operation';
import type { ShadingFault, ShadingFaultKind } from '../shading/faults';
import { FAR_OFF, NOTHING, OFF } from '../shading/limits';
import type { Residual } from '../shading/residual';

export interface Verdict {
  clean: boolean;
  says: string;
}

export type Figures = Pick<Residual, 'over2' | 'over10' | 'mean' | 'worst'> & {
  /** Faces in which shading is off by more than `OFF`. */
  facesOver: number;
};

/** A fault as it is told: how many elements, and the most it is off, degrees. */
export interface ToldFault {
  kind: ShadingFaultKind;
  count: number;
  worst: number;
}

export const toldFault = ({ kind, indices, worst }: ShadingFault): ToldFault => ({
  kind,
  count: indices.length,
  worst,
});

/** Anywhere worth the name. */
export const leans = ({ over2 }: Pick<Figures, 'over2'>): boolean => over2 >= NOTHING;

export function verdictOf(figures: Figures, faults: ReadonlyArray<ToldFault>): Verdict {
  const parts = [
    ...(leans(figures)
      ? [
          `${counted(figures.facesOver, 'face')} ${figures.facesOver === 1 ? 'leans' : 'lean'}: ${leaning(figures)}`,
        ]
      : []),
    ...faults.map(faultWords),
  ];
  if (!parts.length) return { clean: true, says: 'Shaded as it is meant.' };
  const all = parts.join('; ');
  return { clean: false, says: `${all[0].toUpperCase()}${all.slice(1)}.` };
}

/** How much of the area leans, and how far. */
export function leaning({ over2, over10, worst }: Figures): string {
  const far = over10 >= NOTHING ? `, ${percent(over10)} over ${FAR_OFF}°` : '';
  return `${percent(over2)} of the area over ${OFF}°${far}, ${degrees(worst)} at most`;
}

/** Faults that a step of shading can mend. */
export const MENDED: ReadonlyArray<ShadingFaultKind> = ['lie', 'break', 'ripple', 'leak'];

const FAULTS: Record<ShadingFaultKind, (n: number, off: string) => string> = {
  lie: (n, off) => `${counted(n, 'face')} shaded as if seen from behind: up to ${off} off`,
  break: (n, off) => `${counted(n, 'edge')} of one surface where the shading breaks, by up to ${off}`,
  ripple: (n, off) =>
    `${counted(n, 'face')} with a dent in the gloss that is not in the surface, up to ${off}`,
  leak: (n, off) =>
    `${counted(n, 'face')} beside cuts and roundings shaded unlike without them, by up to ${off}`,
  seam: (n) => `${counted(n, 'hard edge')} without a UV seam: a baked map bleeds there`,
  mirrored: (n) => `${counted(n, 'face')} with mirrored UVs`,
  flat: (n) => `${counted(n, 'face')} whose UVs have no area`,
};

/** A fault in words. */
export const faultWords = ({ kind, count, worst }: ToldFault): string => FAULTS[kind](count, degrees(worst));

export const degrees = (x: number): string => `${Number(x.toFixed(1))}°`;

/** A share in words: what is there is never told as nothing. */
export const percent = (share: number): string =>
  share >= 0.0995
    ? `${Math.round(100 * share)}%`
    : share >= NOTHING
      ? `${(100 * share).toFixed(1)}%`
      : '< 0.1%';

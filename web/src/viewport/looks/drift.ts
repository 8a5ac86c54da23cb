/** How far shading leans from the faces it is on, as a map. */
import { Color, MeshBasicMaterial } from 'three';
import { defineLook } from './define';

/** Degrees and colour. */
export const DRIFT_STOPS: ReadonlyArray<readonly [number, string]> = [
  [0, '#22413d'],
  [1, '#4c9c8a'],
  [2, '#d9d3a4'],
  [6, '#f0915f'],
  [12, '#c8413b'],
];

export function driftColor(degrees: number, out: Color): Color {
  const stops = DRIFT_STOPS;
  let k = 1;
  while (k < stops.length - 1 && degrees > stops[k][0]) k++;
  const [a, from] = stops[k - 1];
  const [b, to] = stops[k];
  const s = Math.min(1, Math.max(0, (degrees - a) / (b - a)));
  return out.set(from).lerp(SCRATCH.set(to), s);
}
const SCRATCH = new Color();

export const drift = defineLook({
  name: 'drift',
  words: 'shading errors check',
  judges: true,
  material: () => new MeshBasicMaterial({ vertexColors: true }),
  byDrift: driftColor,
  legend: { of: 'drift', unit: '°', stops: DRIFT_STOPS },
});

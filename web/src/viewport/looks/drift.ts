/** Colours a surface by how far its shading is off: lighter is worse, and faces over the limit are hatched. */
import { Color, ShaderMaterial } from 'three';
import { OFF } from '@urnsmith/core/shading/limits';
import { defineLook } from './define';

/** Degrees and colour: each is lighter than the one before, from blue to yellow, which most eyes tell apart. */
export const DRIFT_STOPS: ReadonlyArray<readonly [number, string]> = [
  [0, '#14262b'],
  [1, '#23505a'],
  [OFF, '#3f8288'],
  [6, '#cfae62'],
  [12, '#fbf3d2'],
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

const VERTEX = `
attribute vec3 color;
attribute float over;
varying vec3 c;
varying float hatched;
void main() {
  c = color;
  hatched = over;
  gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
}`;

const FRAGMENT = `
varying vec3 c;
varying float hatched;
void main() {
  float line = step(0.5, hatched) * step(mod(gl_FragCoord.x + gl_FragCoord.y, 8.0), 2.0);
  gl_FragColor = vec4(mix(c, vec3(0.01, 0.02, 0.02), 0.6 * line), 1.0);
  #include <colorspace_fragment>
}`;

export const drift = defineLook({
  name: 'drift',
  words: 'shading errors check lean off',
  judges: true,
  material: () => new ShaderMaterial({ vertexShader: VERTEX, fragmentShader: FRAGMENT }),
  byDrift: driftColor,
  legend: { of: 'off by', unit: '°', stops: DRIFT_STOPS, hatchedOver: OFF },
});

/**
 * Polished metal in a studio of light panels, for judging reflections. The studio is part of the shader: each pixel
 * looks along its reflected ray and meets the panels there. A prefiltered environment map looks much the same, but
 * takes seconds to make where drawing is slow, and blurs the edges one wants to see.
 */
import { Color, ShaderMaterial } from 'three';
import { defineLook } from './define';

interface Panel {
  width: number;
  height: number;
  /** Its middle; it faces the origin. */
  at: [number, number, number];
  strength: number;
}

const PANELS: ReadonlyArray<Panel> = [
  { width: 16, height: 5, at: [0, 22, 6], strength: 7 },
  { width: 5, height: 22, at: [-24, 6, 6], strength: 5 },
  { width: 2.5, height: 24, at: [22, 5, 12], strength: 7 },
  { width: 2.5, height: 24, at: [25, 5, 3], strength: 4 },
  { width: 20, height: 1.6, at: [0, -4, 28], strength: 3 },
  { width: 9, height: 9, at: [3, 10, -26], strength: 2 },
  // A wide soft wall behind the viewer, so that flat faces show a gradient rather than black.
  { width: 30, height: 16, at: [10, 4, 34], strength: 0.85 },
  { width: 12, height: 20, at: [34, 2, 14], strength: 0.6 },
];

/** How far the edge of a panel is blurred at least, as a share of its distance. */
const BLUR = 0.035;
/** Between these angles that a reflection turns over one pixel, radians, its panels melt into their average. */
const MELT = [0.6, 2.2] as const;
/** Light of all panels, averaged over all directions. */
const AVERAGE =
  PANELS.reduce(
    (sum, { width, height, at, strength }) => sum + (strength * width * height) / Math.hypot(...at) ** 2,
    0,
  ) /
  (4 * Math.PI);

const VERTEX = `
varying vec3 n;
varying vec3 p;
void main() {
  vec4 at = vec4(position, 1.0);
  vec3 own = normal;
  #ifdef USE_INSTANCING
    at = instanceMatrix * at;
    mat3 m = mat3(instanceMatrix);
    own = m * (own / vec3(dot(m[0], m[0]), dot(m[1], m[1]), dot(m[2], m[2])));
  #endif
  // The view does not stretch, so its transpose leads back to the world.
  n = transpose(mat3(viewMatrix)) * (normalMatrix * own);
  p = (modelMatrix * at).xyz;
  gl_Position = projectionMatrix * viewMatrix * vec4(p, 1.0);
}`;

const vec = (v: readonly number[]): string => `vec3(${v.map((x) => x.toFixed(5)).join(', ')})`;
const scalar = (x: number): string => x.toFixed(5);

/**
 * Adds what a panel shows along the ray `r` from the origin to the light `c`. The panel is averaged over what the
 * pixel sees of it, `dx` and `dy` being how far the ray turns to the next pixel: otherwise a rounding narrower than a
 * pixel shows a panel in one pixel and none in the next.
 */
function panelCode({ width, height, at, strength }: Panel): string {
  const far = Math.hypot(...at);
  const z = at.map((x) => x / far);
  // Upright as seen from the origin.
  const flat = Math.hypot(z[0], z[2]) || 1;
  const u = [z[2] / flat, 0, -z[0] / flat];
  const v = [z[1] * u[2] - z[2] * u[1], z[2] * u[0] - z[0] * u[2], z[0] * u[1] - z[1] * u[0]];
  return `{
    float d = dot(r, ${vec(z)});
    mat2x3 uv = mat2x3(${vec(u)}, ${vec(v)});
    vec2 q = (r * uv) / max(d, 1e-3);
    vec2 blur = max(vec2(${scalar(BLUR)}), (abs(dx * uv) + abs(dy * uv)) / max(d, 0.3));
    vec2 reach = vec2(${scalar(width / 2 / far)}, ${scalar(height / 2 / far)});
    vec2 seen = smoothstep(-blur, blur, q + reach) - smoothstep(-blur, blur, q - reach);
    c = mix(c, vec3(1.0, 1.0, 0.97) * ${scalar(strength)}, seen.x * seen.y * step(0.0, d));
  }`;
}

const FRAGMENT = `
uniform vec3 metal;
varying vec3 n;
varying vec3 p;
vec3 studio(vec3 r) {
  vec3 dx = dFdx(r);
  vec3 dy = dFdy(r);
  vec3 wall = mix(vec3(0.10, 0.115, 0.115), vec3(0.62, 0.66, 0.65), smoothstep(-0.75, 0.95, r.y));
  vec3 c = wall;
  ${PANELS.map(panelCode).join('\n  ')}
  float turn = sqrt(dot(dx, dx) + dot(dy, dy));
  return mix(c, wall + vec3(${scalar(AVERAGE)}), smoothstep(${MELT.map(scalar).join(', ')}, turn));
}
void main() {
  vec3 look = isOrthographic ? -vec3(viewMatrix[0][2], viewMatrix[1][2], viewMatrix[2][2]) : normalize(p - cameraPosition);
  vec3 m = normalize(n);
  // Metal reflects all of what grazes it (Schlick 1994).
  vec3 share = metal + (1.0 - metal) * pow(1.0 - clamp(-dot(look, m), 0.0, 1.0), 5.0);
  gl_FragColor = vec4(1.15 * share * studio(reflect(look, m)), 1.0);
  #include <tonemapping_fragment>
  #include <colorspace_fragment>
}`;

export const gloss = defineLook({
  name: 'gloss',
  words: 'reflection shiny polished',
  judges: true,
  crowds: true,
  material: () =>
    new ShaderMaterial({
      uniforms: { metal: { value: new Color('#9aa5a3') } },
      vertexShader: VERTEX,
      fragmentShader: FRAGMENT,
    }),
});

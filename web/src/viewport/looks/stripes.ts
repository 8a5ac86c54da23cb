/** Reflection lines: stripes a polished surface would show, which turn with the view. They bow and break where it does. */
import { ShaderMaterial } from 'three';
import { defineLook } from './define';

const VERTEX = `
varying vec3 n;
varying vec3 p;
void main() {
  vec4 at = modelViewMatrix * vec4(position, 1.0);
  n = normalMatrix * normal;
  p = at.xyz;
  gl_Position = projectionMatrix * at;
}`;

/** Half as many stripes as fit around. */
const FRAGMENT = `
varying vec3 n;
varying vec3 p;
void main() {
  vec3 look = isOrthographic ? vec3(0.0, 0.0, -1.0) : normalize(p);
  vec3 m = normalize(n);
  vec3 r = reflect(look, m);
  float around = atan(r.x, r.z + 1.4) * 18.0;
  // A stripe narrower than a pixel melts into its mean.
  float blur = fwidth(around);
  float stripe = mix(smoothstep(-blur, blur, sin(around)), 0.5, smoothstep(1.5, 4.0, blur));
  float lit = 0.72 + 0.28 * dot(m, -look);
  gl_FragColor = vec4(lit * mix(vec3(0.035, 0.09, 0.085), vec3(0.85, 0.82, 0.7), stripe), 1.0);
  #include <colorspace_fragment>
}`;

export const stripes = defineLook({
  name: 'stripes',
  words: 'reflection lines zebra bow leak continuity',
  judges: true,
  material: () => new ShaderMaterial({ vertexShader: VERTEX, fragmentShader: FRAGMENT }),
});

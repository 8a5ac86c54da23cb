/** Fronts and backs of faces, told by pattern as well as by colour: backs are hatched. */
import { DoubleSide, ShaderMaterial } from 'three';
import { defineLook, NORMAL_VERTEX } from './define';

export const facing = defineLook({
  name: 'facing',
  words: 'orientation backfaces flipped',
  judges: true,
  material: () =>
    new ShaderMaterial({
      side: DoubleSide,
      vertexShader: NORMAL_VERTEX,
      fragmentShader: `varying vec3 n; void main(){
        vec3 m = normalize(n);
        float shade = 0.62 + 0.38 * max(0.0, dot(gl_FrontFacing ? m : -m, normalize(vec3(0.4, 0.8, 0.5))));
        float hatch = step(0.5, fract((gl_FragCoord.x + gl_FragCoord.y) / 12.0));
        vec3 front = vec3(0.60, 0.74, 0.69);
        vec3 back = mix(vec3(0.94, 0.57, 0.37), vec3(0.42, 0.22, 0.13), hatch);
        gl_FragColor = vec4((gl_FrontFacing ? front : back) * shade, 1.0); }`,
    }),
});

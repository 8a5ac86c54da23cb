/** The direction of shading normals as a colour. */
import { ShaderMaterial } from 'three';
import { defineLook, NORMAL_VERTEX } from './define';

export const normals = defineLook({
  name: 'normals',
  words: 'face orientation direction',
  judges: true,
  material: () =>
    new ShaderMaterial({
      vertexShader: NORMAL_VERTEX,
      fragmentShader: 'varying vec3 n; void main(){ gl_FragColor = vec4(normalize(n) * 0.5 + 0.5, 1.0); }',
    }),
});

/** The working grid: lines at the grid step, stronger every tenth, fading with distance. */
import type { Matrix } from '@urnsmith/core/mesh/transform';
import {
  CustomBlending,
  DoubleSide,
  Mesh,
  OneFactor,
  OneMinusSrcAlphaFactor,
  PlaneGeometry,
  ShaderMaterial,
  Vector3,
} from 'three';

export class Grid extends Mesh<PlaneGeometry, ShaderMaterial> {
  constructor() {
    super(
      new PlaneGeometry(2, 2).rotateX(-Math.PI / 2),
      new ShaderMaterial({
        // Blended, but drawn before all pieces: those below it are not covered.
        blending: CustomBlending,
        blendSrcAlpha: OneFactor,
        blendDstAlpha: OneMinusSrcAlphaFactor,
        side: DoubleSide,
        depthWrite: false,
        uniforms: { step: { value: 10 }, reach: { value: 1000 }, centre: { value: new Vector3() } },
        vertexShader: `uniform float reach; uniform vec3 centre; varying vec2 p;
          void main(){ vec3 w = position * reach + vec3(centre.x, 0.0, centre.z); p = w.xz;
          gl_Position = projectionMatrix * modelViewMatrix * vec4(w, 1.0); }`,
        fragmentShader: `uniform float step; uniform float reach; uniform vec3 centre; varying vec2 p;
          float lines(float s){ vec2 g = abs(fract(p / s - 0.5) - 0.5) / fwidth(p / s); return 1.0 - min(min(g.x, g.y), 1.0); }
          float axis(float x){ return 1.0 - min(abs(x) / fwidth(x), 1.0); }
          void main(){
            float fade = 1.0 - smoothstep(0.25, 1.0, length(p - centre.xz) / reach);
            float a = lines(step) * 0.10 + lines(step * 10.0) * 0.16;
            vec3 c = vec3(0.62, 0.74, 0.71);
            float ax = axis(p.y); float az = axis(p.x);
            c = mix(c, vec3(0.88, 0.45, 0.42), ax); c = mix(c, vec3(0.48, 0.61, 0.95), az);
            a = max(a, max(ax, az) * 0.5);
            gl_FragColor = vec4(c, a * fade); }`,
      }),
    );
    this.matrixAutoUpdate = false;
    this.frustumCulled = false;
    this.raycast = () => {};
    this.renderOrder = -1;
  }

  /** Lies in the XZ plane of a frame; level at the world's origin without one. */
  seat(frame: Matrix | null): void {
    if (frame) this.matrix.fromArray(frame);
    else this.matrix.identity();
    this.matrixWorldNeedsUpdate = true;
  }

  /** Adapts to the view: the step doubles its decade until lines are at least 8 pixels apart. */
  fit(step: number, pixel: number, distance: number, target: Vector3): void {
    let s = step;
    while (s < pixel * 8) s *= 10;
    const u = this.material.uniforms;
    u.step.value = s;
    u.reach.value = distance * 4;
    (u.centre.value as Vector3).copy(target).applyMatrix4(this.matrix.clone().invert());
  }
}

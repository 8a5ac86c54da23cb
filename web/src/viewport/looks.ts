/** The looks of a surface: clay, gloss, normals, facing, drift. */
import {
  Color,
  DoubleSide,
  FrontSide,
  MeshBasicMaterial,
  MeshStandardMaterial,
  ShaderMaterial,
  type Material,
} from 'three';
import type { Look } from './terms';
import { glossMaterial } from './gloss';

export const CLAY = '#c9c8bd';

const NORMAL_VERTEX =
  'varying vec3 n; void main(){ n = normalize(mat3(modelMatrix) * normal); gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0); }';

export interface SurfaceState {
  look: Look;
  xray: boolean;
  faint: boolean;
  lit: 'selected' | 'hovered' | 'none';
  color: string;
  /** The colours of its points are mixed in. */
  coloured: boolean;
}

/** Makes materials on demand and keeps them; at most a few dozen exist. */
export class Looks {
  private readonly made = new Map<string, Material>();

  material(s: SurfaceState): Material {
    const key = JSON.stringify(s);
    let m = this.made.get(key);
    if (!m) this.made.set(key, (m = this.make(s)));
    return m;
  }

  dispose(): void {
    for (const m of this.made.values()) m.dispose();
  }

  private make(s: SurfaceState): Material {
    const m = this.surface(s);
    if (s.xray || s.faint) {
      m.transparent = true;
      m.opacity = s.faint ? 0.16 : 0.42;
      m.depthWrite = false;
    }
    m.polygonOffset = true;
    m.polygonOffsetFactor = 1;
    m.polygonOffsetUnits = 1;
    return m;
  }

  private surface({ look, color, lit, coloured }: SurfaceState): Material {
    switch (look) {
      case 'clay': {
        const m = new MeshStandardMaterial({
          color,
          roughness: 0.82,
          metalness: 0,
          side: FrontSide,
          vertexColors: coloured,
        });
        if (lit === 'hovered') m.emissive.set('#1d2a26');
        return m;
      }
      case 'gloss':
        return glossMaterial();
      case 'normals':
        return new ShaderMaterial({
          vertexShader: NORMAL_VERTEX,
          fragmentShader:
            'varying vec3 n; void main(){ gl_FragColor = vec4(normalize(n) * 0.5 + 0.5, 1.0); }',
        });
      case 'facing':
        return new ShaderMaterial({
          side: DoubleSide,
          vertexShader: NORMAL_VERTEX,
          // Told by pattern as well as by colour: backs are hatched.
          fragmentShader: `varying vec3 n; void main(){
            vec3 m = normalize(n);
            float shade = 0.62 + 0.38 * max(0.0, dot(gl_FrontFacing ? m : -m, normalize(vec3(0.4, 0.8, 0.5))));
            float hatch = step(0.5, fract((gl_FragCoord.x + gl_FragCoord.y) / 12.0));
            vec3 front = vec3(0.60, 0.74, 0.69);
            vec3 back = mix(vec3(0.94, 0.57, 0.37), vec3(0.42, 0.22, 0.13), hatch);
            gl_FragColor = vec4((gl_FrontFacing ? front : back) * shade, 1.0); }`,
        });
      case 'drift':
        return new MeshBasicMaterial({ vertexColors: true });
    }
  }
}

/** Stops of the drift map: degrees and colour; the legend shows the same list. */
export const DRIFT_STOPS: Array<[number, string]> = [
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

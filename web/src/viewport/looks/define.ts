/** The contract of a look: its file says its name, its material and what else follows from it. */
import type { Color, Material } from 'three';

/** The state of a surface, as far as materials differ by it. */
export interface SurfaceState {
  xray: boolean;
  faint: boolean;
  lit: 'selected' | 'hovered' | 'none';
  /** `#rrggbb` */
  color: string;
  /** The colours of its points are mixed in. */
  coloured: boolean;
}

export interface LookDefinition<N extends string> {
  name: N;
  /** Words it is found by, beside its name. */
  words?: string;
  material(s: SurfaceState): Material;
  /** This look judges the surface, so cutters are not shown over it. */
  judges?: true;
  /** Colours that points carry are mixed in. */
  mixesColours?: true;
  /** Many pieces of one shape can be drawn in one call. */
  crowds?: true;
  /** The colour of a corner by how far its shading drifts, degrees; each triangle is then drawn by itself. */
  byDrift?(degrees: number, out: Color): Color;
  /** The meaning of its colours. */
  legend?: {
    of: string;
    unit: string;
    stops: ReadonlyArray<readonly [number, string]>;
    /** Values above this are hatched. */
    hatchedOver?: number;
  };
}

export const defineLook = <const N extends string>(d: LookDefinition<N>): Readonly<LookDefinition<N>> => d;

/** The vertex shader of looks that show the direction of normals. */
export const NORMAL_VERTEX =
  'varying vec3 n; void main(){ n = normalize(mat3(modelMatrix) * normal); gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0); }';

/** All looks of a surface. A new one is a file beside these and a line in this list. */
import type { Material } from 'three';
import { clay } from './clay';
import type { LookDefinition, SurfaceState } from './define';
import { drift } from './drift';
import { facing } from './facing';
import { gloss } from './gloss';
import { normals } from './normals';
import { stripes } from './stripes';

const ALL = [clay, gloss, stripes, normals, facing, drift] as const;

export type Look = (typeof ALL)[number]['name'];
export const LOOKS = Object.fromEntries(ALL.map((l) => [l.name, l])) as unknown as Readonly<
  Record<Look, LookDefinition<Look>>
>;
export const LOOK_NAMES: ReadonlyArray<Look> = ALL.map((l) => l.name);

/** Makes materials on demand and keeps them; at most a few dozen exist. */
export class Looks {
  private readonly made = new Map<string, Material>();

  material(look: Look, s: SurfaceState): Material {
    const key = `${look} ${JSON.stringify(s)}`;
    let m = this.made.get(key);
    if (!m) this.made.set(key, (m = made(look, s)));
    return m;
  }
}

function made(look: Look, s: SurfaceState): Material {
  const m = LOOKS[look].material(s);
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

/** The normals step: writes the chosen shading normals into the mesh as held normals. */
import { type PolyMesh, faceCount } from '../mesh/PolyMesh';
import { follows, RANK } from '../mesh/layers';
import { builtNormals } from '../shading/builtNormals';
import { cornerNormals } from '../shading/cornerNormals';
import { shadingNormals } from '../shading/shadingNormals';
import { softCorners } from '../shading/hardEdges';
import type { FaceStanding } from '../shading/FanWeights';
import type { NormalWeight } from '../shading/cornerWeights';
import { leadingOrder, type FaceLead } from '../shading/leads';
import { CURVED, FaceRoles, FLAT_FACE } from '../shading/faceRoles';

export interface ShadeOptions {
  hardAngle: number;
  /** `built`: the true normals where they are known; else all by weights. */
  weight: NormalWeight | 'built';
  /** The order in which kinds of faces lead where known normals differ; the first leads most. */
  leads?: ReadonlyArray<FaceLead>;
  rank: boolean;
  cutOff: number;
  alike?: number;
  /** The treatment of normals that are held already. */
  held?: 'keep' | 'replace' | 'blend';
  /** Edges that are hard whatever their angle. */
  hardSeams?: boolean;
  hardMaterials?: boolean;
  /** How much of the new normals is taken against those there were, 0…1. */
  strength?: number;
  /** Only the corners of these faces. */
  faces?: ReadonlyArray<number> | null;
}

/**
 * With `rank`, faces left over from before rounding lead or stay plain and the strips and patches a bevel made
 * follow, so large flat faces keep their true normal to the corner; so do they beside narrow strips that nothing marks.
 * Works on the built mesh as a whole: marks an earlier cut carried over are weighed in as the surface's own normals.
 */
export function shade(mesh: PolyMesh, o: ShadeOptions): PolyMesh {
  const strength = o.strength ?? 1;
  const common = {
    hardAngle: o.hardAngle,
    hardSeams: o.hardSeams ?? false,
    hardMaterials: o.hardMaterials ?? false,
    keepHeld: (o.held ?? 'keep') === 'keep',
  };
  const normals =
    o.weight === 'built'
      ? builtNormals(mesh, {
          ...common,
          weight: 'area',
          standing: () => standingOf(mesh, o),
          leads: () => leadingOrder(mesh, o.leads),
        })
      : cornerNormals(mesh, {
          ...common,
          weight: o.weight,
          standing: standingOf(mesh, o),
          cutOff: o.cutOff,
          alike: o.alike ?? 0,
        });
  if (o.held === 'blend') blendHeld(mesh, normals);
  const before = strength < 1 || o.faces ? shadingNormals(mesh) : normals;
  const out = strength < 1 ? mixed(before, normals, strength) : normals;
  return {
    ...mesh,
    layers: {
      ...mesh.layers,
      corner: {
        ...mesh.layers.corner,
        normal: { size: 3, data: o.faces ? onlyOn(mesh, o.faces, before, out) : out },
      },
    },
  };
}

/** The order of leading faces: by rank, then flat ones before curved or narrow ones; roles follow the hard angle. */
function standingOf(mesh: PolyMesh, { hardAngle, rank }: ShadeOptions): FaceStanding {
  const faces = new FaceRoles(mesh, softCorners(mesh, hardAngle));
  const roles = faces.all();
  const rounds = rank ? faces.roundings(roles) : null;
  const ranks = mesh.layers.face.rank?.data;
  const place = new Uint8Array(roles.length);
  const byAngle = new Uint8Array(roles.length);
  for (let f = 0; f < roles.length; f++) {
    const following = follows(ranks?.[f]);
    const flat = roles[f] === FLAT_FACE;
    byAngle[f] = Number(roles[f] === CURVED || ((following || rounds?.[f]) && !flat));
    if (!rounds || ranks?.[f] === RANK.lead) continue;
    // A wide chamfer leads the corners between chamfers, though it follows the faces it was made of.
    place[f] = following ? (flat ? 2 : 3) : rounds[f] ? 3 : 1;
  }
  return { place, byAngle };
}

/** Where normals are held, half of them and half of the new ones. */
function blendHeld(mesh: PolyMesh, normals: Float32Array): void {
  const held = mesh.layers.corner.normal?.data;
  if (!held) return;
  for (let c = 0; c < held.length; c += 3) {
    const [x, y, z] = [held[c] + normals[c], held[c + 1] + normals[c + 1], held[c + 2] + normals[c + 2]];
    const l = Math.hypot(x, y, z);
    // Opposite ones have no middle, and where none is held the new one stays.
    if (l > 1e-9 && (held[c] !== 0 || held[c + 1] !== 0 || held[c + 2] !== 0))
      normals.set([x / l, y / l, z / l], c);
  }
}

function mixed(before: Float32Array, after: Float32Array, strength: number): Float32Array {
  const out = new Float32Array(after.length);
  for (let c = 0; c < out.length; c += 3) {
    const n = [0, 1, 2].map((k) => (1 - strength) * before[c + k] + strength * after[c + k]);
    const l = Math.hypot(...n);
    for (let k = 0; k < 3; k++) out[c + k] = l > 1e-9 ? n[k] / l : after[c + k];
  }
  return out;
}

function onlyOn(
  mesh: PolyMesh,
  faces: ReadonlyArray<number>,
  before: Float32Array,
  after: Float32Array,
): Float32Array {
  const out = before.slice();
  for (const f of faces) {
    const [from, to] = [3 * mesh.faceStart[f], 3 * mesh.faceStart[f + 1]];
    out.set(after.subarray(from, to), from);
  }
  return out;
}

/** How many faces lead, are plain, follow. */
export function rankCounts(mesh: PolyMesh): { lead: number; plain: number; follow: number } {
  const rank = mesh.layers.face.rank?.data;
  const out = { lead: 0, plain: 0, follow: 0 };
  for (let f = 0; f < faceCount(mesh); f++) {
    const r = rank?.[f] ?? RANK.plain;
    if (r === RANK.lead) out.lead++;
    else if (follows(r)) out.follow++;
    else out.plain++;
  }
  return out;
}

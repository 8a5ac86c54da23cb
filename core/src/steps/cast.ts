/** Cast: shading normals taken from another piece, or from this one as it was before its cuts. */
import { Type } from 'typebox';
import { reference } from '../schema/references';
import { warn } from '../mesh/errors';
import { transformMesh } from '../mesh/transform';
import { choice } from '../ops/fields';
import { counted } from '../ops/operation';
import { rimsAndRails } from '../select/edges';
import { resolveSelect, ScopeSchema, type Scope } from '../select/rules';
import { convertSelection, selectionOf } from '../select/selection';
import { FALLOFFS, softWeights } from '../select/soft';
import { edgeLines } from '../inspect/edgeLines';
import { topologyOf } from '../mesh/Topology';
import { faceCount, vertexCount, type LayerSet, type PolyMesh } from '../mesh/PolyMesh';
import { castNormals } from '../shading/castNormals';
import { defineStep } from './define';

export const cast = defineStep({
  kind: 'cast',
  title: 'Cast normals',
  lane: 'Shade',
  example: { kind: 'cast', way: 'nearest', reach: 5 },
  params: {
    /** This piece before its cuts and roundings where it is left out. */
    from: Type.Optional(reference('pieces', 'operand')),
    way: Type.Optional(choice('Way', ['nearest', 'along'], 'nearest')),
    reach: Type.Optional(
      Type.Number({ title: 'Reach', unit: 'mm', minimum: 0.001, maximum: 10_000, default: 5 }),
    ),
    turn: Type.Optional(
      Type.Number({ title: 'Turned up to', unit: '°', minimum: 0, maximum: 90, default: 60 }),
    ),
    strength: Type.Optional(Type.Number({ title: 'Strength', unit: '', minimum: 0, maximum: 1, default: 1 })),
    hard: Type.Optional(choice('Hard edges', ['keep', 'smooth'], 'keep')),
    /** Only the corners of these faces or at these points; all where it is left out. */
    scope: Type.Optional(ScopeSchema),
    /** Only near these edges, fading out with the distance from their points; everywhere where it is left out. */
    near: Type.Optional(ScopeSchema),
    within: Type.Optional(
      Type.Number({ title: 'Within', unit: 'mm', minimum: 0.001, maximum: 10_000, default: 10 }),
    ),
    falloff: Type.Optional(choice('Falloff', FALLOFFS, 'smooth')),
  },
  fields: [
    {
      key: 'way',
      wide: true,
      hints: { nearest: 'The nearest place of the surface', along: 'Where the normal meets it, either way' },
    },
    { key: 'from', label: 'From', none: 'before its cuts' },
    { key: 'reach', perPixel: 0.05 },
    { key: 'turn' },
    { key: 'strength', perPixel: 0.01 },
    {
      key: 'hard',
      hints: { keep: 'Each side takes its own', smooth: 'One normal for all corners at a point' },
    },
    { key: 'scope', label: 'Only', none: 'off' },
    { key: 'near', label: 'Near', none: 'anywhere' },
    { key: 'within', when: (s) => s.near !== undefined, perPixel: 0.05 },
    { key: 'falloff', when: (s) => s.near !== undefined },
  ],
  adds: [
    {
      title: 'Cast normals from before the cuts, or from another selected piece',
      short: 'Cast',
      words: 'shading transfer projection source repair gradient',
      step: ({ others }) => ({ kind: 'cast' as const, way: 'nearest' as const, reach: 5, ...(others[0] && { from: others[0] }) }), // prettier-ignore
    },
  ],
  label: ({ from }, nameOf) => (from ? `Cast from ${nameOf(from)}` : 'Cast'),
  shadesOnly: true,
  scopes: ({ scope, near }) => [scope, near].flatMap((s) => s ?? []),
  operands: ({ from }) => (from ? [from] : []),
  run(mesh, step, { operands, formed, watch }) {
    const reach = step.reach ?? 5;
    const only = step.scope ? resolveSelect(mesh, step.scope) : null;
    if (only && !only.indices.length)
      return { mesh, key: `${reach} mm`, warnings: [warn('none-in-scope', 'Nothing is in scope.')] };
    const faces = only && only.kind !== 'vertex' ? convertSelection(mesh, only, 'face').indices : null;
    const border = step.near ? pointsNear(mesh, step.near) : null;
    if (border && !border.length)
      return {
        mesh,
        key: `${reach} mm`,
        warnings: [warn('none-in-scope', 'There is no edge to be near to.')],
      };
    const [other] = operands;
    const { normals, found, missed, took } = castNormals(
      mesh,
      other ? transformMesh(other.mesh, other.matrix) : formed,
      {
        way: step.way ?? 'nearest',
        reach,
        turn: step.turn ?? 60,
        strength: step.strength ?? 1,
        hard: step.hard ?? 'keep',
        faces,
        weights: masked(
          mesh,
          only?.kind === 'vertex' ? only.indices : null,
          border &&
            softWeights(mesh, border, {
              reach: step.within ?? 10,
              falloff: step.falloff ?? 'smooth',
              along: 'straight',
            }),
        ),
      },
      watch,
    );
    return {
      mesh: {
        ...mesh,
        layers: {
          ...mesh.layers,
          corner: { ...withCast(mesh, normals, (step.strength ?? 1) === 1 && !step.near ? took : null), normal: { size: 3, data: normals } }, // prettier-ignore
        },
      },
      key: counted(found, 'corner'),
      counts: { found, missed: missed.length },
      says: missed.length
        ? `${counted(found, 'corner')} found a surface; those at ${counted(missed.length, 'point')} did not, and are lit.`
        : `All of ${counted(found, 'corner')} found a surface.`,
      lines: edgeLines(mesh, edgesAt(mesh, missed)),
      warnings: found
        ? []
        : [warn('no-surface', `No corner found a surface within ${reach} mm; ${counted(missed.length, 'point')} looked.`, 'vertex', missed)], // prettier-ignore
    };
  },
});

/** The points of a scope. Rims that were rounded since are where their strips begin. */
function pointsNear(mesh: PolyMesh, near: Scope): ReadonlyArray<number> {
  const selection =
    near.rule === 'rims' ? selectionOf('edge', rimsAndRails(mesh, near.cutters)) : resolveSelect(mesh, near);
  return convertSelection(mesh, selection, 'vertex').indices;
}

/**
 * The corner layers with the surface of faces of which nothing was known and all of whose corners took: what they are
 * cast from is what they stand for.
 * @param took 1 per corner that took all of it; null where none did
 */
function withCast(mesh: PolyMesh, normals: Float32Array, took: Uint8Array | null): LayerSet {
  const { corner } = mesh.layers;
  if (!took) return corner;
  const data = new Float32Array(3 * mesh.corners.length);
  if (corner.surface) data.set(corner.surface.data);
  for (let f = 0; f < faceCount(mesh); f++) {
    const [from, to] = [mesh.faceStart[f], mesh.faceStart[f + 1]];
    let all = true;
    for (let c = from; all && c < to; c++)
      all = took[c] === 1 && data[3 * c] === 0 && data[3 * c + 1] === 0 && data[3 * c + 2] === 0;
    if (all) data.set(normals.subarray(3 * from, 3 * to), 3 * from);
  }
  return { ...corner, surface: { size: 3, data } };
}

/** Per point, its weight where it is one of some; all count where neither is given. */
function masked(
  mesh: PolyMesh,
  points: ReadonlyArray<number> | null,
  weights: ArrayLike<number> | null,
): ArrayLike<number> | null {
  if (!points) return weights;
  const out = new Float64Array(vertexCount(mesh));
  for (const v of points) out[v] = weights ? weights[v] : 1;
  return out;
}

/** Edges both of whose ends are among points. */
function edgesAt(mesh: PolyMesh, points: ReadonlyArray<number>): number[] {
  const { edges, edgeCount } = topologyOf(mesh);
  const at = new Set(points);
  const out: number[] = [];
  for (let e = 0; e < edgeCount; e++) if (at.has(edges[2 * e]) && at.has(edges[2 * e + 1])) out.push(e);
  return out;
}

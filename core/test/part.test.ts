/** A part of a mesh, and a bevel worked out on just the faces it can change. */
import { describe, expect, it } from 'vitest';
import { encodeMesh } from '../src/formats/meshBlob';
import { checkMesh } from '../src/mesh/checkMesh';
import { faceArea, faceKinds, surfaceArea, volume } from '../src/mesh/measure';
import { partOf } from '../src/mesh/part';
import { faceCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { topologyOf } from '../src/mesh/Topology';
import { pointOf } from '../src/mesh/vec3';
import { bevel } from '../src/ops/bevel/bevel';
import { buildPrimitive } from '../src/primitives';
import { act } from './acting';

const ring = buildPrimitive({ primitive: 'torus', radius: 20, tubeRadius: 6, sides: 12, tubeSides: 8 });
const marked = act(ring, { op: 'mark', select: { edges: [3, 40, 41, 90] }, marks: ['seam', 'round'], value: 0.5 }).mesh; // prettier-ignore
const crate = buildPrimitive({ primitive: 'box', width: 40, height: 40, depth: 40, segments: [8, 8, 8] });

const mask = (m: PolyMesh, faces: number[]): Uint8Array => {
  const out = new Uint8Array(faceCount(m));
  for (const f of faces) out[f % out.length] = 1;
  return out;
};
/** A mesh without regard to the order of its faces: each face's corners by place, with UVs and edge marks. */
function fingerprint(m: PolyMesh): string[] {
  const t = topologyOf(m);
  const uv = m.layers.corner.uv?.data;
  const seam = m.layers.edge.seam?.data;
  return Array.from({ length: faceCount(m) }, (_, f) => {
    const corners = Array.from({ length: m.faceStart[f + 1] - m.faceStart[f] }, (__, k) => {
      const c = m.faceStart[f] + k;
      return [
        ...pointOf(m.positions, m.corners[c]),
        uv?.[2 * c],
        uv?.[2 * c + 1],
        seam?.[t.edgeOfCorner[c]] ?? 0,
      ].join();
    });
    return corners.join(' ');
  }).sort();
}

describe('a part', () => {
  it('has the picked faces with their layers, and knows where everything came from', () => {
    const part = partOf(marked, mask(marked, [0, 1, 2, 30]));
    expect([faceCount(part.mesh), part.cornerOf.length]).toEqual([4, 16]);
    part.vertexOf.forEach((v, i) =>
      expect(pointOf(part.mesh.positions, i)).toEqual(pointOf(marked.positions, v)),
    );
    const { edgeOfCorner } = topologyOf(marked);
    topologyOf(part.mesh).cornerOfEdge.forEach((c, i) =>
      expect(part.mesh.layers.edge.round.data[i]).toBe(
        marked.layers.edge.round.data[edgeOfCorner[part.cornerOf[c]]],
      ),
    );
  });
});

describe('a bevel of a few edges of a large piece', () => {
  const t = topologyOf(crate);
  const rim = Array.from({ length: t.edgeCount }, (_, e) => e).filter((e) =>
    [0, 1].every((k) => {
      const p = pointOf(crate.positions, t.edges[2 * e + k]);
      return p[1] === 20 && p[2] === 20;
    }),
  );

  it('is the bevel of the whole: the same volume, all else untouched', () => {
    const { mesh, report } = bevel(crate, rim, { width: 2, segments: 1, profile: 0 });
    expect(report.roundedEdges).toBe(8);
    // A prism of 2 by 2 over the length; its ends run out between the end edges' neighbours.
    expect(volume(mesh)).toBeLessThan(64000 - 2 * 2 * 0.5 * 35);
    expect(volume(mesh)).toBeGreaterThan(64000 - 2 * 2 * 0.5 * 40 - 1e-9);
    expect(checkMesh(mesh).findings).toEqual([]);
    // Faces that lie away from the rim come first, in their order.
    const far = Array.from({ length: faceCount(crate) }, (_, f) => f).filter((f) => {
      for (let c = crate.faceStart[f]; c < crate.faceStart[f + 1]; c++) {
        const p = pointOf(crate.positions, crate.corners[c]);
        if (p[1] > 9 && p[2] > 9) return false;
      }
      return true;
    });
    const before = new Set(fingerprint(crate));
    const after = fingerprint(mesh).filter((x) => before.has(x));
    expect(after.length).toBeGreaterThanOrEqual(far.length);
  });

  it('names the edges of the piece, not of the part, when it refuses', () => {
    try {
      bevel(crate, rim, { width: 50, clamp: false });
      expect.unreachable();
    } catch (e) {
      const { elements } = e as { elements: { indices: number[] } };
      expect([...elements.indices].sort((a, b) => a - b)).toEqual(rim);
    }
  });

  it('works across bridges laid in a face with a hole', () => {
    const plate = buildPrimitive({ primitive: 'box', width: 40, height: 6, depth: 40, segments: [6, 1, 6] });
    const top = act(plate, {
      op: 'inset',
      select: { rule: 'facing', direction: [0, 1, 0] },
      thickness: 8,
    }).mesh;
    const rims = Array.from({ length: topologyOf(top).edgeCount }, (_, e) => e).slice(0, 2);
    const { mesh } = bevel(top, rims, { width: 0.5, segments: 2 });
    expect(checkMesh(mesh).findings).toEqual([]);
    expect(surfaceArea(mesh)).toBeLessThan(surfaceArea(top));
  });

  it('is the same on every run', () => {
    const bytes = (): Uint8Array => encodeMesh(bevel(crate, rim, { width: 2 }).mesh);
    expect(bytes()).toEqual(bytes());
    expect(faceKinds(bevel(crate, rim, { width: 2 }).mesh).quads).toBeGreaterThan(380);
    expect(faceArea(crate, 0)).toBe(25);
  });
});

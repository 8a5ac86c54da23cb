/**
 * Files that are written, read again by this and by other readers.
 *
 * @covers core/src/formats
 */
import { createRequire } from 'node:module';
import { beforeAll, describe, expect, it } from 'vitest';
import { NodeIO } from '@gltf-transform/core';
import { PLYLoader } from 'three/examples/jsm/loaders/PLYLoader.js';
import { STLLoader } from 'three/examples/jsm/loaders/STLLoader.js';
import { OBJLoader } from 'three/examples/jsm/loaders/OBJLoader.js';
import { Box3, Matrix4, Mesh, Vector3, type BufferGeometry } from 'three';
import { writeParts, type Format } from '../src/formats';
import { decodeMesh, encodeMesh, contentHash } from '../src/formats/meshBlob';
import { drawableOf } from '../src/formats/drawable';
import { placedForExport, UNITS, type Part } from '../src/formats/part';
import { readObj } from '../src/formats/readObj';
import { checkMesh } from '../src/mesh/checkMesh';
import { boundsOf, faceKinds, volume } from '../src/mesh/measure';
import { faceCount, triangleCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { IDENTITY, multiply, transformMatrix, transformMesh, type Matrix } from '../src/mesh/transform';
import { loadKernel } from '../src/solid/kernel';
import { shadingNormals } from '../src/shading/shadingNormals';
import { Evaluator } from '../src/build/evaluate';

const validator = createRequire(import.meta.url)('gltf-validator') as {
  validateBytes(b: Uint8Array, o?: object): Promise<{ issues: { numErrors: number; numWarnings: number } }>;
};

let plate: PolyMesh;
beforeAll(async () => {
  await loadKernel();
  const e = new Evaluator({ blob: () => plate, file: () => plate });
  e.setPieces([
    {
      id: 'plate',
      base: { primitive: 'box', width: 100, height: 20, depth: 80 },
      steps: [
        { kind: 'cut', mode: 'subtract', cutters: ['hole'] },
        { kind: 'bevel', scope: { rule: 'rims' }, width: 2 },
        { kind: 'normals' },
      ],
    },
    { id: 'hole', base: { primitive: 'cylinder', radius: 10, height: 60, sides: 32 } },
  ]);
  plate = e.build('plate').mesh;
});

const parts = (): Part[] => [
  {
    name: 'Plate',
    mesh: plate,
    matrix: transformMatrix({ move: [5, 6, 7], turn: [0, 0, 0], size: [1, 1, 1] }),
    color: '#b79f66',
  },
  { name: 'Plate two', mesh: plate, matrix: IDENTITY },
];
const write = (format: Format, unit: keyof typeof UNITS = 'mm', up: 'y' | 'z' = 'y'): Promise<Uint8Array> =>
  writeParts(format, parts(), { unit, up });
const buffer = (b: Uint8Array): ArrayBuffer =>
  b.buffer.slice(b.byteOffset, b.byteOffset + b.byteLength) as ArrayBuffer;
const bounds = (g: BufferGeometry): number[] => {
  g.computeBoundingBox();
  return [...g.boundingBox!.min.toArray(), ...g.boundingBox!.max.toArray()];
};

describe('written files, read by others', () => {
  for (const format of ['glb', 'gltf'] as const)
    it(`${format} passes the validator and holds the shading normals`, async () => {
      const bytes = await write(format, 'm');
      const { issues } = await validator.validateBytes(bytes);
      expect([issues.numErrors, issues.numWarnings]).toEqual([0, 0]);
      const io = new NodeIO();
      const doc = format === 'glb' ? await io.readBinary(bytes) : await io.readJSON({ json: JSON.parse(new TextDecoder().decode(bytes)), resources: {} }); // prettier-ignore
      const meshes = doc.getRoot().listMeshes();
      expect(meshes.map((m) => m.getName())).toEqual(['Plate', 'Plate two']);
      expect(doc.getRoot().listMaterials()).toHaveLength(2);
      const p = meshes[1].listPrimitives()[0];
      expect(p.getIndices()!.getCount()).toBe(3 * triangleCount(plate));
      const n = p.getAttribute('NORMAL')!.getArray()!;
      const own = new Set<string>();
      const shown = shadingNormals(plate);
      for (let i = 0; i < shown.length; i += 3)
        own.add([...shown.subarray(i, i + 3)].map((x) => x.toFixed(5)).join());
      for (let i = 0; i < n.length; i += 3)
        expect(own.has([...n.slice(i, i + 3)].map((x) => x.toFixed(5)).join())).toBe(true);
      const [min, max] = [p.getAttribute('POSITION')!.getMin([]), p.getAttribute('POSITION')!.getMax([])];
      [...min, ...max].forEach((x, k) =>
        expect(x).toBeCloseTo([-0.05, -0.01, -0.04, 0.05, 0.01, 0.04][k], 6),
      );
    });

  it('glTF shares the mesh of twins, wherever they stand, but not where their place shears', async () => {
    const twin = (name: string, matrix: Matrix): Part => ({ name, mesh: plate, matrix });
    const turned = transformMatrix({ move: [300, -20, 7], turn: [30, 45, -70], size: [1, 1, 1] });
    const uneven = transformMatrix({ move: [0, 90, 0], turn: [0, 20, 0], size: [-1, 2, 0.5] });
    const sheared = multiply(uneven, turned);
    const all = [twin('a', IDENTITY), twin('b', turned), twin('c', uneven), twin('d', sheared)];
    const bytes = await writeParts('glb', all, { unit: 'm', up: 'y' });
    const { issues } = await validator.validateBytes(bytes);
    expect([issues.numErrors, issues.numWarnings]).toEqual([0, 0]);
    const doc = await new NodeIO().readBinary(bytes);
    expect(doc.getRoot().listMeshes()).toHaveLength(2);
    const nodes = doc.getRoot().listNodes();
    expect(nodes.map((n) => n.getName())).toEqual(['a', 'b', 'c', 'd']);
    nodes.forEach((node, i) => {
      const box = new Box3();
      const place = new Matrix4().fromArray(node.getWorldMatrix());
      const p = node.getMesh()!.listPrimitives()[0].getAttribute('POSITION')!;
      for (let k = 0; k < p.getCount(); k++)
        box.expandByPoint(
          new Vector3(...(p.getElement(k, [0, 0, 0]) as [number, number, number])).applyMatrix4(place),
        );
      const { min, max } = boundsOf(transformMesh(plate, all[i].matrix));
      [...min, ...max].forEach((x, k) =>
        expect([...box.min.toArray(), ...box.max.toArray()][k]).toBeCloseTo(x / 1000, 5),
      );
    });
  });

  it('OBJ keeps n-gons and corner normals, through our reader and another', async () => {
    const text = new TextDecoder().decode(await write('obj'));
    const objects = readObj(text);
    expect(objects.map((o) => o.name)).toEqual(['Plate', 'Plate_two']);
    expect(faceKinds(objects[1].mesh)).toEqual(faceKinds(plate));
    expect(volume(objects[1].mesh)).toBeCloseTo(volume(plate), 3);
    expect(checkMesh(objects[1].mesh).closed).toBe(true);
    const [a, b] = [shadingNormals(objects[1].mesh), shadingNormals(plate)];
    expect(Math.max(...a.map((x, i) => Math.abs(x - b[i])))).toBeLessThan(1e-6);
    const group = new OBJLoader().parse(text);
    expect(group.children.filter((c) => c instanceof Mesh)).toHaveLength(2);
    const size = new Box3().setFromObject(group.children[1]);
    expect(size.max.x).toBeCloseTo(50, 5);
  });

  it('STL and PLY hold the same solid, in any unit, either axis up', async () => {
    const stl = new STLLoader().parse(buffer(await write('stl', 'in', 'z')));
    expect(stl.getAttribute('position').count).toBe(2 * 3 * triangleCount(plate));
    [-50, -47, -10, 55, 40, 16].forEach((x, k) => expect(bounds(stl)[k]).toBeCloseTo(x / 25.4, 4));
    const ply = new PLYLoader().parse(buffer(await write('ply', 'cm')));
    [-5, -1, -4, 5.5, 1.6, 4.7].forEach((x, k) => expect(bounds(ply)[k]).toBeCloseTo(x, 4));
    expect(ply.getAttribute('normal').count).toBe(ply.getAttribute('position').count);
    const header = new TextDecoder().decode((await write('ply')).subarray(0, 400));
    expect(header).toContain(`element face ${2 * faceCount(plate)}`);
  });

  it('STL facets have the normal of their three points, outward', async () => {
    const stl = new STLLoader().parse(buffer(await write('stl')));
    const [p, n] = [stl.getAttribute('position'), stl.getAttribute('normal')];
    const at = (k: number): Vector3 => new Vector3().fromBufferAttribute(p, k);
    for (let k = 0; k < p.count; k += 3) {
      const across = at(k + 1).sub(at(k)).cross(at(k + 2).sub(at(k))).normalize(); // prettier-ignore
      // A facet without area has no normal of its own.
      if (across.length() > 0.5)
        expect(across.dot(new Vector3().fromBufferAttribute(n, k))).toBeCloseTo(1, 4);
    }
  });

  it('every part of a PLY file is made of its own points', async () => {
    const ply = new PLYLoader().parse(buffer(await write('ply')));
    const index = [...ply.index!.array];
    // The parts stand apart along x: no triangle reaches from one to the other.
    const first = drawableOf(placedForExport(parts()[0], { unit: 'mm', up: 'y' })).positions.length / 3;
    const ofSecond = index.filter((v) => v >= first);
    expect(ofSecond.length).toBe(index.length / 2);
    for (let t = 0; t < index.length; t += 3)
      expect(new Set(index.slice(t, t + 3).map((v) => v < first)).size).toBe(1);
  });
});

it('bent normals and openness are in glTF and PLY, and other readers find them', async () => {
  const e = new Evaluator({ blob: () => plate, file: () => plate });
  const trough = { id: 'trough', base: { primitive: 'box', width: 20, height: 60, depth: 20 } } as const;
  e.setPieces([
    {
      id: 'block',
      base: { primitive: 'box', width: 60, height: 40, depth: 60 },
      steps: [
        { kind: 'cut', mode: 'subtract', cutters: ['trough'] },
        { kind: 'bent', rays: 32 },
      ],
    },
    trough,
  ]);
  const { mesh } = e.build('block');
  const { bent, openness } = mesh.layers.corner;
  const part: Part = { name: 'Block', mesh, matrix: transformMatrix({ move: [0, 0, 0], turn: [0, 90, 0], size: [1, 1, 1] }) }; // prettier-ignore
  const glb = await writeParts('glb', [part], { unit: 'mm', up: 'y' });
  const { issues } = await validator.validateBytes(glb);
  expect([issues.numErrors, issues.numWarnings]).toEqual([0, 0]);
  const [p] = (await new NodeIO().readBinary(glb)).getRoot().listMeshes()[0].listPrimitives();
  const ply = new PLYLoader();
  ply.setCustomPropertyNameMapping({ bent: ['bent_x', 'bent_y', 'bent_z'] });
  const read = ply.parse(buffer(await writeParts('ply', [part, ...parts()], { unit: 'mm', up: 'y' })));
  // A quarter turn about Y takes (x, y, z) to (z, y, −x).
  const own = new Map<string, number>();
  for (let c = 0; c < mesh.corners.length; c++) {
    const [x, y, z] = [0, 1, 2].map((k) => mesh.positions[3 * mesh.corners[c] + k]);
    const [bx, by, bz] = [0, 1, 2].map((k) => bent.data[3 * c + k]);
    own.set([z, y, -x, bz, by, -bx].map((v) => (v + 0).toFixed(3)).join(), openness.data[c]);
  }
  const ways = p.getAttribute('_BENT_NORMAL')!;
  const shades = p.getAttribute('COLOR_0')!;
  expect(Math.min(...openness.data)).toBeLessThan(0.6);
  for (let i = 0; i < ways.getCount(); i++) {
    const at = [...p.getAttribute('POSITION')!.getElement(i, []), ...ways.getElement(i, [])];
    const expected = own.get(at.map((v) => (v + 0).toFixed(3)).join());
    expect(shades.getElement(i, [])).toEqual([expected, expected, expected]);
    expect(read.getAttribute('bent').getX(i)).toBeCloseTo(at[3], 5);
    expect(read.getAttribute('bent').getZ(i)).toBeCloseTo(at[5], 5);
  }
  // Parts that have neither are as they are shaded, and white.
  expect(read.getAttribute('color').getX(ways.getCount())).toBe(1);
});

describe('reading OBJ', () => {
  it('takes n-gons, groups, UVs, negative indices, comments and continued lines', () => {
    const text = ['# a', 'o Roof', 'v 0 0 0', 'v 1 0 0 # here', 'v 1 1 0', 'v 0.5 1.5 0', 'v 0 1 0', 'vt 0 0', 'vt 1 0', 'vt 1 1', 'vn 0 0 2', 'g left', 'f 1/1/1 2/2/1 \\', '3/3/1 -2/3/1 -1/1/1', 'g right', 'v 0 0 1', 'f 1 -1 2'].join('\r\n'); // prettier-ignore
    const [{ name, mesh }] = readObj(text);
    expect([name, faceCount(mesh), mesh.faceStart[1]]).toEqual(['Roof', 2, 5]);
    expect(Array.from(mesh.layers.face.group.data)).toEqual([0, 1]);
    expect(Array.from(mesh.layers.corner.normal.data.slice(0, 3))).toEqual([0, 0, 1]);
    expect(Array.from(mesh.layers.corner.uv.data.slice(2, 4))).toEqual([1, 0]);
  });
  const broken: Array<[string, RegExp]> = [
    ['v 0 0\nf 1 1 1', /Line 1: “v” needs 3 numbers/],
    ['v 0 x 0', /Line 1: “x” is not a number/],
    ['v 0 0 0\nv 1 0 0\nf 1 2', /Line 3: a face needs at least 3 corners, this one has 2/],
    ['v 0 0 0\nv 1 0 0\nv 1 1 0\nf 1 2 4', /Line 4: point 4 does not exist/],
    ['v 0 0 0\nv 1 0 0\nv 1 1 0\nf 1 2 -9', /Line 4: point -9 does not exist/],
    ['v 0 0 0\nv 1 0 0\nv 1 1 0\nf 1 2 0', /Line 4: “0” is not a point index/],
    ['v 0 0 0\nv 1 0 0\nv 1 1 0\nf 1 2 2', /Line 4: a face uses point 2 twice/],
    ['v 0 0 0\nv 1 0 0\nv 1 1 0\nf 1/3 2/1 3/1', /Line 4: UV 3 does not exist/],
    ['v 0 0 0', /has no faces/],
  ];
  for (const [text, message] of broken)
    it(`refuses ${JSON.stringify(text)}`, () => expect(() => readObj(text)).toThrowError(message));
});

describe('stored meshes', () => {
  it('come back bit for bit under the same hash', async () => {
    const bytes = encodeMesh(plate);
    const back = decodeMesh(bytes);
    expect(Array.from(encodeMesh(back))).toEqual(Array.from(bytes));
    expect(back.layers.edge.cut.data).toEqual(plate.layers.edge.cut.data);
    expect(await contentHash(bytes)).toMatch(/^[0-9a-f]{64}$/);
    expect(() => decodeMesh(bytes.slice(0, 100))).toThrowError(/damaged/);
    expect(() => decodeMesh(Uint8Array.of(1, 2, 0))).toThrowError(/damaged/);
  });
});

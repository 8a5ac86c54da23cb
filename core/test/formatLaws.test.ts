/**
 * Round trips: every format over random solids, read back by independent readers where we have none.
 *
 * @covers core/src/formats
 */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { NodeIO } from '@gltf-transform/core';
import { STLLoader } from 'three/examples/jsm/loaders/STLLoader.js';
import type { BufferGeometry } from 'three';
import { formatNumber, parseQuantity } from '../src/document/expression';
import { writeParts } from '../src/formats';
import { contentHash, decodeMesh, encodeMesh } from '../src/formats/meshBlob';
import { placedForExport, UNITS, type Part, type Unit } from '../src/formats/part';
import { readObj } from '../src/formats/readObj';
import { surfaceArea, volume } from '../src/mesh/measure';
import { faceCount, vertexCount, type PolyMesh } from '../src/mesh/PolyMesh';
import { transformMatrix } from '../src/mesh/transform';
import { refusal } from './refusal';
import { number, pose, solid } from './anySolid';

const unit = fc.constantFrom(...(Object.keys(UNITS) as Unit[]));
const up = fc.constantFrom<'y' | 'z'>('y', 'z');
const part = fc
  .tuple(solid, pose)
  .map(([mesh, t]): Part => ({ name: 'Part', mesh, matrix: transformMatrix(t) }));
const holds = <T>(law: fc.IAsyncProperty<T>): Promise<void> => fc.assert(law, { numRuns: 25 });
const buffer = (b: Uint8Array): ArrayBuffer =>
  b.buffer.slice(b.byteOffset, b.byteOffset + b.byteLength) as ArrayBuffer;

/** Volume and area of triangles as drawn, six and two times. */
function triangleSums(p: ArrayLike<number>, index: ArrayLike<number> | null): [number, number] {
  let [six, twice] = [0, 0];
  const n = index ? index.length : p.length / 3;
  for (let i = 0; i < n; i += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => {
      const v = 3 * (index ? index[i + k] : i + k);
      return [p[v], p[v + 1], p[v + 2]];
    });
    const [u, w] = [b, c].map((q) => q.map((x, k) => x - a[k]));
    const cross = [u[1] * w[2] - u[2] * w[1], u[2] * w[0] - u[0] * w[2], u[0] * w[1] - u[1] * w[0]];
    six +=
      a[0] * (b[1] * c[2] - b[2] * c[1]) +
      a[1] * (b[2] * c[0] - b[0] * c[2]) +
      a[2] * (b[0] * c[1] - b[1] * c[0]);
    twice += Math.hypot(...cross);
  }
  return [six, twice];
}
const sums = (m: PolyMesh): [number, number] => [6 * volume(m), 2 * surfaceArea(m)];
function expectSums(found: [number, number], mesh: PolyMesh, share: number): void {
  const wanted = sums(mesh);
  found.forEach((x, k) => expect(Math.abs(x / wanted[k] - 1)).toBeLessThan(share));
}
const ofGeometry = (g: BufferGeometry): [number, number] =>
  triangleSums(g.attributes.position.array, g.index?.array ?? null);

/** Places and triangles of a binary PLY file, by its header alone; polygons of any length, which are all convex here. */
function polygonsOf(file: Uint8Array): [number[], number[]] {
  const text = new TextDecoder('latin1').decode(file);
  const body = text.indexOf('end_header\n') + 'end_header\n'.length;
  const count = (what: string): number => Number(new RegExp(`element ${what} (\\d+)`).exec(text)![1]);
  const width = 4 * (text.slice(0, body).match(/property float/g) ?? []).length;
  const view = new DataView(buffer(file), body);
  const [places, index]: [number[], number[]] = [[], []];
  for (let v = 0; v < count('vertex'); v++)
    for (let k = 0; k < 3; k++) places.push(view.getFloat32(v * width + 4 * k, true));
  let at = count('vertex') * width;
  for (let f = 0; f < count('face'); f++) {
    const n = view.getUint32(at, true);
    const corner = (k: number): number => view.getUint32(at + 4 + 4 * k, true);
    for (let k = 1; k + 1 < n; k++) index.push(corner(0), corner(k), corner(k + 1));
    at += 4 + 4 * n;
  }
  expect(at).toBe(view.byteLength);
  return [places, index];
}

describe('any solid in any unit and either axis up', () => {
  it('comes back from OBJ with its polygons and to nine digits', async () => {
    await holds(
      fc.asyncProperty(part, unit, up, async (p, u, axis) => {
        const text = new TextDecoder().decode(await writeParts('obj', [p], { unit: u, up: axis }));
        const [{ name, mesh }] = readObj(text);
        const sent = placedForExport(p, { unit: u, up: axis });
        expect([name, faceCount(mesh), vertexCount(mesh)]).toEqual([
          'Part',
          faceCount(sent),
          vertexCount(sent),
        ]);
        expect([...mesh.faceStart]).toEqual([...sent.faceStart]);
        expectSums(sums(mesh), sent, 1e-5);
      }),
    );
  });

  it('comes back from STL and PLY with the same volume and area, through other readers', async () => {
    await holds(
      fc.asyncProperty(part, unit, up, async (p, u, axis) => {
        const sent = placedForExport(p, { unit: u, up: axis });
        const stl = await writeParts('stl', [p], { unit: u, up: axis });
        expectSums(ofGeometry(new STLLoader().parse(buffer(stl))), sent, 2e-3);
        const ply = await writeParts('ply', [p], { unit: u, up: axis });
        expectSums(triangleSums(...polygonsOf(ply)), sent, 2e-3);
      }),
    );
  });

  it('comes back from GLB with the same volume and unit normals', async () => {
    await holds(
      fc.asyncProperty(part, async (p) => {
        const glb = await writeParts('glb', [p], { unit: 'mm', up: 'y' });
        const document = await new NodeIO().readBinary(glb);
        const [primitive] = document.getRoot().listMeshes()[0].listPrimitives();
        const at = primitive.getAttribute('POSITION')!.getArray()!;
        const sent = placedForExport(p, { unit: 'mm', up: 'y' });
        const [node] = document
          .getRoot()
          .listNodes()
          .filter((n) => n.getMesh());
        expect(
          Math.abs(
            Math.abs(
              triangleSums(at, primitive.getIndices()!.getArray()!)[0] * scaleOf(node.getWorldMatrix()),
            ) /
              (6 * volume(sent)) -
              1,
          ),
        ).toBeLessThan(2e-3);
        const normals = primitive.getAttribute('NORMAL')!.getArray()!;
        for (let i = 0; i < normals.length; i += 3)
          expect(Math.hypot(normals[i], normals[i + 1], normals[i + 2])).toBeCloseTo(1, 4);
      }),
    );
  });

  it('comes back from store to the bit, under a hash of its own', async () => {
    const seen = new Map<string, string>();
    await holds(
      fc.asyncProperty(solid, async (mesh) => {
        const bytes = encodeMesh(mesh);
        const back = decodeMesh(bytes);
        expect(encodeMesh(back)).toEqual(bytes);
        const hash = await contentHash(bytes);
        const print = [...back.positions].join();
        expect(seen.get(hash) ?? print).toBe(print);
        seen.set(hash, print);
      }),
    );
    const any = encodeMesh(decodeMesh(encodeMesh(fc.sample(solid, { numRuns: 1, seed: 5 })[0])));
    // Cut short anywhere, or with a byte changed in its head, it is refused and not half read.
    for (const cut of [0, 3, 11, Math.floor(any.length / 2), any.length - 1])
      expect(refusal(() => decodeMesh(any.slice(0, cut)))).not.toBe('done');
  });
});

const scaleOf = (m: ArrayLike<number>): number =>
  m[0] * (m[5] * m[10] - m[6] * m[9]) -
  m[4] * (m[1] * m[10] - m[2] * m[9]) +
  m[8] * (m[1] * m[6] - m[2] * m[5]);

describe('typed numbers', () => {
  it('read as they are shown, to the ten-thousandth', () => {
    fc.assert(
      fc.property(number(-1e6, 1e6), (x) => {
        const read = parseQuantity(formatNumber(x), 'length');
        expect('value' in read && Math.abs(read.value - x)).toBeLessThanOrEqual(5.1e-5);
      }),
    );
  });

  it('add, take away, multiply and divide as arithmetic does, in any spacing', () => {
    const term = fc.integer({ min: 1, max: 99 });
    const space = fc.constantFrom('', ' ', '  ');
    fc.assert(
      fc.property(
        term,
        term,
        term,
        fc.constantFrom('+', '-', '*', '/'),
        fc.constantFrom('+', '-'),
        space,
        (a, b, c, op, first, gap) => {
          const text = [`${a}`, first, '(', `${b}`, op, `${c}`, ')'].join(gap);
          const inner = { '+': b + c, '-': b - c, '*': b * c, '/': b / c }[op];
          const read = parseQuantity(text, 'number');
          expect('value' in read && read.value).toBeCloseTo(first === '+' ? a + inner : a - inner, 9);
        },
      ),
    );
  });
});

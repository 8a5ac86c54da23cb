/**
 * The lines a ghost is seen by: its feature edges, and from wherever it is looked at its silhouette, where a face that
 * looks at the eye meets one that looks away. Which edges those are is decided as they are drawn (McGuire and Hughes 2004,
 * "Hardware-determined feature edges").
 */
import { BufferAttribute, BufferGeometry, Color, LineSegments, ShaderMaterial } from 'three';
import { shared } from './sharedMaterials';

/** Faces that meet at more are a feature; cosine of 25°. */
const FEATURE = Math.cos((25 * Math.PI) / 180);
/** Faces that meet at less are one face cut into triangles. */
const FLAT = 1 - 1e-9;

const material = (color: string): ShaderMaterial =>
  new ShaderMaterial({
    transparent: true,
    depthTest: false,
    uniforms: { color: { value: new Color(color) } },
    vertexShader: `
      attribute vec3 middle; attribute vec3 one; attribute vec3 other; attribute float feature; attribute float along;
      varying float at;
      void main() {
        at = along;
        vec3 sight = isOrthographic ? vec3(0.0, 0.0, 1.0) : -(modelViewMatrix * vec4(middle, 1.0)).xyz;
        bool seen = feature > 0.5 || dot(normalMatrix * one, sight) * dot(normalMatrix * other, sight) <= 0.0;
        // What is not seen lies behind everything.
        gl_Position = seen ? projectionMatrix * modelViewMatrix * vec4(position, 1.0) : vec4(0.0, 0.0, 2.0, 1.0);
      }`,
    fragmentShader: `
      uniform vec3 color; varying float at;
      void main() {
        if (mod(at, 5.2) > 3.0) discard;
        gl_FragColor = vec4(color, 0.95);
        #include <colorspace_fragment>
      }`,
  });
const LOOKS = {
  none: shared(material('#8aa9ff')),
  hovered: shared(material('#dbe4ff')),
  selected: shared(material('#63d8bd')),
};

/** Geometries of ghosts by the shape they are of, with how many are drawn: pieces of one shape share theirs. */
const known = new WeakMap<object, { geometry: BufferGeometry; users: number }>();

export class GhostLines extends LineSegments {
  /** @param shape what decides the surface, the same for all pieces that are drawn alike */
  constructor(
    surface: BufferGeometry,
    private readonly shape: object,
  ) {
    let made = known.get(shape);
    if (!made) known.set(shape, (made = { geometry: ghostEdges(surface), users: 0 }));
    made.users++;
    super(made.geometry, LOOKS.none);
    this.raycast = () => {};
    this.renderOrder = 3;
    this.frustumCulled = false;
  }

  set lit(how: keyof typeof LOOKS) {
    this.material = LOOKS[how];
  }

  dispose(): void {
    const made = known.get(this.shape)!;
    if (--made.users) return;
    made.geometry.dispose();
    known.delete(this.shape);
  }
}

/** Edges that may be seen as lines, with the normals of the faces beside them. Linear in triangles. */
export function ghostEdges(surface: BufferGeometry): BufferGeometry {
  const at = surface.attributes.position.array as Float32Array;
  const index = surface.index!.array;
  const same = welded(at);
  const triangles = index.length / 3;
  const normals = new Float64Array(3 * triangles);
  /** Ends of each edge, and the triangles beside it; −1 for none. */
  const edges = new EdgeTable(index.length);
  for (let t = 0; t < triangles; t++) {
    const [p, q, r] = [0, 1, 2].map((k) => same[index[3 * t + k]]);
    if (!normalInto(normals, t, at, p, q, r)) continue;
    edges.add(p, q, t);
    edges.add(q, r, t);
    edges.add(r, p, t);
  }
  const between = (e: number): number => {
    const [a, b] = [3 * edges.one[e], 3 * edges.other[e]];
    return normals[a] * normals[b] + normals[a + 1] * normals[b + 1] + normals[a + 2] * normals[b + 2];
  };
  const lines: number[] = [];
  for (let e = 0; e < edges.count; e++) if (edges.other[e] < 0 || between(e) < FLAT) lines.push(e);
  const n = 2 * lines.length;
  const [position, middle, one, other] = [0, 0, 0, 0].map(() => new Float32Array(3 * n));
  const [feature, along] = [new Float32Array(n), new Float32Array(n)];
  lines.forEach((e, l) => {
    const ends = [3 * edges.from[e], 3 * edges.to[e]];
    // The end of a sheet is seen from everywhere.
    const beside = [3 * edges.one[e], 3 * (edges.other[e] < 0 ? edges.one[e] : edges.other[e])];
    let square = 0;
    for (let k = 0; k < 3; k++) {
      const [a, b] = [at[ends[0] + k], at[ends[1] + k]];
      square += (a - b) ** 2;
      for (const end of [0, 1]) {
        const to = 3 * (2 * l + end) + k;
        position[to] = end ? b : a;
        middle[to] = (a + b) / 2;
        one[to] = normals[beside[0] + k];
        other[to] = normals[beside[1] + k];
      }
    }
    feature.fill(edges.other[e] < 0 || between(e) < FEATURE ? 1 : 0, 2 * l, 2 * l + 2);
    along[2 * l + 1] = Math.sqrt(square);
  });
  const g = new BufferGeometry();
  for (const [name, size, numbers] of [
    ['position', 3, position],
    ['middle', 3, middle],
    ['one', 3, one],
    ['other', 3, other],
    ['feature', 1, feature],
    ['along', 1, along],
  ] as const)
    g.setAttribute(name, new BufferAttribute(numbers, size));
  return g;
}

/** @returns false where the triangle has no area */
function normalInto(
  out: Float64Array,
  t: number,
  at: Float32Array,
  p: number,
  q: number,
  r: number,
): boolean {
  const [a, b, c] = [3 * p, 3 * q, 3 * r];
  const u = [at[b] - at[a], at[b + 1] - at[a + 1], at[b + 2] - at[a + 2]];
  const v = [at[c] - at[a], at[c + 1] - at[a + 1], at[c + 2] - at[a + 2]];
  const n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
  const length = Math.hypot(n[0], n[1], n[2]);
  if (!length) return false;
  for (let k = 0; k < 3; k++) out[3 * t + k] = n[k] / length;
  return true;
}

/** For each point the first one at its place: points split for shading are one point here. */
function welded(at: Float32Array): Uint32Array {
  const n = at.length / 3;
  const table = new Slots(n);
  const bits = new Int32Array(at.buffer, at.byteOffset, at.length);
  const out = new Uint32Array(n);
  for (let i = 0; i < n; i++) {
    // Zero has two signs.
    const hash = [0, 1, 2].reduce(
      (h, k) => Math.imul(h ^ (at[3 * i + k] ? bits[3 * i + k] : 0), 0x9e3779b1),
      7,
    );
    const is = (j: number): boolean =>
      at[3 * i] === at[3 * j] && at[3 * i + 1] === at[3 * j + 1] && at[3 * i + 2] === at[3 * j + 2];
    out[i] = table.find(hash, is, i);
  }
  return out;
}

class EdgeTable {
  readonly from: Uint32Array;
  readonly to: Uint32Array;
  readonly one: Int32Array;
  readonly other: Int32Array;
  count = 0;
  private readonly slots: Slots;

  constructor(most: number) {
    [this.from, this.to] = [new Uint32Array(most), new Uint32Array(most)];
    [this.one, this.other] = [new Int32Array(most), new Int32Array(most).fill(-1)];
    this.slots = new Slots(most);
  }

  add(a: number, b: number, triangle: number): void {
    const [low, high] = a < b ? [a, b] : [b, a];
    const is = (e: number): boolean =>
      Math.min(this.from[e], this.to[e]) === low && Math.max(this.from[e], this.to[e]) === high;
    const hash = Math.imul(Math.imul(low, 0x9e3779b1) ^ high, 0x85ebca6b);
    const e = this.slots.find(hash, is, this.count);
    if (e === this.count) {
      [this.from[e], this.to[e], this.one[e]] = [a, b, triangle];
      this.count++;
    } else this.other[e] = triangle;
  }
}

/** Numbers found by a hash of what they stand for (open addressing, Knuth 1973, volume 3, section 6.4). */
class Slots {
  private readonly at: Int32Array;
  private readonly mask: number;

  constructor(most: number) {
    const size = 2 ** Math.ceil(Math.log2(2 * most + 2));
    this.at = new Int32Array(size).fill(-1);
    this.mask = size - 1;
  }

  /** The number that is the one looked for; `fresh`, which is put there, where there is none. */
  find(hash: number, is: (n: number) => boolean, fresh: number): number {
    let i = (hash ^ (hash >>> 15)) & this.mask;
    while (this.at[i] >= 0) {
      if (is(this.at[i])) return this.at[i];
      i = (i + 1) & this.mask;
    }
    return (this.at[i] = fresh);
  }
}

/**
 * The lines a ghost is seen by: its feature edges, and from wherever it is looked at its silhouette, where a face that
 * looks at the eye meets one that looks away. Which edges those are is decided as they are drawn (McGuire and Hughes 2004,
 * "Hardware-determined feature edges").
 */
import { BufferAttribute, BufferGeometry, Color, LineSegments, ShaderMaterial, Vector3 } from 'three';

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
const LOOKS = { none: material('#8aa9ff'), hovered: material('#dbe4ff'), selected: material('#63d8bd') };

export class GhostLines extends LineSegments {
  constructor(surface: BufferGeometry) {
    super(ghostEdges(surface), LOOKS.none);
    this.raycast = () => {};
    this.renderOrder = 3;
    this.frustumCulled = false;
  }

  set lit(how: keyof typeof LOOKS) {
    this.material = LOOKS[how];
  }
}

interface Edge {
  a: Vector3;
  b: Vector3;
  one: Vector3;
  other: Vector3 | null;
}

/** Edges that may be seen as lines, with the normals of the faces beside them. Linear in triangles. */
export function ghostEdges(surface: BufferGeometry): BufferGeometry {
  const at = surface.attributes.position;
  const index = surface.index!;
  // Points split for shading are one point here.
  const known = new Map<string, number>();
  const same = Array.from({ length: at.count }, (_, i) => {
    const key = `${at.getX(i)} ${at.getY(i)} ${at.getZ(i)}`;
    if (!known.has(key)) known.set(key, i);
    return known.get(key)!;
  });
  const edges = new Map<string, Edge>();
  const corners = [new Vector3(), new Vector3(), new Vector3()];
  for (let t = 0; t < index.count; t += 3) {
    const ids = [0, 1, 2].map((k) => same[index.getX(t + k)]);
    corners.forEach((p, k) => p.fromBufferAttribute(at, ids[k]));
    const [p, q, r] = corners;
    const normal = q.clone().sub(p).cross(r.clone().sub(p)).normalize();
    if (normal.lengthSq() === 0) continue;
    for (let k = 0; k < 3; k++) {
      const [a, b] = [ids[k], ids[(k + 1) % 3]];
      const key = a < b ? `${a} ${b}` : `${b} ${a}`;
      const edge = edges.get(key);
      if (edge) edge.other = normal;
      else
        edges.set(key, { a: corners[k].clone(), b: corners[(k + 1) % 3].clone(), one: normal, other: null });
    }
  }
  const lines = [...edges.values()].filter((e) => !e.other || e.one.dot(e.other) < FLAT);
  const g = new BufferGeometry();
  const attribute = (name: string, size: number, of: (e: Edge, end: 0 | 1) => number[]): void => {
    const numbers = lines.flatMap((e) => [...of(e, 0), ...of(e, 1)]);
    g.setAttribute(name, new BufferAttribute(Float32Array.from(numbers), size));
  };
  attribute('position', 3, (e, end) => (end ? e.b : e.a).toArray());
  attribute('middle', 3, (e) => e.a.clone().lerp(e.b, 0.5).toArray());
  attribute('one', 3, (e) => e.one.toArray());
  // The end of a sheet is seen from everywhere.
  attribute('other', 3, (e) => (e.other ?? e.one).toArray());
  attribute('feature', 1, (e) => [!e.other || e.one.dot(e.other) < FEATURE ? 1 : 0]);
  attribute('along', 1, (e, end) => [end ? e.a.distanceTo(e.b) : 0]);
  return g;
}

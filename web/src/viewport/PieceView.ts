/** One piece as drawn: its surface, its real edges, or its ghost when it is a cutter. */
import {
  BackSide,
  Box3,
  BufferAttribute,
  BufferGeometry,
  Color,
  Group,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshBasicMaterial,
  ShaderMaterial,
  Sphere,
  Vector2,
  Vector3,
} from 'three';
import type { MeshBVH } from 'three-mesh-bvh';
import type { Display } from '@urnsmith/core/build/display';
import { OFF } from '@urnsmith/core/shading/limits';
import { growTree, raycastTree } from './trees';
import { GhostLines } from './GhostLines';
import { LOOKS, type Looks } from './looks';
import { shared } from './sharedMaterials';
import type { PieceLook, StagePiece } from './stagePiece';

/** Colour and opacity of the wire of a piece that nothing is said of. */
export const PLAIN_WIRE = { color: '#20302e', opacity: 0.55 };

const WIRE = {
  plain: shared(new LineBasicMaterial({ ...PLAIN_WIRE, transparent: true })),
  faint: shared(new LineBasicMaterial({ color: '#8aa39d', transparent: true, opacity: 0.18 })),
};
/** Of the stage, in pixels; told by the stage when it is sized. */
export const VIEW_SIZE = new Vector2(1, 1);
/** Pixels the outline of a selected piece is wide. */
const OUTLINE_WIDTH = 2.4;

/** The back of the piece, grown by some pixels on the screen: what shows of it is its outline. */
const outlineOf = (color: string): ShaderMaterial =>
  new ShaderMaterial({
    side: BackSide,
    uniforms: {
      color: { value: new Color(color) },
      width: { value: OUTLINE_WIDTH },
      size: { value: VIEW_SIZE },
    },
    vertexShader: `
      uniform float width; uniform vec2 size;
      void main() {
        vec4 at = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
        vec3 n = normalMatrix * normal;
        vec2 way = (projectionMatrix * vec4(n, 0.0)).xy * size;
        float l = length(way);
        if (l > 1e-9) at.xy += (way / l) * 2.0 * width / size * at.w;
        gl_Position = at;
      }`,
    fragmentShader:
      'uniform vec3 color; void main() { gl_FragColor = vec4(color, 1.0); \n#include <colorspace_fragment>\n}',
  });
const OUTLINES = { selected: shared(outlineOf('#63d8bd')), hovered: shared(outlineOf('#cfeee4')) };

/** Laid over the faces a step made, and fainter where something is in front of them. */
const MADE_HIDDEN = shared(
  new MeshBasicMaterial({
    color: '#8aa9ff',
    transparent: true,
    opacity: 0.22,
    depthWrite: false,
    depthTest: false,
  }),
);
const MADE = shared(
  new MeshBasicMaterial({
    color: '#8aa9ff',
    transparent: true,
    opacity: 0.6,
    depthWrite: false,
    polygonOffset: true,
    polygonOffsetFactor: -1,
    polygonOffsetUnits: -1,
  }),
);

const GHOST_FILL = shared(
  new MeshBasicMaterial({
    color: '#8aa9ff',
    transparent: true,
    opacity: 0.07,
    depthWrite: false,
  }),
);
/** Takes an attribute's new numbers; into the place on the graphics side that it has, if they are as many. */
function put(g: BufferGeometry, name: string, numbers: Float32Array): void {
  const a = g.attributes[name] as BufferAttribute | undefined;
  if (a?.array.length !== numbers.length) g.setAttribute(name, new BufferAttribute(numbers, 3));
  else {
    a.array = numbers;
    a.needsUpdate = true;
  }
}

/** The current placement of a piece. */
const AROUND = new Sphere();

export class PieceView {
  readonly group = new Group();
  readonly mesh: Mesh;
  private readonly wire: LineSegments;
  private ghostEdges: GhostLines | null = null;
  private outline: Mesh | null = null;
  private made: Mesh | null = null;
  private madeOf: { display: Display | null; by: string } = { display: null, by: '' };
  private readonly geometry = new BufferGeometry();
  private driftGeometry: BufferGeometry | null = null;
  private display: Display | null = null;

  constructor(
    readonly id: string,
    private readonly looks: Looks,
  ) {
    this.mesh = new Mesh(this.geometry);
    // Pointing always uses the tree of the piece's own triangles, whatever geometry is drawn.
    this.mesh.raycast = (ray, hits) => {
      // Trees are grown only of what is pointed at.
      const round = this.geometry.boundingSphere;
      if (!round || !ray.ray.intersectsSphere(AROUND.copy(round).applyMatrix4(this.mesh.matrixWorld))) return;
      growTree(this.geometry);
      const shown = this.mesh.geometry;
      this.mesh.geometry = this.geometry;
      raycastTree.call(this.mesh, ray, hits);
      this.mesh.geometry = shown;
    };
    this.mesh.userData.piece = id;
    this.wire = new LineSegments(new BufferGeometry(), WIRE.plain);
    this.wire.raycast = () => {};
    for (const o of [this.group, this.mesh, this.wire]) o.matrixAutoUpdate = false;
    this.group.add(this.mesh, this.wire);
  }

  /** The piece it last showed. */
  shown: StagePiece | null = null;

  /** The tree of its triangles, for pointing; a large one is ready some time after the first request. */
  get tree(): MeshBVH | undefined {
    growTree(this.geometry);
    return this.geometry.boundsTree as MeshBVH | undefined;
  }

  show(p: StagePiece): void {
    const before = this.shown;
    this.shown = p;
    this.setDisplay(p.display);
    if (p.matrix !== before?.matrix) this.setMatrix(p.matrix);
    this.setLook(p.look);
    this.lightMade(p.made);
    this.group.visible = p.visible;
  }

  /** Its arrays as they are on the graphics side. */
  get arrays(): { surface: BufferGeometry; wire: BufferGeometry } {
    return { surface: this.geometry, wire: this.wire.geometry };
  }

  /** Takes new arrays if they are new. */
  setDisplay(d: Display): void {
    if (d === this.display) return;
    const g = this.geometry;
    put(g, 'position', d.positions);
    put(g, 'normal', d.normals);
    if (d.openness) g.setAttribute('color', new BufferAttribute(greys(d.openness), 3));
    else g.deleteAttribute('color');
    if (d.indices !== this.display?.indices) g.setIndex(new BufferAttribute(d.indices, 1));
    this.display = d;
    g.boundsTree = undefined;
    // The worker has measured it; going over all points again would hold up the page.
    g.boundingBox = new Box3(new Vector3(...d.bounds.min), new Vector3(...d.bounds.max));
    g.boundingSphere = g.boundingBox.getBoundingSphere(new Sphere());
    this.wire.geometry.dispose();
    this.wire.geometry = new BufferGeometry().setAttribute('position', new BufferAttribute(d.wire, 3));
    this.wire.geometry.boundingSphere = g.boundingSphere;
    this.driftGeometry?.dispose();
    this.driftGeometry = null;
    if (this.ghostEdges) {
      this.ghostEdges.dispose();
      this.group.remove(this.ghostEdges);
      this.ghostEdges = null;
    }
  }

  /** Its points have colours of their own. */
  get coloured(): boolean {
    return Boolean(this.display?.openness);
  }

  setMatrix(m: number[]): void {
    this.group.matrix.fromArray(m);
    // Pointing works even while the piece is drawn together with others, outside the scene.
    this.group.updateMatrixWorld(true);
  }

  setLook(look: PieceLook): void {
    const { ghost, wire, look: name, ...surface } = look;
    const { mixesColours, byDrift } = LOOKS[name];
    const coloured = this.coloured && mixesColours === true;
    this.mesh.material = ghost ? GHOST_FILL : this.looks.material(name, { ...surface, coloured });
    this.mesh.geometry = !ghost && byDrift ? this.driftMesh(byDrift) : this.geometry;
    this.mesh.renderOrder = ghost ? 2 : look.faint ? 1 : 0;
    // A selected piece is shown by its outline: its whole wire in a bright colour would be a net over the surface.
    const outlined = look.lit !== 'none' && !ghost && this.display !== null;
    this.wire.visible = !ghost && wire && this.display !== null;
    this.wire.material = look.faint ? WIRE.faint : WIRE.plain;
    this.showOutline(outlined ? (look.lit as 'selected' | 'hovered') : null);
    if (ghost) this.showGhost(look.lit);
    else if (this.ghostEdges) this.ghostEdges.visible = false;
  }

  /** The beads that made the face of a triangle. */
  storyAt(triangle: number): ReadonlyArray<string> {
    const { stories, faceOfTriangle } = this.display!;
    return stories.told[stories.ofFace[faceOfTriangle[triangle]]] ?? [];
  }

  /** Lights up the faces that something made, with the edits by hand where it is a base; nothing for null. */
  lightMade(by: string | null): void {
    if (!by || !this.display) {
      if (this.made) this.made.visible = false;
      return;
    }
    if (!this.made) {
      this.made = new Mesh(new BufferGeometry(), MADE);
      const hidden = new Mesh(this.made.geometry, MADE_HIDDEN);
      this.made.add(hidden);
      for (const m of [this.made, hidden]) m.raycast = () => {};
      this.group.add(this.made);
    }
    this.made.visible = true;
    if (this.madeOf.display === this.display && this.madeOf.by === by) return;
    this.madeOf = { display: this.display, by };
    const { indices, faceOfTriangle, stories } = this.display;
    const lit = stories.told.map(([last]) => last === by || last?.startsWith(`${by}#`));
    const some: number[] = [];
    for (let t = 0; t < faceOfTriangle.length; t++)
      if (lit[stories.ofFace[faceOfTriangle[t]]]) some.push(indices[3 * t], indices[3 * t + 1], indices[3 * t + 2]); // prettier-ignore
    const { geometry } = this.made;
    geometry.setAttribute('position', this.geometry.attributes.position);
    geometry.setIndex(new BufferAttribute(Uint32Array.from(some), 1));
    geometry.boundingSphere = this.geometry.boundingSphere;
  }

  /** The edges around the face a triangle is of, in the world: sides of its triangles that no other of them shares. */
  outlineAt(triangle: number): Array<[Vector3, Vector3]> {
    const d = this.display!;
    const face = d.faceOfTriangle[triangle];
    let [from, to] = [triangle, triangle + 1];
    while (from > 0 && d.faceOfTriangle[from - 1] === face) from--;
    while (to < d.faceOfTriangle.length && d.faceOfTriangle[to] === face) to++;
    const sides = new Map<string, [Vector3, Vector3]>();
    for (let t = from; t < to; t++)
      for (let k = 0; k < 3; k++) {
        const [a, b] = [k, (k + 1) % 3].map((i) =>
          new Vector3().fromArray(d.positions, 3 * d.indices[3 * t + i]),
        );
        const [here, back] = [[a, b], [b, a]].map((s) => s.map((p) => p.toArray().join()).join('|')); // prettier-ignore
        if (!sides.delete(back)) sides.set(here, [a, b]);
      }
    return [...sides.values()].map(([a, b]): [Vector3, Vector3] => [
      a.applyMatrix4(this.group.matrix),
      b.applyMatrix4(this.group.matrix),
    ]);
  }

  dispose(): void {
    this.geometry.dispose();
    this.driftGeometry?.dispose();
    this.wire.geometry.dispose();
    this.ghostEdges?.dispose();
    this.made?.geometry.dispose();
  }

  private showOutline(lit: 'selected' | 'hovered' | null): void {
    if (lit && !this.outline) {
      this.outline = new Mesh(this.geometry, OUTLINES[lit]);
      this.outline.raycast = () => {};
      this.group.add(this.outline);
    }
    if (!this.outline) return;
    this.outline.visible = lit !== null;
    if (lit) this.outline.material = OUTLINES[lit];
  }

  private showGhost(lit: PieceLook['lit']): void {
    if (!this.ghostEdges) {
      this.ghostEdges = new GhostLines(this.geometry, this.display ?? this);
      this.group.add(this.ghostEdges);
    }
    this.ghostEdges.visible = true;
    this.ghostEdges.lit = lit;
  }

  private driftMesh(colour: (degrees: number, out: Color) => Color): BufferGeometry {
    if (this.driftGeometry || !this.display) return this.driftGeometry ?? this.geometry;
    const { positions, indices, drift } = this.display;
    const at = new Float32Array(3 * indices.length);
    for (let i = 0; i < indices.length; i++)
      for (let k = 0; k < 3; k++) at[3 * i + k] = positions[3 * indices[i] + k];
    const g = new BufferGeometry().setAttribute('position', new BufferAttribute(at, 3));
    g.setAttribute('color', new BufferAttribute(driftColours(drift, indices.length, colour), 3));
    g.setAttribute('over', new BufferAttribute(overLimit(this.display), 1));
    return (this.driftGeometry = g);
  }
}

/** Steps of a degree in which drift is coloured, and the most degrees that are told apart. */
const DRIFT_STEPS = 16;
const DRIFT_MOST = 15;
/** The colour of what is not judged. */
const UNJUDGED = new Color('#7d8a87');

/** @param drift degrees per corner; empty where the shading is not judged @returns three numbers per corner */
function driftColours(
  drift: Float32Array,
  corners: number,
  colour: (degrees: number, out: Color) => Color,
): Float32Array {
  const out = new Float32Array(3 * corners);
  if (!drift.length) {
    for (let i = 0; i < corners; i++) UNJUDGED.toArray(out, 3 * i);
    return out;
  }
  const steps = DRIFT_STEPS * DRIFT_MOST;
  const table = new Float32Array(3 * (steps + 1));
  const c = new Color();
  for (let k = 0; k <= steps; k++) colour(k / DRIFT_STEPS, c).toArray(table, 3 * k);
  for (let i = 0; i < corners; i++) {
    const from = 3 * Math.min(steps, Math.round(drift[i] * DRIFT_STEPS));
    for (let k = 0; k < 3; k++) out[3 * i + k] = table[from + k];
  }
  return out;
}

/** 1 per triangle corner of faces that are off by too much anywhere. */
function overLimit({
  drift,
  indices,
  faceOfTriangle,
}: Pick<Display, 'drift' | 'indices' | 'faceOfTriangle'>): Float32Array {
  const out = new Float32Array(indices.length);
  const over = new Set<number>();
  for (let i = 0; i < drift.length; i++) if (drift[i] > OFF) over.add(faceOfTriangle[(i / 3) | 0]);
  if (over.size) faceOfTriangle.forEach((f, i) => over.has(f) && out.fill(1, 3 * i, 3 * i + 3));
  return out;
}

/** A grey per point, as a material mixes it in. */
function greys(shares: Float32Array): Float32Array {
  const out = new Float32Array(3 * shares.length);
  shares.forEach((x, i) => out.fill(x, 3 * i, 3 * i + 3));
  return out;
}

/**
 * Many pieces of one shape drawn at once: one call for all their surfaces and one for their wires. Pieces that anything
 * is said of (selected, pointed at, ghosts) are drawn by themselves.
 */
import {
  Color,
  InstancedBufferAttribute,
  InstancedBufferGeometry,
  InstancedMesh,
  LineSegments,
  Matrix4,
  ShaderMaterial,
  type Scene,
} from 'three';
import { LOOKS, type Looks } from './looks';
import { PLAIN_WIRE, type PieceView } from './PieceView';
import { shared } from './sharedMaterials';
import type { StagePiece } from './stagePiece';

/** Fewer are drawn one by one as quickly. */
const MANY = 4;

/** Lines that are placed by a matrix each, as an instanced mesh is. */
const WIRE = shared(
  new ShaderMaterial({
    transparent: true,
    uniforms: { color: { value: new Color(PLAIN_WIRE.color) }, opacity: { value: PLAIN_WIRE.opacity } },
    vertexShader: `
    attribute vec4 place0; attribute vec4 place1; attribute vec4 place2; attribute vec4 place3;
    void main() {
      mat4 place = mat4(place0, place1, place2, place3);
      gl_Position = projectionMatrix * (viewMatrix * (place * vec4(position, 1.0)));
    }`,
    fragmentShader:
      'uniform vec3 color; uniform float opacity; void main() { gl_FragColor = vec4(color, opacity); \n#include <tonemapping_fragment>\n#include <colorspace_fragment>\n}',
  }),
);

export class Crowds {
  private readonly crowds = new Map<string, Crowd>();

  constructor(
    private readonly scene: Scene,
    private readonly looks: Looks,
  ) {}

  /** Takes the views that are alike out of the scene's own drawing, and draws them together. Linear in views. */
  show(views: ReadonlyMap<string, PieceView>): void {
    const alike = new Map<string, PieceView[]>();
    for (const v of views.values()) {
      const key = crowdKey(v);
      if (key === null) continue;
      const list = alike.get(key);
      if (list) list.push(v);
      else alike.set(key, [v]);
    }
    for (const [key, list] of alike) if (list.length < MANY) alike.delete(key);
    for (const [key, crowd] of this.crowds)
      if (!alike.has(key)) {
        crowd.dispose(this.scene);
        this.crowds.delete(key);
      }
    const together = new Set<PieceView>();
    for (const [key, list] of alike) {
      let crowd = this.crowds.get(key);
      if (!crowd?.holds(list)) {
        crowd?.dispose(this.scene);
        this.crowds.set(key, (crowd = new Crowd(this.scene, this.looks, list)));
      }
      crowd.place(list);
      for (const v of list) together.add(v);
    }
    for (const v of views.values())
      if (together.has(v)) v.group.removeFromParent();
      else if (!v.group.parent) this.scene.add(v.group);
  }

  dispose(): void {
    for (const c of this.crowds.values()) c.dispose(this.scene);
    this.crowds.clear();
  }
}

/** The key that pieces drawn together share; null for a piece drawn by itself. */
function crowdKey({ shown }: PieceView): string | null {
  if (!shown?.shape || !shown.visible || shown.made) return null;
  const { ghost, lit, look, wire, xray, faint } = shown.look;
  if (ghost || faint || lit !== 'none' || !LOOKS[look].crowds) return null;
  return `${look} ${wire} ${xray} ${shown.shape}`;
}

class Crowd {
  private readonly mesh: InstancedMesh;
  private readonly wire: LineSegments;
  private readonly places: InstancedBufferAttribute[];
  private readonly capacity: number;
  private readonly placed: StagePiece[] = [];

  constructor(scene: Scene, looks: Looks, list: ReadonlyArray<PieceView>) {
    const { look } = list[0].shown!;
    // Room to grow, so that a piece that leaves and comes back makes nothing new.
    this.capacity = Math.ceil(list.length * 1.25) + 8;
    const arrays = list[0].arrays;
    const surface = arrays.surface.clone();
    this.mesh = new InstancedMesh(
      surface,
      looks.material(look.look, {
        xray: look.xray,
        faint: look.faint,
        lit: look.lit,
        color: '#ffffff',
        coloured: list[0].coloured,
      }),
      this.capacity,
    );
    this.mesh.frustumCulled = false;
    this.mesh.raycast = () => {};
    const geometry = new InstancedBufferGeometry().copy(arrays.wire as InstancedBufferGeometry);
    this.places = [0, 1, 2, 3].map(
      () => new InstancedBufferAttribute(new Float32Array(4 * this.capacity), 4),
    );
    this.places.forEach((a, k) => geometry.setAttribute(`place${k}`, a));
    this.wire = new LineSegments(geometry, WIRE);
    this.wire.frustumCulled = false;
    this.wire.raycast = () => {};
    this.wire.visible = look.wire;
    scene.add(this.mesh, this.wire);
  }

  holds = (list: ReadonlyArray<PieceView>): boolean => list.length <= this.capacity;

  /** Writes the places and colours of those that are not as they were. */
  place(list: ReadonlyArray<PieceView>): void {
    let [moved, coloured] = [false, false];
    list.forEach(({ shown }, i) => {
      const before = this.placed[i];
      if (before === shown) return;
      this.placed[i] = shown!;
      const { matrix, look } = shown!;
      if (before?.matrix !== matrix) {
        moved = true;
        this.mesh.setMatrixAt(i, PLACE.fromArray(matrix));
        for (let k = 0; k < 4; k++)
          for (let r = 0; r < 4; r++) this.places[k].array[4 * i + r] = matrix[4 * k + r];
      }
      if (before?.look.color !== look.color) {
        coloured = true;
        this.mesh.setColorAt(i, COLOR.set(look.color));
      }
    });
    this.mesh.count = list.length;
    (this.wire.geometry as InstancedBufferGeometry).instanceCount = list.length;
    if (moved) for (const a of [this.mesh.instanceMatrix, ...this.places]) a.needsUpdate = true;
    if (coloured) this.mesh.instanceColor!.needsUpdate = true;
  }

  dispose(scene: Scene): void {
    scene.remove(this.mesh, this.wire);
    this.mesh.dispose();
    this.mesh.geometry.dispose();
    this.wire.geometry.dispose();
  }
}
const PLACE = new Matrix4();
const COLOR = new Color();

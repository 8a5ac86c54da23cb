/** Handles for moving, turning and resizing: constant size on screen, drawn over everything. */
import {
  BoxGeometry,
  Color,
  CylinderGeometry,
  Group,
  Mesh,
  MeshBasicMaterial,
  OctahedronGeometry,
  PlaneGeometry,
  Quaternion,
  TorusGeometry,
  Vector3,
  type BufferGeometry,
  type Object3D,
  type Raycaster,
} from 'three';
import type { Tool } from './terms';

export const AXIS_COLORS = ['#e0736b', '#8fce7a', '#7b9cf2'];
const AXES = [new Vector3(1, 0, 0), new Vector3(0, 1, 0), new Vector3(0, 0, 1)];

export interface Grip {
  tool: Exclude<Tool, 'select'>;
  /** Axes the grip acts on; all three for the middle. */
  axes: number[];
}

export class Gizmo {
  readonly root = new Group();
  private tool: Tool = 'select';
  private hot: Object3D | null = null;

  constructor() {
    this.root.visible = false;
  }

  setTool(tool: Tool): void {
    if (tool === this.tool) return;
    this.tool = tool;
    this.root.clear();
    this.hot = null;
    if (tool === 'move') this.makeMove();
    else if (tool === 'turn') this.makeTurn();
    else if (tool === 'resize') this.makeResize();
  }

  /** @param view from the handles to the eye; grips that cannot be used from there are taken away */
  place(at: Vector3 | null, turn: Quaternion, scale: number, view: Vector3): void {
    this.root.visible = at !== null && this.tool !== 'select';
    if (!at) return;
    this.root.position.copy(at);
    this.root.quaternion.copy(turn);
    this.root.scale.setScalar(scale);
    this.root.updateMatrixWorld(true);
    const along = AXES.map((a) => Math.abs(a.clone().applyQuaternion(turn).dot(view)));
    for (const o of this.root.children) {
      const { tool, axes } = o.userData.grip as Grip;
      const endOn = tool !== 'turn' && axes.length === 1 && along[axes[0]] > 0.985;
      const edgeOn = axes.length === 2 && along[[0, 1, 2].find((k) => !axes.includes(k))!] < 0.12;
      o.visible = !endOn && !edgeOn;
    }
  }

  /** The grip under the pointer. */
  hit(raycaster: Raycaster): { grip: Grip; object: Object3D } | null {
    if (!this.root.visible) return null;
    const hits = raycaster.intersectObjects(
      this.root.children.filter((o) => o.visible),
      true,
    );
    // Small grips win over the planes and rings behind them.
    hits.sort(
      (a, b) =>
        (a.object.userData.order as number) - (b.object.userData.order as number) || a.distance - b.distance,
    );
    const o = hits[0]?.object;
    return o ? { grip: o.userData.grip as Grip, object: o } : null;
  }

  /** Lights up one grip; true when that changed anything. */
  light(object: Object3D | null): boolean {
    const owner = (object?.userData.shows as Object3D | undefined) ?? object;
    if (owner === this.hot) return false;
    for (const o of [this.hot, owner])
      if (o instanceof Mesh) {
        const m = o.material as MeshBasicMaterial;
        m.color.set(o === owner ? '#f3e2ae' : (o.userData.color as string));
      }
    this.hot = owner ?? null;
    return true;
  }

  private part(geometry: BufferGeometry, color: string, grip: Grip, order: number, opacity = 1): Mesh {
    const m = new Mesh(
      geometry,
      new MeshBasicMaterial({
        color,
        depthTest: false,
        depthWrite: false,
        transparent: true,
        opacity,
        side: 2,
      }),
    );
    m.renderOrder = 20 - order;
    m.userData = { grip, color, order };
    this.root.add(m);
    return m;
  }

  /** A wider unseen shape that makes a thin one easy to take. */
  private pad(geometry: BufferGeometry, shows: Mesh): void {
    const m = new Mesh(geometry, new MeshBasicMaterial({ visible: false }));
    m.userData = { ...shows.userData, shows };
    m.quaternion.copy(shows.quaternion);
    this.root.add(m);
  }

  private shafts(tool: 'move' | 'resize', tip: () => BufferGeometry): void {
    AXES.forEach((axis, i) => {
      const q = new Quaternion().setFromUnitVectors(AXES[1], axis);
      const grip: Grip = { tool, axes: [i] };
      const shaft = this.part(
        new CylinderGeometry(0.012, 0.012, 0.72).translate(0, 0.54, 0),
        AXIS_COLORS[i],
        grip,
        1,
      );
      const head = this.part(tip().translate(0, 0.98, 0), AXIS_COLORS[i], grip, 0);
      for (const m of [shaft, head]) m.quaternion.copy(q);
      shaft.userData.shows = head;
      this.pad(new CylinderGeometry(0.08, 0.08, 0.95).translate(0, 0.62, 0), head);
    });
  }

  private makeMove(): void {
    this.shafts('move', () => new OctahedronGeometry(0.1).scale(0.75, 1.35, 0.75));
    AXES.forEach((axis, i) => {
      const pad = this.part(
        new PlaneGeometry(0.2, 0.2).rotateZ(Math.PI / 4),
        AXIS_COLORS[i],
        { tool: 'move', axes: [0, 1, 2].filter((k) => k !== i) },
        2,
        0.55,
      );
      pad.quaternion.setFromUnitVectors(AXES[2], axis);
      pad.position.set(0.4, 0.4, 0.4).addScaledVector(axis, -0.4);
    });
    this.part(new OctahedronGeometry(0.09), '#e9ece4', { tool: 'move', axes: [0, 1, 2] }, 0);
  }

  private makeTurn(): void {
    AXES.forEach((axis, i) => {
      const grip: Grip = { tool: 'turn', axes: [i] };
      const ring = this.part(new TorusGeometry(0.92, 0.014, 8, 96), AXIS_COLORS[i], grip, 1);
      ring.quaternion.setFromUnitVectors(AXES[2], axis);
      this.pad(new TorusGeometry(0.92, 0.07, 6, 64), ring);
    });
  }

  private makeResize(): void {
    this.shafts('resize', () => new BoxGeometry(0.13, 0.13, 0.13));
    this.part(new BoxGeometry(0.16, 0.16, 0.16), '#e9ece4', { tool: 'resize', axes: [0, 1, 2] }, 0);
  }
}

export const axisVector = (i: number): Vector3 => AXES[i].clone();
export const axisColor = (i: number): Color => new Color(AXIS_COLORS[i]);

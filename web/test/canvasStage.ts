/** A stage for pointing without a graphics card: the real camera, cage and piece views over a bare canvas. */
import { Makers } from '@urnsmith/core/births/Makers';
import { Box3, DoubleSide, MeshBasicMaterial, Plane, Raycaster, Vector2, Vector3 } from 'three';
import type { PolyMesh } from '@urnsmith/core/mesh/PolyMesh';
import type { Matrix } from '@urnsmith/core/mesh/transform';
import { cageOf } from '@urnsmith/core/build/cage';
import { displayOf } from '@urnsmith/core/build/display';
import { CageView } from '../src/viewport/CageView';
import { CameraRig } from '../src/viewport/CameraRig';
import { PieceView } from '../src/viewport/PieceView';
import type { Stage } from '../src/viewport/Stage';
import type { WholeCage } from '../src/workers/builds';

const IDENTITY: Matrix = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];
/** Where the canvas lies in the window. */
export const BOX = { left: 100, top: 50, width: 800, height: 600 };

export class CanvasStage {
  readonly rig = new CameraRig();
  readonly cage = new CageView();
  readonly box = BOX;
  readonly canvas = {
    getBoundingClientRect: () => BOX,
    clientWidth: BOX.width,
    clientHeight: BOX.height,
  };
  private readonly others: PieceView[] = [];

  constructor() {
    this.rig.resize(BOX.width, BOX.height);
    this.rig.parallel = true;
    this.rig.distance = 100;
  }

  get asStage(): Stage {
    return this as unknown as Stage;
  }

  /** Takes a mesh in hand, with some of its points picked at a level. */
  hold(mesh: PolyMesh, matrix: Matrix = IDENTITY): void {
    const look = {
      level: 'point' as const,
      picked: [],
      pointed: null,
      pointSize: 7,
      through: false,
      soft: null,
      ranks: false,
    };
    this.cage.show(cageOf(mesh, null) as WholeCage, matrix, look);
  }

  /** Puts another piece on the stage. */
  add(id: string, mesh: PolyMesh, matrix: Matrix = IDENTITY): void {
    const view = new PieceView(id, undefined as never);
    view.setDisplay(displayOf({ mesh, steps: [], makers: new Makers(), draft: false }, 0));
    view.setMatrix(matrix);
    view.group.updateMatrixWorld(true);
    this.others.push(view);
  }

  pointer(x: number, y: number): Vector2 {
    return new Vector2(((x - BOX.left) / BOX.width) * 2 - 1, 1 - ((y - BOX.top) / BOX.height) * 2);
  }

  project(p: Vector3): { x: number; y: number } | null {
    const v = p.clone().project(this.rig.camera);
    return { x: ((v.x + 1) / 2) * BOX.width, y: ((1 - v.y) / 2) * BOX.height };
  }

  aim(x: number, y: number): Raycaster {
    const ray = new Raycaster();
    ray.firstHitOnly = true;
    this.rig.apply();
    ray.setFromCamera(this.pointer(x, y), this.rig.camera);
    return ray;
  }

  onSight(x: number, y: number): Vector3 {
    const plane = new Plane().setFromNormalAndCoplanarPoint(this.rig.back, this.rig.target);
    return this.rig.ray(this.pointer(x, y)).intersectPlane(plane, new Vector3())!;
  }

  faceAt(x: number, y: number, without?: ReadonlySet<string>) {
    const shown = this.others.filter((v) => !without?.has(v.id));
    const hit = this.aim(x, y).intersectObjects(
      shown.map((v) => v.mesh),
      false,
    )[0];
    if (!hit) return null;
    const view = shown.find((v) => v.mesh === hit.object)!;
    return {
      piece: view.id,
      point: hit.point,
      normal: hit.face!.normal,
      outline: view.outlineAt(hit.faceIndex!),
    };
  }

  pick(x: number, y: number, without?: ReadonlySet<string>) {
    return this.faceAt(x, y, without);
  }

  along(id: string, from: Vector3, along: Vector3): number[] {
    const view = this.others.find((v) => v.id === id);
    if (!view) return [];
    view.mesh.material = new MeshBasicMaterial({ side: DoubleSide });
    const hits = new Raycaster(from, along).intersectObject(view.mesh, false).map((h) => h.distance);
    return hits.filter((d, k) => k === 0 || d - hits[k - 1] > 1e-6);
  }

  bounds(ids: Iterable<string>): Box3 {
    const some = new Set(ids);
    const box = new Box3();
    for (const v of this.others) if (some.has(v.id)) box.expandByObject(v.mesh);
    return box;
  }

  /** The place last shown as snapped to. */
  snap: Vector3 | null = null;
  showSnap(at: Vector3 | null): void {
    this.snap = at;
  }

  /** Client pixels at which a place in the world is drawn. */
  at(x: number, y: number, z: number): [number, number] {
    const p = this.project(new Vector3(x, y, z))!;
    return [p.x + BOX.left, p.y + BOX.top];
  }
}

/** The 3D stage: scene, camera, drawing on demand, picking. Knows pieces, not React. */
import {
  Box3,
  DirectionalLight,
  HemisphereLight,
  Matrix4,
  DoubleSide,
  Plane,
  Ray,
  Quaternion,
  Raycaster,
  Scene,
  Vector2,
  Vector3,
} from 'three';
import * as Comlink from 'comlink';
import type { Matrix } from '@urnsmith/core/mesh/transform';
import type { Tool } from './terms';
import type { PictureWorker } from '../workers/picture.worker';
import { Cages, type ShownCage } from './Cages';
import type { Ahead } from './Ahead';
import type { CageView } from './CageView';
import { CameraRig } from './CameraRig';
import { Crowds } from './Crowds';
import type { Rect } from './freePlace';
import { Gizmo } from './Gizmo';
import { Grid } from './Grid';
import { PegMark, snapMark } from './marks';
import { PieceView, VIEW_SIZE } from './PieceView';
import { leaveScreen, takeScreen } from './screens';
import { letGoOfShared } from './sharedMaterials';
import type { StagePiece } from './stagePiece';
import { DrawnLines } from './DrawnLines';
import { WideLines } from './WideLines';

export type { StagePiece };

export interface StageSettings {
  grid: boolean;
  gridStep: number;
  /** The frame of the seated grid; level without one. */
  gridFrame?: Matrix | null;
  parallel: boolean;
  tool: Tool;
  /** Place and rotation of the handles; without a matrix they follow the view. */
  handle: { at: [number, number, number]; matrix: Matrix | null } | null;
  /** Segments to light up, in the world. */
  faults: Float32Array | null;
  /** Segments that the step on the Card takes, in the world. */
  taken?: Float32Array | null;
  /** The meshes whose elements are edited, the one that leads last. */
  cages?: ReadonlyArray<ShownCage>;
  /** Lines being drawn: pairs of points in the world. */
  lines?: Array<[number, number, number]> | null;
  /** Shading normals, held by hand and free, in the world. */
  normals?: { held: Float32Array; free: Float32Array } | null;
  /** The place of the peg. */
  peg?: Matrix | null;
}

export interface Pick {
  piece: string;
  point: Vector3;
  /** Unit normal of the face that was hit, in the world. */
  normal: Vector3;
  /** The beads that made the face that was hit, the last first. */
  story: ReadonlyArray<string>;
}

let pictureWorker: Comlink.Remote<PictureWorker> | null = null;
const pictures = (): Comlink.Remote<PictureWorker> =>
  (pictureWorker ??= Comlink.wrap<PictureWorker>(
    new Worker(new URL('../workers/picture.worker.ts', import.meta.url), { type: 'module' }),
  ));

export class Stage {
  readonly rig = new CameraRig();
  readonly gizmo = new Gizmo();
  readonly cages = new Cages();
  private readonly screen = takeScreen();
  private readonly renderer = this.screen.renderer;
  readonly canvas = this.screen.canvas;
  private readonly scene = new Scene();
  private readonly views = new Map<string, PieceView>();
  private readonly pickable = new Set<string>();
  private readonly crowds = new Crowds(this.scene, this.screen.looks);
  private readonly grid = new Grid();
  private readonly peg = new PegMark();
  private readonly mark = snapMark();
  private readonly key = new DirectionalLight('#fffaf0', 2.6);
  private readonly rim = new DirectionalLight('#e2ecf2', 0.7);
  private readonly faults = new WideLines({ color: '#ff8a4c', width: 2.6, edge: 1.4 });
  private readonly taken = new WideLines({ color: '#f2e9d2', width: 1.6, edge: 1 });
  private readonly heldNormals = new WideLines({ color: '#f7b955', width: 1.6, edge: 1 });
  private readonly freeNormals = new WideLines({ color: '#f2ede0', width: 1.2, edge: 1 });
  private readonly drawnLines = new DrawnLines();
  private ahead: Ahead | null = null;
  private settings: StageSettings | null = null;
  private frame = 0;
  private readonly listeners = new Set<() => void>();
  private readonly raycaster = new Raycaster();
  /** The pointer's last place, in client pixels. */
  pointerAt = { x: 0, y: 0 };
  /** Bars over the picture, pixels from its top left. */
  bars: () => readonly Rect[] = () => [];
  /** Frames drawn; tests and measurements wait on it. */
  frames = 0;

  /** @param home the element to draw in; without one, pictures only */
  constructor(home?: Element) {
    home?.prepend(this.canvas);
    this.heldNormals.order = 9;
    this.freeNormals.order = 9;
    this.taken.order = 9;
    this.faults.order = 10;
    this.faults.through = true;
    this.scene.add(
      new HemisphereLight('#eef2ee', '#4a4a44', 1.1),
      this.key,
      this.rim,
      this.key.target,
      this.rim.target,
    );
    this.scene.add(
      this.grid,
      this.taken,
      this.faults,
      this.drawnLines,
      this.cages.group,
      this.gizmo.root,
      this.peg,
      this.mark,
    );
    this.cages.group.add(this.heldNormals, this.freeNormals);
    this.raycaster.firstHitOnly = true;
    // Materials needed only later (cage, soft points, marks) are compiled ahead, not on first use.
    void this.renderer.compileAsync(this.scene, this.rig.camera);
    if (home) void this.lookAhead();
  }

  private async lookAhead(): Promise<void> {
    const { Ahead } = await import('./Ahead');
    if (!this.canvas.isConnected) return;
    this.ahead = new Ahead(this.renderer, this.rig.camera, this.scene, this.screen.looks);
    this.ahead.wait();
  }

  /** Brings the stage in line with the pieces to show. */
  show(pieces: StagePiece[], settings: StageSettings): void {
    this.settings = settings;
    this.showPieces(pieces);
    this.rig.parallel = settings.parallel;
    this.grid.seat(settings.gridFrame ?? null);
    this.gizmo.setTool(settings.tool);
    this.faults.show(settings.faults);
    this.taken.show(settings.taken ?? null);
    this.heldNormals.show(settings.normals?.held ?? null);
    this.freeNormals.show(settings.normals?.free ?? null);
    this.cages.show(settings.cages ?? []);
    this.drawnLines.show(settings.lines ?? []);
    this.peg.stand(settings.peg ?? null);
    this.redraw();
  }

  /** Touches only the views of pieces that are not as they were last shown. */
  private showPieces(pieces: StagePiece[]): void {
    let changed = pieces.length !== this.views.size;
    if (changed) {
      const wanted = new Set(pieces.map((p) => p.id));
      for (const id of [...this.views.keys()]) if (!wanted.has(id)) this.drop(id);
    }
    for (const p of pieces) {
      let view = this.views.get(p.id);
      if (view?.shown === p) continue;
      changed = true;
      if (!view) {
        view = new PieceView(p.id, this.screen.looks);
        this.views.set(p.id, view);
      }
      view.show(p);
      if (p.visible && p.pickable) this.pickable.add(p.id);
      else this.pickable.delete(p.id);
    }
    // Something else has come in the place of something that is gone.
    if (this.views.size > pieces.length) return this.showPieces(pieces);
    if (changed) this.crowds.show(this.views);
  }

  /** The cage of the piece that leads. */
  get cage(): CageView {
    return this.cages.lead;
  }

  private drop(id: string): void {
    const view = this.views.get(id)!;
    this.scene.remove(view.group);
    view.dispose();
    this.views.delete(id);
    this.pickable.delete(id);
  }

  /** Cost of the last frame, for measurements. */
  get drawn(): { pieces: number; calls: number } {
    return { pieces: this.views.size, calls: this.renderer.info.render.calls };
  }

  /** A dot where a drag snaps to, or none. */
  showSnap(at: Vector3 | null): void {
    this.mark.visible = at !== null;
    if (at) this.mark.position.copy(at);
    this.redraw();
  }

  /**
   * The place of the canvas, client pixels. It is measured when it may have changed and nothing else has, so that neither
   * a moving pointer nor a handle makes the page lay everything out.
   */
  box: DOMRect = this.canvas.getBoundingClientRect();

  remeasure(): void {
    this.box = this.canvas.getBoundingClientRect();
  }

  resize(width: number, height: number): void {
    this.remeasure();
    this.renderer.setSize(width, height, false);
    VIEW_SIZE.set(width, height);
    this.rig.resize(width, height);
    this.redraw();
  }

  /** Brings a box of the world into the part of the view that is free of bars. */
  bringIntoView(box: Box3, margin?: number): void {
    this.rig.frame(box, { margin, bars: this.bars() });
    this.redraw();
  }

  redraw(): void {
    this.frame ||= requestAnimationFrame(() => {
      this.frame = 0;
      this.draw();
    });
  }

  /** Called after every frame, for what is laid over the picture. */
  onFrame(f: () => void): () => void {
    this.listeners.add(f);
    return () => this.listeners.delete(f);
  }

  /** Pixel position of a world point, from the canvas's top left; null behind the camera. */
  project(p: Vector3): { x: number; y: number } | null {
    const v = p.clone().project(this.rig.camera);
    if (v.z > 1 || v.z < -1) return null;
    return { x: ((v.x + 1) / 2) * this.box.width, y: ((1 - v.y) / 2) * this.box.height };
  }

  /** Says whether pieces that are to be seen are still being built. */
  setBusy(busy: boolean): void {
    this.canvas.ariaBusy = String(busy);
  }

  pointer(x: number, y: number): Vector2 {
    const { box } = this;
    return new Vector2(((x - box.left) / box.width) * 2 - 1, 1 - ((y - box.top) / box.height) * 2);
  }

  /** The place under the pointer on the plane through what is looked at, facing the eye; in the world. */
  onSight(x: number, y: number): Vector3 {
    const plane = new Plane().setFromNormalAndCoplanarPoint(this.rig.back, this.rig.target);
    return this.rig.ray(this.pointer(x, y)).intersectPlane(plane, new Vector3()) ?? this.rig.target.clone();
  }

  aim(x: number, y: number): Raycaster {
    this.rig.apply();
    this.raycaster.setFromCamera(this.pointer(x, y), this.rig.camera);
    return this.raycaster;
  }

  /** The nearest piece under the pointer; ghosts only when nothing solid is. */
  pick(x: number, y: number, without?: ReadonlySet<string>): Pick | null {
    return this.hit(x, y, without)?.pick ?? null;
  }

  /** The nearest of some pieces under the pointer, visible or not. */
  pickAmong(ids: Iterable<string>, x: number, y: number): string | null {
    const ray = this.aim(x, y);
    const meshes = [...ids].flatMap((id) => this.views.get(id)?.mesh ?? []);
    return (ray.intersectObjects(meshes, false)[0]?.object.userData.piece as string | undefined) ?? null;
  }

  /** The face under the pointer with the edges around it, in the world. */
  faceAt(
    x: number,
    y: number,
    without?: ReadonlySet<string>,
  ): (Pick & { outline: Array<[Vector3, Vector3]> }) | null {
    const found = this.hit(x, y, without);
    if (!found) return null;
    const view = this.views.get(found.pick.piece)!;
    return { ...found.pick, outline: view.outlineAt(found.triangle) };
  }

  private hit(x: number, y: number, without?: ReadonlySet<string>): { pick: Pick; triangle: number } | null {
    const ray = this.aim(x, y);
    const meshes = [...this.pickable].filter((id) => !without?.has(id)).map((id) => this.views.get(id)!.mesh);
    const hits = ray.intersectObjects(meshes, false);
    const hit = hits.find((h) => h.object.renderOrder !== 2) ?? hits[0];
    if (!hit) return null;
    const normal = (hit.face?.normal ?? new Vector3(0, 1, 0))
      .clone()
      .transformDirection(hit.object.matrixWorld);
    const piece = hit.object.userData.piece as string;
    const triangle = hit.faceIndex ?? 0;
    const story = this.views.get(piece)!.storyAt(triangle);
    return { pick: { piece, point: hit.point, normal, story }, triangle };
  }

  /** How far along a line a piece's surface is met, each time, mm, nearest first. @param along of length 1 */
  along(id: string, from: Vector3, along: Vector3): number[] {
    const view = this.views.get(id);
    const tree = view?.tree;
    if (!view || !tree) return [];
    const back = view.mesh.matrixWorld.clone().invert();
    // A ray is moved in place, and these are measured from after.
    const ray = new Ray(from.clone(), along.clone()).applyMatrix4(back);
    const hits = tree.raycast(ray, DoubleSide);
    const far = hits.map((h) => h.point.clone().applyMatrix4(view.mesh.matrixWorld).distanceTo(from));
    // Two triangles met in their common edge are one.
    return far.sort((a, b) => a - b).filter((d, k) => k === 0 || d - far[k - 1] > 1e-6);
  }

  /** Pieces whose middle of bounds, or any of whose bounds' corners, falls into a pixel rectangle. */
  inBox(x0: number, y0: number, x1: number, y1: number): string[] {
    const { box } = this;
    const [l, r] = [Math.min(x0, x1) - box.left, Math.max(x0, x1) - box.left];
    const [t, b] = [Math.min(y0, y1) - box.top, Math.max(y0, y1) - box.top];
    return [...this.pickable].filter((id) => {
      const v = this.views.get(id)!;
      const bounds = v.mesh.geometry.boundingBox;
      if (!bounds) return false;
      const p = this.project(bounds.getCenter(new Vector3()).applyMatrix4(v.group.matrix));
      return p !== null && p.x >= l && p.x <= r && p.y >= t && p.y <= b;
    });
  }

  /** World bounds of some pieces, or of all that are visible. */
  bounds(ids?: Iterable<string>): Box3 {
    const box = new Box3();
    for (const id of ids ?? this.views.keys()) {
      const v = this.views.get(id);
      if (!v || (!ids && !this.pickable.has(id))) continue;
      const b = v.mesh.geometry.boundingBox;
      if (b) box.union(b.clone().applyMatrix4(v.group.matrix));
    }
    return box;
  }

  /** A picture of the stage without handles, as PNG. */
  async picture(width: number, height: number): Promise<Blob> {
    const shown = [this.gizmo.root.visible, this.grid.visible, this.faults.visible, this.cages.group.visible];
    const { parallel } = this.rig;
    [this.gizmo.root.visible, this.faults.visible, this.cages.group.visible] = [false, false, false];
    this.draw();
    const drawn = createImageBitmap(this.canvas);
    [this.gizmo.root.visible, this.grid.visible, this.faults.visible, this.cages.group.visible] = shown;
    this.rig.parallel = parallel;
    this.redraw();
    return pictures().card(Comlink.transfer(await drawn, [await drawn]), width, height);
  }

  dispose(): void {
    cancelAnimationFrame(this.frame);
    this.ahead?.stop();
    for (const v of this.views.values()) v.dispose();
    this.crowds.dispose();
    this.cages.dispose();
    for (const lines of [this.faults, this.taken, this.heldNormals, this.freeNormals]) lines.dispose();
    this.drawnLines.dispose();
    letGoOfShared();
    leaveScreen(this.screen);
  }

  /** Draws now. */
  draw(): void {
    const s = this.settings;
    this.rig.apply();
    // Light comes from over the viewer's left shoulder, wherever the camera goes.
    const right = new Vector3().crossVectors(this.rig.up, this.rig.back);
    const at = this.rig.target;
    this.key.target.position.copy(at);
    this.key.position
      .copy(at)
      .addScaledVector(this.rig.back, 0.75)
      .addScaledVector(this.rig.up, 0.9)
      .addScaledVector(right, -0.65);
    this.rim.target.position.copy(at);
    this.rim.position.copy(at).addScaledVector(right, 1).addScaledVector(this.rig.back, -0.35);
    this.grid.visible = s?.grid ?? true;
    this.grid.fit(s?.gridStep ?? 10, this.rig.pixelSize(at), this.rig.distance, at);
    this.placeGizmo();
    this.peg.fit(this.rig.pixelSize(this.peg.position));
    this.renderer.render(this.scene, this.rig.camera);
    this.ahead?.wait();
    this.frames++;
    for (const f of this.listeners) f();
  }

  private placeGizmo(): void {
    const h = this.settings?.handle;
    if (!h) return this.gizmo.place(null, new Quaternion(), 1, this.rig.back);
    const at = new Vector3(...h.at);
    const turn = new Quaternion();
    if (h.matrix) new Matrix4().fromArray(h.matrix).decompose(new Vector3(), turn, new Vector3());
    else turn.setFromRotationMatrix(new Matrix4().makeBasis(...this.rig.axes()));
    const { rig } = this;
    const view = rig.parallel ? rig.back : rig.camera.position.clone().sub(at).normalize();
    this.gizmo.place(at, turn, rig.pixelSize(at) * 84, view);
  }
}

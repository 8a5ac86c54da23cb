/** The camera: a target it turns about, a direction, a distance; perspective or parallel. */
import { Box3, MathUtils, OrthographicCamera, PerspectiveCamera, Plane, Ray, Vector2, Vector3 } from 'three';

import { freePlace, type Rect } from './freePlace';

const FIELD = 32;
/** Share of its size in the whole view below which a model is no longer fitted between bars. */
const LEAST = 0.45;
/** The outline kept clear of bars is this much larger, so that there is room to press beside the model. */
const ROOM = 1.16;

export type View = 'front' | 'back' | 'left' | 'right' | 'top' | 'bottom';
/** Yaw and pitch of the square-on views, degrees. */
const VIEWS: Record<View, [number, number]> = {
  front: [0, 0],
  back: [180, 0],
  right: [90, 0],
  left: [-90, 0],
  top: [0, 90],
  bottom: [0, -90],
};

export class CameraRig {
  readonly target = new Vector3();
  yaw = 36;
  pitch = 28;
  distance = 400;
  parallel = false;
  private readonly perspective = new PerspectiveCamera(FIELD, 1, 1, 1e5);
  private readonly ortho = new OrthographicCamera(-1, 1, 1, -1, -1e5, 1e5);
  private width = 1;
  private height = 1;
  /** Pixels from the middle of the view at which the target is seen. */
  private off: [number, number] = [0, 0];

  get camera(): PerspectiveCamera | OrthographicCamera {
    return this.parallel ? this.ortho : this.perspective;
  }

  /** Direction from the target to the camera. */
  get back(): Vector3 {
    const y = MathUtils.degToRad(this.yaw);
    const p = MathUtils.degToRad(this.pitch);
    return new Vector3(Math.sin(y) * Math.cos(p), Math.sin(p), Math.cos(y) * Math.cos(p));
  }

  /** Right, up and toward the eye, in the world. */
  axes(): [Vector3, Vector3, Vector3] {
    const { up, back } = this;
    return [new Vector3().crossVectors(up, back), up, back];
  }

  get up(): Vector3 {
    const y = MathUtils.degToRad(this.yaw);
    const p = MathUtils.degToRad(this.pitch);
    return new Vector3(-Math.sin(y) * Math.sin(p), Math.cos(p), -Math.cos(y) * Math.sin(p));
  }

  resize(width: number, height: number): void {
    this.width = Math.max(1, width);
    this.height = Math.max(1, height);
    this.apply();
  }

  /** Millimetres one pixel spans at a point. */
  pixelSize(at: Vector3): number {
    const half = Math.tan(MathUtils.degToRad(FIELD / 2));
    if (this.parallel) return (2 * this.distance * half) / this.height;
    const depth = Math.max(1e-3, this.camera.position.clone().sub(at).dot(this.back));
    return (2 * depth * half) / this.height;
  }

  orbit(dx: number, dy: number): void {
    this.yaw -= dx * 0.4;
    this.pitch = MathUtils.clamp(this.pitch + dy * 0.4, -90, 90);
    this.apply();
  }

  pan(dx: number, dy: number): void {
    const s = this.pixelSize(this.target);
    const right = new Vector3().crossVectors(this.up, this.back);
    this.target.addScaledVector(right, -dx * s).addScaledVector(this.up, dy * s);
    this.apply();
  }

  /** Zooms so that what is under the pointer (−1…1 both ways) stays there. */
  zoom(factor: number, pointer: Vector2): void {
    const before = this.onTargetPlane(pointer);
    this.distance = MathUtils.clamp(this.distance * factor, 0.5, 50000);
    this.apply();
    const after = this.onTargetPlane(pointer);
    if (before && after) this.target.add(before.sub(after));
    this.apply();
  }

  /**
   * Moves back just so far that the whole box fits, seen from where the camera looks now, and clear of bars that lie
   * over the view (pixels from its top left) where it can be.
   */
  frame(box: Box3, { margin = 1.22, bars = [] }: { margin?: number; bars?: readonly Rect[] } = {}): void {
    if (box.isEmpty()) return;
    box.getCenter(this.target);
    this.off = [0, 0];
    const whole = this.distanceFor(box, margin);
    this.distance = whole;
    this.apply();
    // Seen from further back the outline changes a little, so what was found is tried again from there.
    for (let round = 0; round < 3 && bars.length; round++) {
      const outline = cornersOf(box).map((p) => this.fromTarget(p).map((x) => ROOM * x) as [number, number]);
      const size = { width: this.width, height: this.height };
      const place = freePlace(outline, size, bars);
      const distance = this.distance / Math.max(place.scale, 1e-3);
      if (distance > whole / LEAST) {
        this.distance = whole;
        this.off = [0, 0];
        break;
      }
      this.distance = distance;
      this.off = [place.x - this.width / 2, place.y - this.height / 2];
      this.apply();
    }
    this.apply();
  }

  /** Pixels from the middle of the view at which what is looked at is seen, right and down. */
  get seenAt(): readonly [number, number] {
    return this.off;
  }

  private distanceFor(box: Box3, margin: number): number {
    const right = new Vector3().crossVectors(this.up, this.back);
    const half = Math.tan(MathUtils.degToRad(FIELD / 2));
    let distance = 0.5;
    for (const at of cornersOf(box)) {
      const corner = at.sub(this.target);
      const wide = (Math.abs(corner.dot(right)) * this.height) / this.width;
      const reach = Math.max(wide, Math.abs(corner.dot(this.up))) / half;
      distance = Math.max(distance, reach * margin + (this.parallel ? 0 : corner.dot(this.back)));
    }
    return distance;
  }

  /** A point on the screen, pixels from the target. */
  private fromTarget(p: Vector3): [number, number] {
    const v = p.project(this.camera);
    const [x, y] = this.off;
    return [(v.x * this.width) / 2 - x, (-v.y * this.height) / 2 - y];
  }

  look(view: View): void {
    [this.yaw, this.pitch] = VIEWS[view];
    this.apply();
  }

  /** Looks square-on against a direction, at a point. */
  lookAlong(direction: Vector3, at: Vector3): void {
    const d = direction.clone().normalize();
    this.pitch = MathUtils.radToDeg(Math.asin(MathUtils.clamp(d.y, -1, 1)));
    // Straight from above or below the way round stays as it is.
    if (Math.abs(d.y) < 0.9999) this.yaw = MathUtils.radToDeg(Math.atan2(d.x, d.z));
    this.target.copy(at);
    this.apply();
  }

  /** Steps round what is looked at, degrees. */
  stepRound(degrees: number): void {
    this.yaw += degrees;
    this.apply();
  }

  ray(pointer: Vector2): Ray {
    const c = this.camera;
    const near = new Vector3(pointer.x, pointer.y, -1).unproject(c);
    const far = new Vector3(pointer.x, pointer.y, 1).unproject(c);
    return new Ray(near, far.sub(near).normalize());
  }

  apply(): void {
    const aspect = this.width / this.height;
    const half = this.distance * Math.tan(MathUtils.degToRad(FIELD / 2));
    const near = Math.max(0.05, this.distance / 200);
    this.perspective.aspect = aspect;
    this.perspective.near = near;
    this.perspective.far = this.distance * 60 + 5000;
    this.ortho.left = -half * aspect;
    this.ortho.right = half * aspect;
    this.ortho.top = half;
    this.ortho.bottom = -half;
    this.ortho.near = -this.distance * 20 - 5000;
    this.ortho.far = this.distance * 20 + 5000;
    for (const c of [this.perspective, this.ortho]) {
      const [x, y] = this.off;
      c.setViewOffset(this.width, this.height, -x, -y, this.width, this.height);
      c.position.copy(this.target).addScaledVector(this.back, this.distance);
      c.up.copy(this.up);
      c.lookAt(this.target);
      c.updateProjectionMatrix();
      c.updateMatrixWorld();
    }
  }

  private onTargetPlane(pointer: Vector2): Vector3 | null {
    const plane = new Plane().setFromNormalAndCoplanarPoint(this.back, this.target);
    return this.ray(pointer).intersectPlane(plane, new Vector3());
  }
}

const cornersOf = ({ min, max }: Box3): Vector3[] =>
  Array.from(
    { length: 8 },
    (_, k) => new Vector3(k & 1 ? max.x : min.x, k & 2 ? max.y : min.y, k & 4 ? max.z : min.z),
  );

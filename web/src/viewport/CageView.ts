/** The cage: a base's faces, edges and points drawn over the built piece while its elements are edited. */
import {
  Box3,
  BufferAttribute,
  BufferGeometry,
  DoubleSide,
  Group,
  LineBasicMaterial,
  LineSegments,
  Matrix4,
  Mesh,
  MeshBasicMaterial,
  Points,
  type PointsMaterial,
  Sphere,
  Vector3,
} from 'three';
import { RANK } from '@urnsmith/core/mesh/layers';
import type { Selection } from '@urnsmith/core/select/selection';
import { dots } from './marks';
import { partsOfFace, realEdges } from './wholeFaces';
import { endsOf, WideLines } from './WideLines';
import { growAhead, growTree, raycastTree } from './trees';
import type { ElementLevel } from './terms';
import type { WholeCage } from '../workers/builds';

export interface CageLook {
  level: ElementLevel;
  picked: ReadonlyArray<number>;
  pointed: number | null;
  pointSize: number;
  /** Picks show through the piece. */
  through: boolean;
  /** Weight per point of a soft selection, drawn as a gradient. */
  soft: Float64Array | null;
  /** Faces that lead shading, and those that follow, are tinted. */
  ranks: boolean;
}

/** Colours of the cage; what is picked and pointed at is drawn with a dark edge. */
export const INK = { plain: '#0f1a19', picked: '#63d8bd', pointed: '#d8f5ea', open: '#f0b35f' };
const line = (color: string, opacity: number, over: boolean): LineBasicMaterial =>
  new LineBasicMaterial({ color, transparent: true, opacity, depthTest: !over });

/** mm. */
const LITTLE = 0.5;

export class CageView {
  readonly group = new Group();
  /** For pointing: all faces, invisible. */
  readonly surface: Mesh;
  private readonly edges = new LineSegments(new BufferGeometry(), line('#31504a', 0.9, false));
  private readonly pickedEdges = new WideLines({ color: INK.picked, width: 2.6, edge: 1.6 });
  private readonly pointedEdges = new WideLines({ color: INK.pointed, width: 3, edge: 1.6 });
  private readonly points = new Points(new BufferGeometry(), dots({ color: INK.plain }));
  private readonly pickedPoints = new Points(
    new BufferGeometry(),
    dots({ color: INK.picked, depthTest: false }),
  );
  private readonly pointedPoints = new Points(
    new BufferGeometry(),
    dots({ color: INK.pointed, depthTest: false }),
  );
  private readonly softPoints = new Points(
    new BufferGeometry(),
    dots({ vertexColors: true, depthTest: false }),
  );
  private readonly fill: Mesh;
  private readonly leading: Mesh;
  private readonly following: Mesh;
  private readonly pointedFill: Mesh;
  private position = new BufferAttribute(new Float32Array(0), 3);
  cage: WholeCage | null = null;
  private hasTree = false;
  private shown = '';

  constructor() {
    const film = (color: string, opacity: number): MeshBasicMaterial =>
      new MeshBasicMaterial({
        color,
        transparent: true,
        opacity,
        side: DoubleSide,
        depthWrite: false,
        polygonOffset: true,
        polygonOffsetFactor: -1,
        polygonOffsetUnits: -1,
      });
    this.surface = new Mesh(new BufferGeometry(), new MeshBasicMaterial({ side: DoubleSide }));
    this.surface.raycast = raycastTree;
    this.surface.visible = false;
    this.fill = new Mesh(new BufferGeometry(), film('#1fb493', 0.6));
    this.pointedFill = new Mesh(new BufferGeometry(), film('#8fe0cb', 0.3));
    this.leading = new Mesh(new BufferGeometry(), film('#e9b949', 0.5));
    this.following = new Mesh(new BufferGeometry(), film('#4d7dff', 0.5));
    this.group.matrixAutoUpdate = false;
    this.group.visible = false;
    const parts = [
      this.leading,
      this.following,
      this.fill,
      this.pointedFill,
      this.edges,
      this.points,
      this.softPoints,
      this.pickedPoints,
      this.pointedPoints,
    ];
    parts.forEach((p, i) => {
      p.renderOrder = 2 + i;
      p.raycast = () => {};
      p.frustumCulled = false;
    });
    this.pickedEdges.order = 7;
    this.pointedEdges.order = 8;
    this.group.add(this.surface, ...parts, this.pickedEdges, this.pointedEdges);
  }

  hide(): void {
    this.group.visible = false;
    this.cage = null;
  }

  show(cage: WholeCage, matrix: number[], look: CageLook): void {
    this.group.visible = true;
    this.group.matrix.copy(new Matrix4().fromArray(matrix));
    this.group.matrixWorldNeedsUpdate = true;
    if (cage.shape !== this.cage?.shape) this.takeShape(cage);
    else if (cage.positions !== this.cage?.positions) this.takePositions(cage);
    this.cage = cage;
    this.takeLook(cage, look);
  }

  /** Bounds of elements in the world, slightly enlarged so that a single point has a size too. */
  boundsOf({ kind, indices }: Selection): Box3 {
    const box = new Box3();
    if (!this.cage) return box;
    const { positions, shape } = this.cage;
    const at = (v: number): Vector3 =>
      new Vector3(positions[3 * v], positions[3 * v + 1], positions[3 * v + 2]).applyMatrix4(
        this.group.matrix,
      );
    for (const i of indices)
      if (kind === 'vertex') box.expandByPoint(at(i));
      else if (kind === 'edge') for (const k of [0, 1]) box.expandByPoint(at(shape.edges[2 * i + k]));
      else
        for (let c = shape.faceStart[i]; c < shape.faceStart[i + 1]; c++)
          box.expandByPoint(at(shape.corners[c]));
    return box.isEmpty() ? box : box.expandByScalar(LITTLE);
  }

  /** Prepares exact pointing; kept up to date by refitting while points move. */
  ensureTree(): void {
    if (this.hasTree || !this.cage?.shape.triangles.length) return;
    const g = this.surface.geometry;
    if (g.boundsTree) g.boundsTree.refit();
    else growTree(g);
    this.hasTree = g.boundsTree !== undefined;
  }

  dispose(): void {
    for (const o of this.drawn) o.geometry.dispose();
    this.pickedEdges.dispose();
    this.pointedEdges.dispose();
  }

  /** Geometries that share the points of the cage. */
  private get drawn(): Mesh[] {
    return (this.group.children as Mesh[]).filter((o) => o.geometry);
  }

  private takeShape({ positions, shape, forTree }: WholeCage): void {
    this.position = new BufferAttribute(positions, 3);
    for (const o of this.drawn) {
      o.geometry.dispose();
      o.geometry = new BufferGeometry().setAttribute('position', this.position);
      // Nothing of the cage is culled, and its order is given: measuring all points for that would hold up the page.
      o.geometry.boundingSphere = ANYWHERE;
    }
    this.surface.geometry.setIndex(new BufferAttribute(shape.triangles, 1));
    this.edges.geometry.setIndex(new BufferAttribute(realEdges(shape), 1));
    this.hasTree = false;
    growAhead(this.surface.geometry, forTree ?? null);
    this.lastSoft = null;
    this.lastRanks = null;
    for (const tint of [this.leading, this.following]) setIndex(tint, new Uint32Array());
    this.shown = '';
  }

  private takePositions({ positions }: WholeCage): void {
    this.position.array = positions;
    this.position.needsUpdate = true;
    this.hasTree = false;
    this.placeEdges();
  }

  private showRanks(ranks: Uint8Array | null): void {
    if (ranks === this.lastRanks) return;
    this.lastRanks = ranks;
    for (const [mesh, rank] of [
      [this.leading, RANK.lead],
      [this.following, RANK.follow],
    ] as const) {
      const faces: number[] = [];
      ranks?.forEach((r, f) => r === rank && faces.push(f));
      setIndex(mesh, this.faceIndex(faces));
    }
  }
  private lastRanks: Uint8Array | null = null;

  private takeLook({ shape, ranks }: WholeCage, look: CageLook): void {
    this.showRanks(look.ranks && look.level === 'face' ? ranks : null);
    const { level, picked, pointed, pointSize, soft } = look;
    for (const o of [this.pickedPoints, this.softPoints])
      (o.material as PointsMaterial).depthTest = !look.through;
    this.pickedEdges.through = look.through;
    this.pointedEdges.through = true;
    for (const [p, scale] of [
      [this.points, 1],
      [this.pickedPoints, 1.35],
      [this.pointedPoints, 1.35],
      [this.softPoints, 1],
    ] as const)
      (p.material as PointsMaterial).size = pointSize * scale;
    this.points.visible = level === 'point';
    this.softPoints.visible = soft !== null;
    if (soft && soft !== this.lastSoft) this.colourSoft(soft);
    const key = `${level}/${pointed}/${picked.length}/${picked[0]}/${picked[picked.length - 1]}`;
    if (key === this.shown && this.lastPicked === picked) return;
    this.shown = key;
    this.lastPicked = picked;
    const of = (l: ElementLevel, list: ReadonlyArray<number>): ReadonlyArray<number> =>
      level === l ? list : NONE;
    const one = pointed === null ? NONE : [pointed];
    this.edgePairs = {
      picked: edgeIndex(shape.edges, of('edge', picked)),
      pointed: edgeIndex(shape.edges, of('edge', one)),
    };
    this.placeEdges();
    setIndex(this.pickedPoints, pointIndex(this.position.count, of('point', picked)));
    setIndex(this.pointedPoints, pointIndex(this.position.count, of('point', one)));
    setIndex(this.fill, this.faceIndex(of('face', picked)));
    setIndex(this.pointedFill, this.faceIndex(of('face', one).flatMap((f) => partsOfFace(shape, f))));
  }
  private lastPicked: ReadonlyArray<number> | null = null;
  private edgePairs: { picked: ArrayLike<number>; pointed: ArrayLike<number> } = { picked: [], pointed: [] };

  private placeEdges(): void {
    this.pickedEdges.show(endsOf(this.edgePairs.picked, this.position));
    this.pointedEdges.show(endsOf(this.edgePairs.pointed, this.position));
  }

  private colourSoft(weights: Float64Array): void {
    const colors = new Float32Array(3 * weights.length);
    const reached = new Uint32Array(weights.length);
    let n = 0;
    // From dark to the pale of what is pointed at, so that reach is told by brightness too.
    for (let i = 0; i < weights.length; i++) {
      const w = weights[i];
      if (w === 0) continue;
      reached[n++] = i;
      colors[3 * i] = 0.1 + 0.75 * w;
      colors[3 * i + 1] = 0.25 + 0.7 * w;
      colors[3 * i + 2] = 0.24 + 0.6 * w;
    }
    const g = this.softPoints.geometry;
    g.setAttribute('color', new BufferAttribute(colors, 3));
    setIndex(this.softPoints, reached.subarray(0, n));
    this.lastSoft = weights;
  }
  private lastSoft: Float64Array | null = null;

  private faceIndex(faces: ReadonlyArray<number>): Uint32Array {
    const { triangles, triangleStart: start } = this.cage!.shape;
    let corners = 0;
    for (let k = 0; k < faces.length; k++) corners += 3 * (start[faces[k] + 1] - start[faces[k]]) || 0;
    const out = new Uint32Array(corners);
    let at = 0;
    for (let k = 0; k < faces.length; k++)
      for (let c = 3 * start[faces[k]], end = 3 * start[faces[k] + 1]; c < end; c++) out[at++] = triangles[c];
    return out;
  }
}

const ANYWHERE = new Sphere(new Vector3(), 1);
const NONE: ReadonlyArray<number> = [];

function setIndex(o: { geometry: BufferGeometry; visible: boolean }, index: Uint32Array): void {
  o.geometry.setIndex(new BufferAttribute(index, 1));
  o.visible = index.length > 0;
}

function edgeIndex(edges: Uint32Array, list: ReadonlyArray<number>): Uint32Array {
  const out = new Uint32Array(2 * list.length);
  let n = 0;
  for (const e of list)
    if (2 * e + 1 < edges.length) {
      out[n++] = edges[2 * e];
      out[n++] = edges[2 * e + 1];
    }
  return out.subarray(0, n);
}

const pointIndex = (count: number, list: ReadonlyArray<number>): Uint32Array =>
  Uint32Array.from(list.filter((v) => v < count));

/** Puts the kernel's triangles back together into the polygons they came from. See boolean.ts. */
import type { Watch } from '../watch';
import { makeMesh } from '../mesh/PolyMesh';
import { separateFans } from '../mesh/separateFans';
import type { CutMode, CutResult } from './cutResult';
import { carryOverCut, type Draft } from './carryOverCut';
import { cleanTriangles, pointsToWeld } from './cleanTriangles';
import { dropStraight } from './dropStraight';
import type { FlushPair } from './flush';
import { Groups, type Operand } from './Groups';
import { joinFlat } from './joinFlat';
import type { Manifold } from './kernel';
import { TOLERANCE } from '../mesh/tolerance';
import { traceLoops, type Traced } from './outlines';
import { sharpenPoints } from './sharpenPoints';
import { exactPoints } from './exact';

export interface CutPlan {
  mode: CutMode;
  /** Facets of operands that lie in one plane. */
  pairs: ReadonlyArray<FlushPair>;
  /** The kernel was given double precision; else single. */
  exact: boolean;
  /** Thinner parts count as having no thickness. */
  reach: number;
  /** Flat neighbours of different operands become one face. */
  joins: boolean;
  /** Corners a polygon may have where a face must be divided. */
  widest: number;
}

export function rebuild(
  body: Manifold,
  operands: ReadonlyArray<Operand>,
  { mode, pairs, exact, reach, joins, widest }: CutPlan,
  watch: Watch,
): CutResult {
  const mesh = body.getMesh();
  const points = exact ? exactPoints(body) : Float64Array.from(mesh.vertProperties);
  const groups = new Groups(mesh, points, operands);
  watch(0.2);
  const positions = restorePositions(groups);
  const welds = pointsToWeld(groups, positions, reach);
  sharpenPoints(positions, groups, welds, 2 * reach);
  const twins = cleanTriangles(groups, positions, reach, welds, joins && pairs.length > 0);
  if (joins && twins) joinFlat(groups, positions, pairs, twins, reach);
  watch(0.4);
  const traced = traceLoops(groups, operands, positions, widest);
  const straight = dropStraight(traced, groups, positions, TOLERANCE.straight * operands[0].solid.size);
  watch(0.7);
  const out = assemble(straight, positions, operands, groups, reach);
  return { ...out, report: { ...out.report, touched: groups.changesAnything(mode === 'union') } };
}

/** The points of operands back in their places; new ones as the kernel made them. */
function restorePositions(g: Groups): Float64Array {
  const positions = new Float64Array(3 * g.pointCount);
  const sources = g.operands.map((o) => o.positions);
  for (let v = 0; v < g.pointCount; v++) {
    const o = g.sourceOperand[v];
    const from = o >= 0 ? sources[o] : g.points;
    const at = 3 * (o >= 0 ? g.sourceVertex[v] : v);
    positions[3 * v] = from[at];
    positions[3 * v + 1] = from[at + 1];
    positions[3 * v + 2] = from[at + 2];
  }
  return positions;
}

function assemble(
  { keptOperand, keptFace, loops }: Traced,
  points: Float64Array,
  operands: ReadonlyArray<Operand>,
  g: Groups,
  reach: number,
): Omit<CutResult, 'report'> & { report: Omit<CutResult['report'], 'touched'> } {
  const F = keptFace.length + loops.length;
  const faceStart = new Uint32Array(F + 1);
  const operandOfFace = new Uint32Array(F);
  const sourceFace = new Uint32Array(F);
  const loopOfFace = new Int32Array(F).fill(-1);
  // Faces in order of operands: those kept, then those cut.
  let f = 0;
  let k = 0;
  let l = 0;
  for (let o = 0; o < operands.length; o++) {
    const { faceStart: start } = operands[o].solid.mesh;
    for (; k < keptFace.length && keptOperand[k] === o; k++, f++) {
      operandOfFace[f] = o;
      sourceFace[f] = keptFace[k];
      faceStart[f + 1] = faceStart[f] + start[keptFace[k] + 1] - start[keptFace[k]];
    }
    for (; l < loops.length && loops[l].operand === o; l++, f++) {
      operandOfFace[f] = o;
      sourceFace[f] = loops[l].face;
      loopOfFace[f] = l;
      faceStart[f + 1] = faceStart[f] + loops[l].points.length;
    }
  }
  const pointOfCorner = new Uint32Array(faceStart[F]);
  for (f = 0; f < F; f++) {
    if (loopOfFace[f] >= 0) pointOfCorner.set(loops[loopOfFace[f]].points, faceStart[f]);
    else fillKept(pointOfCorner, faceStart[f], g, operandOfFace[f], sourceFace[f]);
  }
  const vertexOf = new Int32Array(g.pointCount).fill(-1);
  const used = new Uint32Array(g.pointCount);
  let V = 0;
  const corners = new Uint32Array(pointOfCorner.length);
  for (let c = 0; c < corners.length; c++) {
    const v = pointOfCorner[c];
    if (vertexOf[v] < 0) {
      used[V] = v;
      vertexOf[v] = V++;
    }
    corners[c] = vertexOf[v];
  }
  const pointOf = used.slice(0, V);
  const apart = separateFans(makeMesh(gather(points, pointOf), faceStart, corners));
  const finalPoints = apart ? apart.source.map((v) => pointOf[v]) : pointOf;
  const draft: Draft = {
    loops,
    loopOfFace,
    operandOfFace,
    sourceFace,
    pointOf: finalPoints,
    positions: gather(points, finalPoints),
    faceStart,
    corners: apart ? apart.corners : corners,
    operands,
    groups: g,
    reach,
  };
  const { mesh, rimEdges } = carryOverCut(draft);
  return {
    mesh,
    operandOfFace,
    sourceFace,
    report: { cutFaces: loops.length, keptFaces: keptFace.length, rimEdges },
  };
}

/** Points of a face that was not cut, in the result's turning. */
function fillKept(out: Uint32Array, at: number, g: Groups, o: number, f: number): void {
  const { mesh, canonical } = g.operands[o].solid;
  const points = g.pointOfVertex[o];
  const s = mesh.faceStart[f];
  const n = mesh.faceStart[f + 1] - s;
  for (let k = 0; k < n; k++) {
    const v = mesh.corners[g.flipped[o] ? s + n - 1 - k : s + k];
    out[at + k] = points[canonical ? canonical[v] : v];
  }
}

function gather(points: Float64Array, ids: Uint32Array): Float64Array {
  const out = new Float64Array(3 * ids.length);
  for (let i = 0; i < ids.length; i++) {
    const v = 3 * ids[i];
    out[3 * i] = points[v];
    out[3 * i + 1] = points[v + 1];
    out[3 * i + 2] = points[v + 2];
  }
  return out;
}

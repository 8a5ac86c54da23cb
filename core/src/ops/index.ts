/** All direct operations, by the name a recipe's actions use. */
import { flatten, push, relax } from './arrange';
import { bevelEdges } from './bevelEdges';
import { bevelPoints } from './bevelPoints';
import { bridge } from './bridge';
import { connect } from './connect';
import { copyFaces } from './copyFaces';
import { dissolve } from './dissolve';
import { drawFace } from './drawFace';
import { extrudeEdges } from './extrudeEdges';
import { fan, pairTriangles, triangulateFaces } from './divideWithin';
import { extrude } from './extrude';
import { fill } from './fill';
import { holdNormals } from './holdNormals';
import { inset } from './inset';
import { knife } from './knife';
import { makeRound } from './makeRound';
import { mark } from './mark';
import { collapse, weld } from './mergePoints';
import { mirrorOnce } from './mirrorOnce';
import type { AnyOperation } from './operation';
import { openAlong } from './openAlong';
import { planeSlice } from './planeSlice';
import { rank } from './rank';
import { weigh } from './weigh';
import { deleteFaces, keepFaces } from './removeFaces';
import { ringCut } from './ringCut';
import { spaceEvenly, straighten } from './rows';
import { slide } from './slide';
import { splitApart } from './splitApart';
import { supportLoops } from './supportLoops';
import { thicken } from './thicken';
import { transformElements } from './transformElements';
import { faceOutward, turnOver } from './turnOver';

const ALL = [
  transformElements,
  slide,
  push,
  flatten,
  straighten,
  spaceEvenly,
  relax,
  makeRound,
  extrude,
  extrudeEdges,
  inset,
  bevelEdges,
  bevelPoints,
  supportLoops,
  ringCut,
  knife,
  planeSlice,
  connect,
  fan,
  triangulateFaces,
  pairTriangles,
  fill,
  drawFace,
  bridge,
  weld,
  collapse,
  dissolve,
  deleteFaces,
  keepFaces,
  copyFaces,
  splitApart,
  openAlong,
  turnOver,
  faceOutward,
  mirrorOnce,
  thicken,
  mark,
  rank,
  weigh,
  holdNormals,
] satisfies AnyOperation[];

export const OPERATIONS: Readonly<Record<string, AnyOperation>> = Object.fromEntries(
  ALL.map((o) => [o.kind, o]),
);

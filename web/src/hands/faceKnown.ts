/** The face under a hand that places something: what runs around it, and what a cutter there holds to. */
import { Matrix4, Vector3 } from 'three';
import { worldMatrix } from '@urnsmith/core/document/placement';
import type { Piece } from '@urnsmith/core/document/schema';
import { applyMatrix, invert, type Matrix } from '@urnsmith/core/mesh/transform';
import { dot, sub, type Vec3 } from '@urnsmith/core/mesh/vec3';
import type { Anchor, AnchorTarget } from '@urnsmith/core/select/anchor';
import { middleOfLoops, type FlatLoops } from '@urnsmith/core/select/faceSides';
import { inLaneOrder, STEPS, type CutStep } from '@urnsmith/core/steps/index';
import type { OpenScene } from '../state/OpenScene';
import { targetOn } from '../state/anchors';
import { piecesById } from '../state/selectors';
import { inFrame, placeOn } from './facePlane';
import type { Pointing } from './pointing';
import { withCutter } from './withCutter';

/** A face as it was met: its piece, and its frame in the world, Y out of it. */
export interface MetFace {
  host: string;
  frame: Matrix;
}

export const sameFace = (a: { host: string | null; frame: Matrix | null }, b: MetFace): boolean =>
  a.host === b.host && !!a.frame && a.frame.every((x, k) => Math.abs(x - b.frame[k]) < 1e-9);

/** The face that a cutter is anchored to. */
export interface Entry {
  target: AnchorTarget;
  facing: Vec3;
  /** Another cutter of the step it would join makes the face, so it gets a step of its own after that. */
  apart: boolean;
}

/** Anchors of a cutter to the face it goes in by: it keeps its distance from it and its place on it. */
export const anchorsTo = ({ target, facing }: Entry): Anchor[] =>
  (['distance', 'centre'] as const).map((hold) => ({ hold, to: [target], facing }));

type Place = readonly [number, number];

/** A place of a face in the frame of its piece. */
function seenFrom(
  scene: OpenScene,
  { host, frame }: MetFace,
  [x, z]: Place,
): { place: Vec3; up: Vec3; frame: Matrix } {
  const own = new Matrix4().fromArray(invert(worldMatrix(piecesById(scene.store.getState()), host)));
  const inOwn = own.clone().multiply(new Matrix4().fromArray(frame));
  return {
    place: applyMatrix(own.toArray() as Matrix, inFrame(frame, x, 0, z).toArray()),
    up: new Vector3().setFromMatrixColumn(inOwn, 1).normalize().toArray(),
    frame: inOwn.toArray() as Matrix,
  };
}

/** States of a piece that a cut on it may see, by the number of steps before it: where it joins a step, and where not. */
function statesOf(host: Piece, mode: CutStep['mode']): { joined: number; after: number } {
  const before = (apart: boolean): number => stepsBefore(withCutter(host, { mode }, 'drawn', apart), 'drawn');
  return { joined: before(false), after: before(true) };
}

/** A face lies in the plane that was met: it looks the same way, and a point of it lies in it. */
const inPlane = (seen: { place: Vec3; up: Vec3 }, facing: Vec3, point: Vec3): boolean =>
  dot(seen.up, facing) > 0.99 && Math.abs(dot(facing, sub(point, seen.place))) < 1e-3;

/**
 * The outlines that run around a face, in X and Z of its frame; null where they cannot be told. As the piece is before a
 * cut there: what later steps round off still counts.
 */
export async function sidesAt(
  scene: OpenScene,
  face: MetFace,
  at: Place,
  mode: CutStep['mode'],
): Promise<Array<Array<[number, number]>> | null> {
  const host = piecesById(scene.store.getState()).get(face.host);
  if (!host) return null;
  const seen = seenFrom(scene, face, at);
  const { joined, after } = statesOf(host, mode);
  for (const upTo of new Set([joined, after, undefined])) {
    const reply = await scene.builds.ask(face.host, { kind: 'sides', upTo, on: { point: seen.place } });
    if (!reply || !('sides' in reply) || !reply.sides) continue;
    const { loops, facing } = reply.sides;
    // A place on an edge may be found on the face beside it.
    if (!loops.length || !inPlane(seen, facing, loops[0][0])) continue;
    const back = invert(seen.frame);
    return loops.map((loop) =>
      loop.map((p): [number, number] => {
        const [x, , z] = applyMatrix(back, p);
        return [x, z];
      }),
    );
  }
  return null;
}

/** The face as it is on its piece before a cut there; null where a step after the cuts makes it. */
export async function entryAt(
  scene: OpenScene,
  face: MetFace,
  at: Place,
  mode: CutStep['mode'],
): Promise<Entry | null> {
  const host = piecesById(scene.store.getState()).get(face.host);
  if (!host) return null;
  const seen = seenFrom(scene, face, at);
  const { joined, after } = statesOf(host, mode);
  for (const upTo of new Set([joined, after])) {
    const found = await targetOn(scene, host, upTo, seen.place);
    if (!found || typeof found === 'string' || !inPlane(seen, found.facing, found.target.at)) continue;
    return { target: found.target, facing: found.facing, apart: upTo !== joined };
  }
  return null;
}

/** How many steps of a host, in lane order, come before the one that works with a piece. */
const stepsBefore = (host: Piece, operand: string): number =>
  inLaneOrder(host.steps!).findIndex((s) => STEPS[s.kind].operands?.(s as never).includes(operand));

/** Coordinates on a face that were typed, and count instead of the pointer's. */
export type Fixed = [number | null, number | null];

/** Pixels from a middle of a face at which the pointer is on it. */
const MIDDLE = 6;

/** The pointer on a face: where a coordinate was typed, there; on a middle of the face where it is near, while snapping. */
export function placeHeld(
  scene: OpenScene,
  { sides, fixed }: { sides: FlatLoops | null; fixed: Fixed },
  pointing: Pointing,
  frame: Matrix,
): [number, number] | null {
  const at = placeOn(scene, pointing, frame);
  if (!at) return null;
  const near = MIDDLE * pointing.stage.rig.pixelSize(inFrame(frame, at[0], 0, at[1]));
  const snaps = scene.store.getState().settings.snap !== pointing.free;
  const middle = sides && snaps ? middleOfLoops(sides) : null;
  return ([0, 1] as const).map((k) => {
    const onMiddle = middle && Math.abs(at[k] - middle[k]) < near ? middle[k] : at[k];
    return fixed[k] ?? onMiddle;
  }) as [number, number];
}

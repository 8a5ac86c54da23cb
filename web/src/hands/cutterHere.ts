/** From a wall to the cutter that made it, and from a cutter to what it cuts. */
import type { OpenScene } from '../state/OpenScene';
import { Matrix4 } from 'three';
import { worldMatrix } from '@urnsmith/core/document/placement';
import { namedOperands } from '@urnsmith/core/document/graph';
import { originalOf } from '@urnsmith/core/document/twins';
import type { Piece } from '@urnsmith/core/document/schema';
import { notice } from '../state/actions';
import { handActions } from '../state/handSlice';
import { hostsOfCutter, piecesById } from '../state/selectors';
import type { Pick, Stage } from '../viewport/Stage';

const state = (scene: OpenScene) => scene.store.getState();

/** The cutter a face of a piece comes from; null when none made it. */
export function cutterOf(scene: OpenScene, { piece, point, story }: Pick): Piece | null {
  const byId = piecesById(state(scene));
  const hosts = hostsOfCutter(state(scene));
  const makers = new Set(story.map((by) => by.split(/[/#]/)[0]));
  makers.delete(piece);
  const cutters = [...byId.values()].filter((p) => hosts.get(p.id)?.includes(piece));
  const mine = cutters.filter((p) => makers.has(p.id) || makers.has(originalOf(byId, p).id));
  if (mine.length < 2) return mine[0] ?? null;
  // Twins are told apart by where they stand.
  const far = (p: Piece): number => {
    const own = point.clone().applyMatrix4(new Matrix4().fromArray(worldMatrix(byId, p.id)).invert());
    const bounds = scene.builds.get(p.id)?.display?.bounds;
    const out = own
      .toArray()
      .map((x, k) => (bounds ? Math.max(bounds.min[k] - x, x - bounds.max[k], 0) : Math.abs(x)));
    return Math.hypot(...out);
  };
  return mine.reduce((a, b) => (far(b) < far(a) ? b : a));
}

/** Pixels around the pointer in which a wall is looked for beside a rim. */
const NEAR = [0, 5, 10];
const AROUND = Array.from({ length: 8 }, (_, k) => [
  Math.cos((k * Math.PI) / 4),
  Math.sin((k * Math.PI) / 4),
]);

/** The cutter of the wall, rim or hole of a piece at the pointer, the nearest wall first. */
export function cutterAtRim(
  scene: OpenScene,
  stage: Stage,
  host: string,
  x: number,
  y: number,
): Piece | null {
  const ghosts = ghostsOf(scene);
  for (const far of NEAR)
    for (const [dx, dy] of far ? AROUND : [[0, 0]]) {
      const hit = stage.pick(x + far * dx, y + far * dy, ghosts);
      const cutter = hit?.piece === host ? cutterOf(scene, hit) : null;
      if (cutter) return cutter;
    }
  // Seen along their walls, holes show none: then the cutter that stands there, seen or not.
  const byId = piecesById(state(scene));
  const mine = [...hostsOfCutter(state(scene))].flatMap(([id, of]) => (of.includes(host) ? [id] : []));
  for (const far of NEAR)
    for (const [dx, dy] of far ? AROUND : [[0, 0]]) {
      const id = stage.pickAmong(mine, x + far * dx, y + far * dy);
      if (id) return byId.get(id) ?? null;
    }
  return null;
}

const ghostsOf = (scene: OpenScene): Set<string> =>
  new Set([...piecesById(state(scene)).values()].filter((p) => p.role === 'cutter').map((p) => p.id));

/** Selects the cutter of the wall under the pointer. */
export function selectCutterHere(scene: OpenScene): void {
  const { stage } = scene;
  const hit = stage?.pick(stage.pointerAt.x, stage.pointerAt.y, ghostsOf(scene));
  const cutter = hit && cutterOf(scene, hit);
  if (cutter) scene.store.dispatch(handActions.selected({ ids: [cutter.id] }));
  else notice(scene, 'No cutter made the face under the pointer.');
}

/** How many cutters count as near. */
const AROUND_POINTER = 8;

/**
 * The cutters nearest to the pointer's last place on the model, the nearest first; null where it was beside the
 * model.
 */
export function cuttersNear(scene: OpenScene, ids: ReadonlyArray<string>): string[] | null {
  const { stage } = scene;
  const hit = stage?.pick(stage.pointerAt.x, stage.pointerAt.y, ghostsOf(scene));
  if (!hit) return null;
  const byId = piecesById(state(scene));
  const away = new Map(
    ids.map((id) => {
      const m = worldMatrix(byId, id);
      return [id, Math.hypot(m[12] - hit.point.x, m[13] - hit.point.y, m[14] - hit.point.z)];
    }),
  );
  return [...ids].sort((a, b) => away.get(a)! - away.get(b)!).slice(0, AROUND_POINTER);
}

/** Selects what the cutter in hand cuts. */
export function selectHost(scene: OpenScene): void {
  const { active } = state(scene).hand;
  const hosts = active === null ? undefined : hostsOfCutter(state(scene)).get(active);
  if (hosts?.length) scene.store.dispatch(handActions.selected({ ids: hosts }));
  else notice(scene, 'No piece is cut by this one.');
}

/** Goes from cutter to cutter of the piece in hand, or of the one its cutter in hand cuts, in the order they cut. */
export function walkCutters(scene: OpenScene, by: 1 | -1): void {
  const byId = piecesById(state(scene));
  const { active } = state(scene).hand;
  const own = active === null ? undefined : byId.get(active);
  const host =
    own && (namedOperands(own).length ? own : byId.get(hostsOfCutter(state(scene)).get(own.id)?.[0] ?? ''));
  const all = [...new Set(host ? namedOperands(host) : [])];
  if (!all.length)
    return notice(scene, 'Select a piece that is cut, or one of its cutters, first.', false, 'problem');
  const at = all.indexOf(own!.id);
  const next = at < 0 ? (by > 0 ? 0 : all.length - 1) : (at + by + all.length) % all.length;
  scene.store.dispatch(handActions.selected({ ids: [all[next]] }));
  notice(scene, `Cutter ${next + 1} of ${all.length} of ${host!.name ?? host!.id}.`);
}

/** Shading normals of what is picked, over all pieces in hand: evened out between them, sampled and applied. */
import type { Surface } from '@urnsmith/core/primitives/base';
import { worldMatrix } from '@urnsmith/core/document/placement';
import { applyMatrix, invert, multiply, type Matrix } from '@urnsmith/core/mesh/transform';
import { add, length, scale, unit, type Vec3 } from '@urnsmith/core/mesh/vec3';
import type { NormalAt } from '@urnsmith/core/shading/evenNormals';
import type { OpenScene } from './OpenScene';
import { perScene } from './perScene';
import { notice } from './actions';
import { act } from './elements';
import { allInHand } from './inHand';
import { piecesById } from './selectors';
import { surfaceOf } from './otherSurface';
import { underWay } from './underWay';

const sampled = perScene((): { normal: Vec3 | null } => ({ normal: null }));

/** Normals go by the inverse transpose of what takes points along; how much they count stays. */
function carried(n: NormalAt, m: Matrix): NormalAt {
  const back = invert(m);
  const [x, y, z] = applyMatrix(m, n.slice(0, 3) as Vec3);
  const own: Vec3 = [n[3], n[4], n[5]];
  const turned = [0, 1, 2].map(
    (k) => back[4 * k] * own[0] + back[4 * k + 1] * own[1] + back[4 * k + 2] * own[2],
  );
  const [nx, ny, nz] = scale(unit(turned as Vec3), length(own));
  return [x, y, z, nx, ny, nz];
}

/** Per piece in hand with picks, the normals at its picked corners, in its own frame. */
async function normalsInHand(scene: OpenScene): Promise<Map<string, NormalAt[]>> {
  const out = new Map<string, NormalAt[]>();
  const hands = allInHand(scene).filter((h) => h.selection.indices.length);
  await Promise.all(
    hands.map(async ({ piece, selection }) => {
      const reply = await scene.builds.ask(piece.id, { kind: 'normals', selection });
      if (reply && 'normals' in reply) out.set(piece.id, reply.normals);
    }),
  );
  return out;
}

type Params = Record<string, unknown>;

/** An operation that takes along what is picked on the other pieces in hand. */
export const actBeside = (scene: OpenScene, op: string, first: (id: string) => Params): Promise<boolean> =>
  underWay(scene, applied(scene, op, first));

async function applied(scene: OpenScene, op: string, first: (id: string) => Params): Promise<boolean> {
  const own = await normalsInHand(scene);
  const byId = piecesById(scene.store.getState());
  const place = (id: string): Matrix => worldMatrix(byId, id);
  const beside = (id: string): NormalAt[] =>
    [...own].flatMap(([other, normals]) => {
      if (other === id) return [];
      const across = multiply(invert(place(id)), place(other));
      return normals.map((n) => carried(n, across));
    });
  return act(scene, op, (id) => ({ ...first(id), beside: beside(id) }));
}

/** An operation that looks to another piece: the one in hand without picks, else the one points are laid onto. */
export const actOnto = (scene: OpenScene, op: string, first: (id: string) => Params): Promise<boolean> =>
  underWay(scene, lookingTo(scene, op, first));

async function lookingTo(scene: OpenScene, op: string, first: (id: string) => Params): Promise<boolean> {
  const s = scene.store.getState();
  const hands = allInHand(scene);
  const idle = hands.filter((h) => !h.selection.indices.length).map((h) => h.piece.id);
  const other = idle.length === 1 ? idle[0] : s.settings.elements.onto;
  const surfaces = new Map<string, Surface | null>();
  for (const { piece, selection } of hands)
    if (selection.indices.length) surfaces.set(piece.id, await surfaceOf(scene, piece, other));
  if ([...surfaces.values()].some((x) => x === null)) {
    notice(scene, 'Take one other piece in hand as well, without picks on it: the shading is cast from there.', false, 'problem'); // prettier-ignore
    return false;
  }
  return act(scene, op, (id) => ({ ...first(id), surface: surfaces.get(id) }));
}

/** Keeps the mean normal of what is picked, to be applied elsewhere. */
export const sampleNormal = (scene: OpenScene): Promise<void> => underWay(scene, sample(scene));

async function sample(scene: OpenScene): Promise<void> {
  const byId = piecesById(scene.store.getState());
  let sum: Vec3 = [0, 0, 0];
  for (const [id, normals] of await normalsInHand(scene))
    for (const n of normals) {
      const [, , , x, y, z] = carried(n, worldMatrix(byId, id));
      sum = add(sum, [x, y, z]);
    }
  if (!(length(sum) > 1e-9))
    return notice(
      scene,
      'The normals of the picks cancel out, so there is no normal to sample.',
      false,
      'problem',
    );
  sampled(scene).normal = unit(sum);
  notice(scene, 'The shading is sampled. Pick the elements to copy it to, and apply it.');
}

export const hasSample = (scene: OpenScene): boolean => sampled(scene).normal !== null;

/** Holds what is picked to the normal that was sampled. */
export async function applyNormal(scene: OpenScene): Promise<void> {
  const { normal } = sampled(scene);
  if (!normal) return notice(scene, 'Sample a normal first.', false, 'problem');
  const byId = piecesById(scene.store.getState());
  await act(scene, 'holdNormals', (id) => {
    const [, , , ...direction] = carried([0, 0, 0, ...normal], invert(worldMatrix(byId, id)));
    return { to: 'direction', direction: direction.map((x) => Number(x.toFixed(9)) + 0) };
  });
}

/** Pieces made out of parts of a piece, and one piece made of several. */
import type { OpenScene } from './OpenScene';
import { idleCutters } from '@urnsmith/core/document/belonging';
import { leansOn, namedOperands } from '@urnsmith/core/document/graph';
import { worldMatrix } from '@urnsmith/core/document/placement';
import type { Piece } from '@urnsmith/core/document/schema';
import { counted } from '@urnsmith/core/ops/operation';
import { invert, multiply, transformOf } from '@urnsmith/core/mesh/transform';
import { primitiveFault, type Primitive } from '@urnsmith/core/primitives/index';
import { listed, type Select } from '@urnsmith/core/select/rules';
import { keepMesh } from './meshes';
import { isAlone } from './twins';
import { commit, newId, newName, notice } from './actions';
import { handActions } from './handSlice';
import { panelActions } from './panelSlice';
import { inHand } from './inHand';
import { pickedByBirth } from './keptSelections';
import { actionsAt, withActions, type Site } from './site';
import { piecesById } from './selectors';

const state = (scene: OpenScene) => scene.store.getState();
const problem = (scene: OpenScene, text: string): void => {
  scene.store.dispatch(panelActions.noticed({ text, tone: 'problem' }));
};

/** The same piece up to a site, keeping just some faces. */
function part(scene: OpenScene, piece: Piece, site: Site | null, faces: Select, taken: Set<string>): Piece {
  const keep = { op: 'keepFaces', select: faces };
  return { ...withActions(piece, site, [...actionsAt(piece, site), keep]), ...nextPart(scene, piece, taken) };
}

/** Id and name of a further part of a piece. */
function nextPart(scene: OpenScene, piece: Piece, taken: Set<string>): { id: string; name: string } {
  const title = `${piece.name ?? piece.id} part`;
  let [id, name] = [newId(scene), newName(scene, title)];
  for (let k = 2; taken.has(id); k++) [id, name] = [`${newId(scene)}-${k}`, `${title} ${k}`];
  taken.add(id);
  return { id, name };
}

/** Takes the picked faces off as a piece of their own; the old one loses them. */
export async function detachFaces(scene: OpenScene): Promise<void> {
  const hand = inHand(scene);
  if (!hand) return;
  const { piece, site, selection } = hand;
  if (selection.kind !== 'face' || !selection.indices.length)
    return problem(scene, 'Pick the faces to take off first.');
  const born = site && (await pickedByBirth(scene));
  if (site && !born) return;
  const faces: Select = born ? { rule: 'picked', ...born } : listed(selection);
  const off = part(scene, piece, site, faces, new Set());
  const gone = { op: 'deleteFaces', select: faces };
  const rest = withActions(piece, site, [...actionsAt(piece, site), gone]);
  const pieces = state(scene).document.pieces.flatMap((p) => (p.id === piece.id ? [rest, off] : [p]));
  scene.store.dispatch(handActions.following());
  commit(scene, `Take ${counted(selection.indices.length, 'face')} off ${piece.name ?? piece.id}`, pieces);
}

/** Height of a body over picked faces, mm. */
const OUTLINE_HEIGHT = 5;

/** Makes a piece over the outline of what is picked; it stands on that, and its outline can cut or be raised elsewhere. */
export async function outlineFromPicks(scene: OpenScene): Promise<void> {
  const hand = inHand(scene);
  if (!hand?.selection.indices.length)
    return problem(scene, 'Pick faces, or edges that run round closed, first.');
  const { piece, selection } = hand;
  const reply = await scene.builds.ask(piece.id, { kind: 'outline', selection });
  if (!reply || !('outline' in reply)) {
    const fault = reply && 'fault' in reply ? reply.fault : null;
    return problem(
      scene,
      [fault?.message ?? 'The piece is not built yet.', fault?.fix].filter(Boolean).join(' '),
    );
  }
  const { contours, frame, off } = reply.outline;
  const base: Primitive = { primitive: 'outline', contours, height: OUTLINE_HEIGHT };
  const fault = primitiveFault(base);
  if (fault) return problem(scene, fault);
  const world = multiply(worldMatrix(piecesById(state(scene)), piece.id), frame);
  const up = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, OUTLINE_HEIGHT / 2, 0, 1];
  const made: Piece = {
    id: newId(scene),
    name: newName(scene, `Outline of ${piece.name ?? piece.id}`),
    base,
    transform: transformOf(multiply(world, up)),
  };
  if (!commit(scene, `Add ${made.name}`, [...state(scene).document.pieces, made])) return;
  scene.store.dispatch(handActions.levelTaken('piece'));
  scene.store.dispatch(handActions.selected({ ids: [made.id] }));
  if (off > FLAT)
    notice(
      scene,
      `The picks bend: their outline was laid flat, from up to ${Number(off.toPrecision(2))} mm off.`,
    );
}

/** Picks further off one plane than this are told, mm. */
const FLAT = 0.01;

const MOST_SHELLS = 500;

/**
 * Makes a piece of every shell of the active piece; the first stays what the piece is. Where only the built piece has
 * several bodies, these become the pieces, with the steps in their meshes.
 */
export async function separateShells(scene: OpenScene): Promise<void> {
  const id = state(scene).hand.active;
  const piece = state(scene).document.pieces.find((p) => p.id === id);
  if (!piece || 'group' in piece.base) return problem(scene, 'Select a piece with faces first.');
  if (!isAlone(scene, piece.id)) return;
  const reply = await scene.builds.ask(piece.id, { kind: 'shells' });
  if (!reply || !('shells' in reply))
    return problem(scene, 'The piece is not built yet; try again in a moment.');
  const { shells } = reply;
  if (shells.length < 2) return separateBodies(scene, piece);
  if (shells.length > MOST_SHELLS) return tooMany(scene, shells.length, 'shells');
  const taken = new Set<string>();
  const [first, ...others] = shells;
  const keep = { op: 'keepFaces', select: listed({ kind: 'face', indices: first }) };
  const parts = [
    { ...piece, actions: [...(piece.actions ?? []), keep] },
    ...others.map((faces) => part(scene, piece, null, listed({ kind: 'face', indices: faces }), taken)),
  ];
  commit(
    scene,
    `Separate ${shells.length} shells of ${piece.name ?? piece.id}`,
    state(scene).document.pieces.flatMap((p) => (p.id === piece.id ? parts : [p])),
  );
  scene.store.dispatch(handActions.selected({ ids: parts.map((p) => p.id) }));
}

function tooMany(scene: OpenScene, n: number, what: string): void {
  problem(scene, `${n} ${what} are too many pieces; keep to ${MOST_SHELLS}, or take faces off instead.`);
}

/** Makes a piece of every body of a built piece. */
async function separateBodies(scene: OpenScene, piece: Piece): Promise<void> {
  const name = piece.name ?? piece.id;
  const reply = await scene.builds.ask(piece.id, { kind: 'bodies', most: MOST_SHELLS });
  if (!reply || !('bodies' in reply))
    return problem(scene, 'The piece is not built yet; try again in a moment.');
  if (reply.bodies < 2) return problem(scene, `${name} is one body; there is nothing to separate.`);
  if (reply.bodies > MOST_SHELLS) return tooMany(scene, reply.bodies, 'bodies');
  let blobs: string[];
  try {
    blobs = await Promise.all(reply.meshes.map((b) => keepMesh(b)));
  } catch {
    return problem(scene, 'The bodies could not be stored; the piece is as it was.');
  }
  const { actions: _, selections: __, steps, ...rest } = piece;
  const taken = new Set<string>();
  const parts = blobs.map((blob, k): Piece => {
    if (!k) return { ...rest, base: { blob } };
    return { ...rest, ...nextPart(scene, piece, taken), base: { blob } };
  });
  const pieces = state(scene).document.pieces.flatMap((p) => (p.id === piece.id ? parts : [p]));
  if (!commit(scene, `Separate ${blobs.length} bodies of ${name}`, pieces)) return;
  scene.store.dispatch(handActions.selected({ ids: parts.map((p) => p.id) }));
  const idle = idleCutters(state(scene).document.pieces, new Set(namedOperands(piece))).length;
  const also = idle ? ` ${idle === 1 ? 'A cutter has' : `${idle} cutters have`} nothing to cut now.` : '';
  if (steps?.length)
    notice(scene, `${blobs.length} bodies as they are built: the steps of ${name} are in their meshes now.${also}`, true); // prettier-ignore
}

/** Makes one piece of the selected ones, as they are built; shells stay shells, and the last one keeps its steps. */
export async function joinPieces(scene: OpenScene): Promise<void> {
  const byId = piecesById(state(scene));
  const ids = state(scene).hand.selected.filter((id) => {
    const p = byId.get(id);
    return p && !p.locked && !('group' in p.base);
  });
  const host = byId.get(ids.at(-1) ?? '');
  if (!host || ids.length < 2)
    return problem(scene, 'Select at least two unlocked pieces with faces to join.');
  const others = ids.slice(0, -1);
  const used = state(scene).document.pieces.filter(
    (p) => !others.includes(p.id) && namedOperands(p).some((id) => others.includes(id)),
  );
  if (used.length)
    return problem(
      scene,
      `${used[0].name ?? used[0].id} is cut by a piece that would be gone; settle that cut or leave the cutter out.`,
    );
  const madeOf = state(scene).document.pieces.find((p) => leansOn(p).some((id) => others.includes(id)) && !others.includes(p.id)); // prettier-ignore
  if (madeOf)
    return problem(
      scene,
      `${madeOf.name ?? madeOf.id} is made of a piece that would be gone; make it its own first.`,
    );
  if (!isAlone(scene, host.id)) return;
  const inverse = invert(worldMatrix(byId, host.id));
  const reply = await scene.builds.ask(host.id, {
    kind: 'bake',
    with: others.map((id) => ({ id, place: multiply(inverse, worldMatrix(byId, id)) })),
  });
  if (!reply || !('bytes' in reply))
    return problem(
      scene,
      reply && 'fault' in reply
        ? reply.fault.message
        : 'The pieces are not built yet; try again in a moment.',
    );
  try {
    const base = { blob: await keepMesh(reply.bytes) };
    const gone = new Set(others);
    const { actions: _, selections: __, ...rest } = host;
    commit(
      scene,
      `Join ${ids.length} pieces`,
      state(scene)
        .document.pieces.filter((p) => !gone.has(p.id))
        .map((p) =>
          p.id === host.id
            ? { ...rest, base }
            : p.parent && gone.has(p.parent)
              ? { ...p, parent: host.id }
              : p,
        ),
    );
    scene.store.dispatch(handActions.selected({ ids: [host.id] }));
  } catch {
    problem(scene, 'The joined mesh could not be stored; the pieces are as they were.');
  }
}

/** What the stage shows of the store: which pieces, in which look, and where the handles stand. */
import type { Piece } from '@urnsmith/core/document/schema';
import { worldMatrix } from '@urnsmith/core/document/placement';
import { applyMatrix, type Matrix } from '@urnsmith/core/mesh/transform';
import type { Fault } from '@urnsmith/core/mesh/errors';
import { hiddenPieces, hostsOfCutter, livePieces, piecesById, roleOf } from '../../state/selectors';
import type { RootState } from '../../state/store';
import { CLAY } from '../../viewport/looks';
import type { StagePiece, StageSettings } from '../../viewport/Stage';
import type { Built } from '../../workers/builds';

interface BuildSource {
  get(id: string): Built | undefined;
}

export function stagePieces(s: RootState, builds: BuildSource): StagePiece[] {
  const byId = piecesById(s);
  const hidden = hiddenPieces(s);
  const hosts = hostsOfCutter(s);
  const { selected, hovered, look, wire, xray, isolated } = s.bench;
  const chosen = new Set(selected);
  const out: StagePiece[] = [];
  for (const p of livePieces(s)) {
    const display = builds.get(p.id)?.display;
    if (!display || 'group' in p.base) continue;
    const role = roleOf(p);
    const lit = chosen.has(p.id) ? 'selected' : hovered === p.id ? 'hovered' : 'none';
    const ghost = role !== 'solid';
    const aside = isolated && selected.length > 0 && !isNear(p, chosen, byId, hosts);
    out.push({
      id: p.id,
      matrix: worldMatrix(byId, p.id),
      display,
      visible: !aside && (ghost ? ghostShows(p, s, hosts, hidden) : !hidden.has(p.id)),
      pickable: !p.faint && !p.locked,
      look: { ghost, wire, look, xray, faint: p.faint ?? false, lit, color: p.color ?? CLAY },
    });
  }
  return out;
}

/** A cutter shows while it or a host of it is in hand, even when it is hidden. */
function ghostShows(
  p: Piece,
  s: RootState,
  hosts: ReadonlyMap<string, string[]>,
  hidden: ReadonlySet<string>,
): boolean {
  const { selected, hovered } = s.bench;
  if (selected.includes(p.id) || hovered === p.id) return true;
  const of = hosts.get(p.id);
  if (!of) return !hidden.has(p.id);
  // Ghosts would lie over the looks that judge a surface.
  return !p.hidden && s.bench.look === 'clay' && of.some((h) => selected.includes(h));
}

function isNear(
  p: Piece,
  chosen: ReadonlySet<string>,
  byId: ReadonlyMap<string, Piece>,
  hosts: ReadonlyMap<string, string[]>,
): boolean {
  for (let at: Piece | undefined = p; at; at = at.parent ? byId.get(at.parent) : undefined)
    if (chosen.has(at.id)) return true;
  if (hosts.get(p.id)?.some((h) => chosen.has(h))) return true;
  // A cutter is worked on with the pieces it cuts in view.
  return [...chosen].some((id) => hosts.get(id)?.includes(p.id));
}

export function handlePlace(s: RootState): { at: [number, number, number]; matrix: Matrix } | null {
  const byId = piecesById(s);
  const ids = s.bench.selected.filter((id) => byId.has(id) && !byId.get(id)!.locked);
  const last = ids.at(-1);
  if (!last) return null;
  const sum = [0, 0, 0];
  for (const id of ids)
    applyMatrix(worldMatrix(byId, id), [0, 0, 0]).forEach((x, k) => (sum[k] += x / ids.length));
  // One piece is resized along its own axes; moving and turning go by the world's.
  const own = s.bench.tool === 'resize';
  return { at: sum as [number, number, number], matrix: own ? worldMatrix(byId, last) : IDENTITY };
}
const IDENTITY: Matrix = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

export function stageSettings(s: RootState, builds: BuildSource): StageSettings {
  const { grid, gridStep, parallel, tool } = s.bench;
  return { grid, gridStep, parallel, tool, handle: handlePlace(s), faults: faultLines(s, builds) };
}

/** Bad edges of whatever is in hand, brought into the world. */
function faultLines(s: RootState, builds: BuildSource): Float32Array | null {
  const byId = piecesById(s);
  const { active } = s.bench;
  const built = active ? builds.get(active) : undefined;
  const fault: Fault | null | undefined = built?.fault ?? built?.display?.steps.find((x) => x.fault)?.fault;
  if (!fault?.lines || !active) return null;
  const host = byId.get(active);
  // Operands are handed to a cut in the host's frame, so their lines are in it too.
  const matrix = host ? worldMatrix(byId, host.id) : IDENTITY;
  const out = new Float32Array(fault.lines.length);
  for (let i = 0; i < fault.lines.length; i += 3)
    out.set(applyMatrix(matrix, fault.lines.subarray(i, i + 3)), i);
  return out;
}

/** Turns the store into what the stage shows: pieces with their looks, and the handles' place. */
import type { Piece } from '@urnsmith/core/document/schema';
import { completeTransform, worldMatrix } from '@urnsmith/core/document/placement';
import { multiply, transformMatrix, type Matrix } from '@urnsmith/core/mesh/transform';
import type { Gradients } from '../../hands/gradient';
import { picksOf, type ElementLevel } from '../../state/handSlice';
import type { DrawnNormalsOf } from '../../hands/drawnNormals';
import { modeOn, showsHandles } from '../../modes';
import { idsInHand, KIND } from '../../state/inHand';
import type { ShownCage } from '../../viewport/Cages';
import type { CageLook } from '../../viewport/CageView';
import {
  cuttersPerHost,
  hiddenPieces,
  hostsOfCutter,
  livePieces,
  piecesById,
  membersOf,
  roleOf,
  selectedMembers,
} from '../../state/selectors';
import type { RootState } from '../../state/store';
import { LOOKS } from '../../viewport/looks';
import { CLAY } from '../../viewport/looks/clay';
import type { StagePiece, StageSettings } from '../../viewport/Stage';
import type { Built, WholeCage } from '../../workers/builds';
import { elementHandle, IDENTITY, pointsOfPicked } from '../../state/elementHandle';
import { handlePlace } from '../../state/pieceHandle';
import { badLines, guideLines, takenLines } from './stageLines';

interface BuildSource {
  get(id: string): Built | undefined;
}

type SoftSource = Pick<Gradients, 'of'>;

/** The last version of each piece on the stage; an unchanged piece is handed over as the same object. */
export type LastShown = Map<string, StagePiece>;

export function stagePieces(s: RootState, builds: BuildSource, last: LastShown = new Map()): StagePiece[] {
  const byId = piecesById(s);
  const hidden = hiddenPieces(s);
  const hosts = hostsOfCutter(s);
  const { selected } = s.hand;
  const { hovered } = s.hints;
  const { look, wire, xray, isolated } = s.view;
  const chosen = new Set(selected);
  const inHand = new Set(idsInHand(s));
  // A group has no body: its members are outlined.
  const outlined = new Set(selectedMembers(s));
  const pointedAt = new Set(hovered === null ? [] : membersOf(s, hovered));
  const out: StagePiece[] = [];
  for (const p of livePieces(s)) {
    const display = builds.get(p.id)?.display;
    if (!display || 'group' in p.base) continue;
    const role = roleOf(p);
    // While its elements are edited, the cage stands out and not the built piece's own edges.
    const edited = inHand.has(p.id);
    const lit = edited ? 'none' : outlined.has(p.id) ? 'selected' : pointedAt.has(p.id) ? 'hovered' : 'none';
    const ghost = role !== 'solid';
    const aside = isolated && selected.length > 0 && !isNear(p, chosen, byId, hosts);
    const color = p.color ?? CLAY;
    const matrix = placeOf(byId, p);
    const visible = !aside && (ghost ? ghostShows(p, s, hosts, hidden) : !hidden.has(p.id));
    const pickable = !p.faint && !p.locked;
    const made = p.id === s.hand.active ? s.hints.bead : null;
    const before = last.get(p.id);
    const sameLook =
      before?.look.ghost === (ghost && !edited) &&
      before.look.wire === (wire && !edited) &&
      before.look.look === look &&
      before.look.xray === xray &&
      before.look.faint === (p.faint ?? false) &&
      before.look.lit === lit &&
      before.look.color === color;
    if (
      sameLook &&
      before.matrix === matrix &&
      before.display === display &&
      before.visible === visible &&
      before.pickable === pickable &&
      before.made === made
    ) {
      out.push(before);
      continue;
    }
    const now: StagePiece = {
      id: p.id,
      matrix,
      display,
      visible,
      pickable,
      made,
      shape: shapeOf(p),
      look: sameLook
        ? before.look
        : { ghost: ghost && !edited, wire: wire && !edited, look, xray, faint: p.faint ?? false, lit, color },
    };
    last.set(p.id, now);
    out.push(now);
  }
  if (last.size > out.length) {
    const there = new Set(out.map((p) => p.id));
    for (const id of last.keys()) if (!there.has(id)) last.delete(id);
  }
  return out;
}

/** World matrices, the same array as long as neither a piece nor what it is nested in is another. */
const places = new WeakMap<Piece, { parent: Matrix; matrix: Matrix }>();

function placeOf(byId: ReadonlyMap<string, Piece>, p: Piece): Matrix {
  const above = p.parent === undefined ? undefined : byId.get(p.parent);
  const parent = above ? placeOf(byId, above) : IDENTITY;
  const known = places.get(p);
  if (known?.parent === parent) return known.matrix;
  const matrix = multiply(parent, transformMatrix(completeTransform(p.transform)));
  places.set(p, { parent, matrix });
  return matrix;
}

/** Pieces of one base and nothing else have one shape. */
const shapes = new WeakMap<Piece['base'], string>();

function shapeOf(p: Piece): string | null {
  if (p.steps?.length || p.actions?.length || !('primitive' in p.base)) return null;
  let shape = shapes.get(p.base);
  if (shape === undefined) shapes.set(p.base, (shape = JSON.stringify(p.base)));
  return shape;
}

/** A cutter shows while it or a host of it is in hand, even when it is hidden. */
function ghostShows(
  p: Piece,
  s: RootState,
  hosts: ReadonlyMap<string, string[]>,
  hidden: ReadonlySet<string>,
): boolean {
  const { selected } = s.hand;
  const { hovered } = s.hints;
  if (selected.includes(p.id) || hovered === p.id) return true;
  const of = hosts.get(p.id);
  if (!of) return !hidden.has(p.id);
  // Ghosts would lie over the looks that judge a surface, and over the elements being edited.
  if (s.hand.level !== 'piece') return false;
  if (p.hidden || LOOKS[s.view.look].judges) return false;
  return of.some((h) => selected.includes(h) && cuttersPerHost(s).get(h)! <= MOST_GHOSTS);
}

/** With more cutters than this, ghosts would hide the host: each shows only when it is pointed at. */
const MOST_GHOSTS = 60;

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

export function stageSettings(
  s: RootState,
  builds: BuildSource,
  gradient: SoftSource,
  normals: Pick<DrawnNormalsOf, 'of'>,
): StageSettings {
  const { grid, gridFrame, parallel, peg } = s.view;
  const { gridStep } = s.settings;
  const { tool, level, active } = s.hand;
  const on = modeOn(s);
  const built = active ? builds.get(active) : undefined;
  const matrix = active && piecesById(s).has(active) ? worldMatrix(piecesById(s), active) : IDENTITY;
  return {
    grid,
    gridStep,
    gridFrame,
    parallel,
    tool,
    handle:
      tool === 'select' || !showsHandles(s)
        ? null
        : level === 'piece'
          ? handlePlace(s)
          : elementHandle(s, builds),
    faults: badLines(s, built),
    taken: takenLines(s, built),
    normals: level === 'piece' || !s.settings.elements.normals ? null : normalsInHand(s, level, normals),
    cages: level === 'piece' ? [] : cagesInHand(s, level, builds, gradient),
    lines: on?.does.lines ? on.does.lines(on.mode, s) : guideLines(s, built, matrix),
    peg,
  };
}

function normalsInHand(
  s: RootState,
  level: ElementLevel,
  normals: Pick<DrawnNormalsOf, 'of'>,
): StageSettings['normals'] {
  const byId = piecesById(s);
  const picks = picksOf(s.hand);
  const some = idsInHand(s).filter((id) => byId.has(id));
  return normals.of(
    some.map((id) => ({
      id,
      matrix: worldMatrix(byId, id),
      selection: { kind: KIND[level], indices: (picks[id] ?? NONE) as number[] },
    })),
    s.settings.elements.normalLength,
  );
}

function cagesInHand(
  s: RootState,
  level: ElementLevel,
  builds: BuildSource,
  gradient: SoftSource,
): ShownCage[] {
  const byId = piecesById(s);
  return idsInHand(s).flatMap((id) => {
    const cage = builds.get(id)?.cage;
    if (!cage || !byId.has(id)) return [];
    const look = cageLook(s, id, level, cage, gradient);
    return [{ id, cage, matrix: worldMatrix(byId, id), look }];
  });
}

function cageLook(
  s: RootState,
  id: string,
  level: ElementLevel,
  cage: WholeCage,
  gradient: SoftSource,
): CageLook {
  const { elements } = s.settings;
  const picked = picksOf(s.hand)[id] ?? NONE;
  const pointed = s.hand.pointedOn === id ? s.hand.pointed : null;
  const soft =
    elements.soft && picked.length
      ? gradient.of(id, cage, pointsOfPicked(cage.shape, level, picked), elements, s.document.undo.length)
      : null;
  const { pointSize, through, ranks } = elements;
  return { level, picked, pointed, pointSize, through, soft, ranks };
}

const NONE: ReadonlyArray<number> = [];

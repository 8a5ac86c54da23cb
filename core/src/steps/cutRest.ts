/**
 * Cuts while a hand is at one of many cutters: the cut by all the others is kept, and only the one that moves is cut
 * from it. What comes out is the same body; how faces with holes are divided can differ, so it is shown while dragging
 * and made whole when the hand lets go.
 */
import type { PolyMesh } from '../mesh/PolyMesh';
import type { Layer } from '../mesh/layers';

export interface OperandState {
  id: string;
  mesh: PolyMesh;
}

/** Memory of a cut step from one run to the next. */
export interface CutMemory {
  host: PolyMesh;
  /** How it was cut: mode and joining. */
  manner: string;
  operands: ReadonlyArray<OperandState>;
  /** The host cut by all but some of the operands. */
  rest: { without: ReadonlySet<string>; mesh: PolyMesh } | null;
}

/** Fewer cutters are cut anew as quickly. */
const MANY = 6;
/** Share of the cutters that may be on the move. */
const FEW = 1 / 4;

/** The operands that are on the move; null when it pays to cut all anew. */
export function movedOperands(
  memory: CutMemory | undefined,
  host: PolyMesh,
  manner: string,
  operands: ReadonlyArray<OperandState>,
): ReadonlySet<string> | null {
  if (!memory || memory.host !== host || memory.manner !== manner) return null;
  if (operands.length < MANY || memory.operands.length !== operands.length) return null;
  const changed = new Set<string>();
  for (let i = 0; i < operands.length; i++) {
    if (memory.operands[i].id !== operands[i].id) return null;
    if (memory.operands[i].mesh !== operands[i].mesh) changed.add(operands[i].id);
  }
  // Those that moved before may rest for a moment.
  const before = memory.rest?.without;
  const moved = before && [...changed].every((id) => before.has(id)) ? before : changed;
  return moved.size && moved.size <= operands.length * FEW ? moved : null;
}

/** Whether it pays to keep the host cut by all operands but those that will move, and it is not kept yet. */
export function keepsRest(
  memory: CutMemory,
  host: PolyMesh,
  manner: string,
  operands: ReadonlyArray<OperandState>,
  moving: ReadonlySet<string>,
): boolean {
  if (memory.host !== host || memory.manner !== manner) return false;
  const few = moving.size > 0 && moving.size <= operands.length * FEW && operands.length >= MANY;
  if (!few || ![...moving].every((id) => operands.some((o) => o.id === id))) return false;
  return ![...moving].every((id) => memory.rest?.without.has(id));
}

/** Corners of a part of a divided face: what moves then touches but a little of it. */
export const NARROW = 40;

/** Bridges of a cut that is cut again: kept apart, so that each part of a divided face is cut by itself. */
const KEPT_BRIDGES = '#bridge';

export function withPartsApart(mesh: PolyMesh): PolyMesh {
  const { bridge, ...edge } = mesh.layers.edge;
  return bridge ? { ...mesh, layers: { ...mesh.layers, edge: { ...edge, [KEPT_BRIDGES]: bridge } } } : mesh;
}

export function withPartsTogether(mesh: PolyMesh): PolyMesh {
  const { [KEPT_BRIDGES]: kept, ...edge } = mesh.layers.edge;
  if (!kept) return mesh;
  const data = Uint8Array.from(kept.data);
  const fresh = edge.bridge?.data;
  if (fresh) for (let e = 0; e < data.length; e++) data[e] |= fresh[e];
  const bridge: Layer = { size: 1, data };
  return { ...mesh, layers: { ...mesh.layers, edge: { ...edge, bridge } } };
}

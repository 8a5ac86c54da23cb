/** Places the handles of selected pieces in the middle of their origins. */
import { worldMatrix } from '@urnsmith/core/document/placement';
import { applyMatrix } from '@urnsmith/core/mesh/transform';
import { IDENTITY, type Handle } from './elementHandle';
import { piecesById } from './selectors';
import type { RootState } from './store';

/** Null where nothing is selected that can be moved. */
export function handlePlace(s: RootState): Handle | null {
  const byId = piecesById(s);
  const ids = s.hand.selected.filter((id) => byId.has(id) && !byId.get(id)!.locked);
  const last = ids.at(-1);
  if (!last) return null;
  const sum = [0, 0, 0];
  for (const id of ids)
    applyMatrix(worldMatrix(byId, id), [0, 0, 0]).forEach((x, k) => (sum[k] += x / ids.length));
  // A single piece is resized along its own axes; moving and turning follow the grid, level or seated.
  const own = s.hand.tool === 'resize';
  return {
    at: sum as [number, number, number],
    matrix: own ? worldMatrix(byId, last) : (s.view.gridFrame ?? IDENTITY),
  };
}

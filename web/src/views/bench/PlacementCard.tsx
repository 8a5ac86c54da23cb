/** The placement of a piece: move, turn, size, typed with units and arithmetic. */
import { useScene } from '../../state/useScene';
import { lazy, memo, Suspense, useState } from 'react';
import { isUneven } from '@urnsmith/core/document/arrangePieces';
import type { Piece } from '@urnsmith/core/document/schema';
import { placeIn, putIn } from '@urnsmith/core/document/placeIn';
import { completeTransform } from '@urnsmith/core/document/placement';
import type { Vec3 } from '@urnsmith/core/mesh/vec3';
import { topOnly } from '../../hands/drag';
import { setStaysInWorld } from '../../state/actions';
import { editTogether, previewTogether, useSelectedWith } from '../../state/together';
import { canRestore, mirrorGroups, resetPlacement, restorePlacement, settle } from '../../state/arrange';
import { pivotsTo } from '../../state/placing';
import { piecesById, activePiece } from '../../state/selectors';
import { useApp } from '../../state/store';
import { CheckField, RowField } from '../../ui/fields';
import { Segmented } from '../../ui/Segmented';
import { SnapSettings } from './SnapSettings';

const SeveralPieces = lazy(async () => ({ default: (await import('./SeveralPieces')).SeveralPieces }));
const AnchorFields = lazy(async () => ({ default: (await import('./AnchorFields')).AnchorFields }));

type Part = 'move' | 'turn' | 'size';
const ROWS: Array<{ part: Part; title: string; unit: string; step: number; limit: number }> = [
  { part: 'move', title: 'Move', unit: 'mm', step: 0.5, limit: 1e6 },
  { part: 'turn', title: 'Turn', unit: '°', step: 0.5, limit: 36000 },
  { part: 'size', title: 'Size', unit: '×', step: 0.01, limit: 1000 },
];

/** Pieces nested in another selected piece move with it. With a single piece, it is placed alone. */
function placedTogether(byId: ReadonlyMap<string, Piece>, [piece, ...others]: Piece[]): Piece[] {
  const top = new Set(topOnly(byId, [piece, ...others].map((p) => p.id))); // prettier-ignore
  return top.has(piece.id) ? [piece, ...others.filter((p) => top.has(p.id))] : [piece];
}

const NO_SIZE = 'A size of 0 would leave nothing; make it small instead.';

export function PlacementCard({ piece: inHand, count }: { piece: Piece; count: number }) {
  const scene = useScene();
  const piece = useApp(activePiece) ?? inHand;
  const byId = useApp(piecesById);
  const seated = useApp((s) => s.view.gridFrame);
  const [onGrid, setOnGrid] = useState(true);
  const grid = onGrid ? seated : null;
  const selected = useSelectedWith(piece);
  const all = placedTogether(byId, selected);
  const ids = selected.map((p) => p.id);
  const valuesOf = (p: Piece, part: Part): number[] =>
    grid && part !== 'size' ? placeIn(grid, byId, p)[part] : completeTransform(p.transform)[part];
  const put = (p: Piece, part: Part, to: Vec3): Piece =>
    grid && part !== 'size'
      ? putIn(grid, byId, p, part, to)
      : { ...p, transform: { ...completeTransform(p.transform), [part]: to } };
  /** Every piece with the one number that was changed. */
  const withPart =
    (part: Part, v: number[], k: number) =>
    (p: Piece): Piece =>
      put(p, part, valuesOf(p, part).map((x, i) => (i === k ? v[k] : x)) as Vec3);
  const moreBy =
    (part: Part, k: number, by: number) =>
    (p: Piece): Piece =>
      put(p, part, valuesOf(p, part).map((x, i) => (i === k ? Number((x + by).toFixed(6)) : x)) as Vec3);
  const noSize = (p: Piece): string | null => (valuesOf(p, 'size').includes(0) ? NO_SIZE : null);
  return (
    <section className="placement" aria-label="Placement">
      <div className="head sub">
        <b>Placement</b>
        {all.length > 1 && <span className="dim">of {all.length} at once</span>}
        {piece.locked && <span className="tag">locked</span>}
      </div>
      {seated && (
        <div className="field choice">
          <span className="lab">Counted in</span>
          <Segmented
            className="small"
            label="Counted in"
            value={onGrid ? 'grid' : 'own'}
            options={[
              { value: 'grid', label: 'seated grid' },
              { value: 'own', label: piece.parent === undefined ? 'world' : 'what holds it' },
            ]}
            onChange={(v) => setOnGrid(v === 'grid')}
          />
        </div>
      )}
      {ROWS.map((r) => (
        <RowField
          key={r.part}
          label={r.title}
          unit={r.unit}
          measure={r.unit}
          names={['X', 'Y', 'Z']}
          values={valuesOf(piece, r.part)}
          schema={{ minimum: -r.limit, maximum: r.limit }}
          step={r.step}
          refuse={r.part === 'size' ? (v) => (v === 0 ? NO_SIZE : null) : undefined}
          onPreview={(v, k) => previewTogether(scene, all, withPart(r.part, v, k), noSize)}
          onCommit={(v, k) =>
            editTogether(scene, all, `${r.title} ${piece.name}`, withPart(r.part, v, k), noSize)
          }
          differ={valuesOf(piece, r.part).map((x, k) =>
            all.some((p) => valuesOf(p, r.part)[k] !== x)
              ? {
                  onPreview: (by: number) => previewTogether(scene, all, moreBy(r.part, k, by), noSize),
                  onCommit: (by: number) => editTogether(scene, all, `${r.title} ${piece.name}`, moreBy(r.part, k, by), noSize), // prettier-ignore
                }
              : undefined,
          )}
        />
      ))}
      {piece.role === 'cutter' && (
        <CheckField
          checked={piece.staysInWorld ?? false}
          onChange={(v) => setStaysInWorld(scene, piece.id, v)}
        >
          stays in the world
        </CheckField>
      )}
      {piece.role === 'cutter' && (
        <Suspense>
          <AnchorFields piece={piece} />
        </Suspense>
      )}
      <Snapping />
      <Pivots />
      {selected.some((p) => !('group' in p.base) && p.transform) && (
        <ApplyPlacement piece={piece} ids={ids} />
      )}
      {selected.every((p) => 'group' in p.base) && <Groups selected={selected} ids={ids} />}
      {!selected.some((p) => p.transform) && canRestore(scene, ids) && (
        <div className="tools" role="group" aria-label="Apply the placement">
          <button onClick={() => restorePlacement(scene, ids)}>Restore placement</button>
        </div>
      )}
      {count > 1 && (
        <Suspense>
          <SeveralPieces />
        </Suspense>
      )}
    </section>
  );
}

/** How dragging snaps, which a drag does not change. */
const Snapping = memo(SnapSettings);

/** Moves the pivot of each selected piece; nothing else moves. */
const Pivots = memo(function Pivots() {
  const scene = useScene();
  const peg = useApp((s) => s.view.peg !== null);
  return (
    <div className="field choice">
      <span className="lab">Pivot to</span>
      <div className="seg" role="group" aria-label="Pivot to">
        {(['middle', 'foot', 'peg'] as const).map((w) => (
          <button key={w} disabled={w === 'peg' && !peg} onClick={() => pivotsTo(scene, w)}>
            {w}
          </button>
        ))}
      </div>
    </div>
  );
});

/** Mirrors and resets the selected groups. */
function Groups({ selected, ids }: { selected: Piece[]; ids: string[] }) {
  const scene = useScene();
  return (
    <>
      <div className="field choice">
        <span className="lab">Mirror across</span>
        <div className="seg" role="group" aria-label="Mirror across">
          {(['X', 'Y', 'Z'] as const).map((name, axis) => (
            <button key={name} onClick={() => mirrorGroups(scene, ids, axis as 0 | 1 | 2)}>
              {name}
            </button>
          ))}
        </div>
      </div>
      {selected.some((p) => p.transform) && (
        <div className="tools" role="group" aria-label="Placement of the group">
          <button onClick={() => resetPlacement(scene, ids)}>Reset</button>
        </div>
      )}
    </>
  );
}

/** Turning the placement into the mesh, where it would distort what steps make of it or is simply not wanted. */
function ApplyPlacement({ piece, ids }: { piece: Piece; ids: string[] }) {
  const scene = useScene();
  const uneven = isUneven(piece) && !piece.reach;
  return (
    <>
      {uneven && (
        <p className="dim pad" role="note">
          The size differs along the axes, so rounding comes out uneven.
        </p>
      )}
      <div className="tools" role="group" aria-label="Apply the placement">
        <button onClick={() => settle(scene, ids, ['turn', 'size'])}>Apply turn and size</button>
        <button onClick={() => settle(scene, ids, ['move', 'turn', 'size'])}>Apply all</button>
        <button onClick={() => resetPlacement(scene, ids)}>Reset</button>
      </div>
    </>
  );
}

/** Anchors of a cutter, on the Card: distances to type, and clicks that anchor it. */
import { useScene, useBuilt } from '../../state/useScene';
import type { Anchor } from '@urnsmith/core/select/anchor';
import type { Piece } from '@urnsmith/core/document/schema';
import { deeper, depthOf, entryOf } from '@urnsmith/core/document/drawnDepth';
import { FaceFields } from '../../hands/FaceFields';
import { shown } from '../../hands/SideHandles';
import { shiftedOnFace } from '../../hands/standsOn';
import { editPiece, preview } from '../../state/actions';
import {
  distancesOf,
  endAnchoring,
  hostOf,
  movedAway,
  setReach,
  takeAnchoring,
  targetName,
} from '../../state/anchors';
import { piecesById } from '../../state/selectors';
import { useApp } from '../../state/store';
import { NumberField } from '../../ui/NumberField';
import { REACH_LABELS } from '../../ui/reachLabels';
import { Segmented } from '../../ui/Segmented';
import { modeIn } from '../../state/mode';
import { useStanding } from './useStanding';

const HEAD = 'flex items-center justify-between py-0.5 pr-2 pl-3 text-mist';
const REACH = ['blind', 'through', 'next'] as const;

export function AnchorFields({ piece }: { piece: Piece }) {
  const scene = useScene();
  const host = hostOf(useApp(piecesById), piece);
  const anchoring = useApp((s) => modeIn(s, 'anchor'));
  if (!host) return null;
  const reach = piece.reach ?? 'blind';
  return (
    <section aria-label="Anchors">
      <OnItsFace piece={piece} />
      <div className="field choice">
        <span className="lab">How deep</span>
        <Segmented
          label="How deep"
          value={reach}
          options={REACH.map((r) => ({ value: r, label: REACH_LABELS[r], hint: HINTS[r] }))}
          onChange={(r) => void setReach(scene, piece.id, r === 'blind' ? undefined : r)}
        />
      </div>
      <DepthField piece={piece} />
      <div className="head sub">
        <b>Anchors</b>
        <span className="dim">on {host.name ?? host.id}</span>
      </div>
      {(piece.anchors ?? []).map((a, k) => (
        <OneAnchor key={k} piece={piece} anchor={a} index={k} />
      ))}
      {anchoring ? (
        <p className="dim pad" role="status">
          {anchoring.hold === 'middle'
            ? `Click a face of ${host.name ?? host.id}; it stays in the middle to the one opposite.`
            : anchoring.hold === 'distance'
              ? `Click a face, an edge or a corner of ${host.name ?? host.id}.`
              : `Click a face of ${host.name ?? host.id}.`}{' '}
          <button className="inline px-0.5 py-0 underline" onClick={() => endAnchoring(scene)}>
            Cancel
          </button>
        </p>
      ) : (
        <div className="tools" role="group" aria-label="Anchor to">
          <button onClick={() => takeAnchoring(scene, 'distance')}>Hold a distance</button>
          <button onClick={() => takeAnchoring(scene, 'middle')}>Middle of two</button>
          <button onClick={() => takeAnchoring(scene, 'centre')}>Centre of a face</button>
        </div>
      )}
    </section>
  );
}

const HINTS: Record<(typeof REACH)[number], string> = {
  blind: 'As deep as it is',
  through: 'Down through all of the host, however thick it is',
  next: 'Down through the first wall it meets',
};

/** Distances to the sides of the face it goes in by. */
function OnItsFace({ piece }: { piece: Piece }) {
  const scene = useScene();
  const byId = useApp(piecesById);
  const standing = useStanding(piece);
  if (!standing) return null;
  const moved = (axis: 0 | 1, by: number): Piece => shiftedOnFace(byId, piece, standing.frame, axis, by);
  return (
    <FaceFields
      title="On its face"
      {...standing}
      onPreview={(axis, by) => preview(scene, { [piece.id]: moved(axis, by) })}
      onShift={(axis, by) =>
        editPiece(scene, piece.id, `Place ${piece.name ?? piece.id} on its face`, () => moved(axis, by))
      }
    />
  );
}

/** How deep a cutter goes under its face. Typed, it changes at its lower end. */
function DepthField({ piece }: { piece: Piece }) {
  const scene = useScene();
  const entry = entryOf(piece);
  const depth = entry && depthOf(piece, entry);
  if (depth === null || !entry) return null;
  if (piece.reach)
    return (
      <p className="dim pad" role="note">
        {shown(depth)} mm deep as the piece is now.
      </p>
    );
  return (
    <NumberField
      label="Under its face"
      value={shown(depth)}
      unit="mm"
      minimum={0.001}
      maximum={100000}
      step={0.5}
      refuse={(v) =>
        deeper(piece, entry, v - depth)
          ? null
          : 'That deep its base cannot be; its height is from 0.001 to 100,000 mm.'
      }
      onPreview={(v) => {
        const next = deeper(piece, entry, v - depth);
        if (next) preview(scene, { [piece.id]: next });
      }}
      onCommit={(v) =>
        editPiece(
          scene,
          piece.id,
          `Depth of ${piece.name ?? piece.id}`,
          (p) => deeper(p, entry, v - depth) ?? p,
        )
      }
    />
  );
}

function OneAnchor({ piece, anchor, index }: { piece: Piece; anchor: Anchor; index: number }) {
  const scene = useScene();
  const positions = useBuilt(piece.id)?.display?.positions;
  const side = targetName(anchor);
  const remove = (
    <button
      className="rounded-[4px] p-0.75 text-ash"
      aria-label={`Remove the anchor to the ${side}`}
      onClick={() =>
        editPiece(scene, piece.id, `Remove an anchor of ${piece.name ?? piece.id}`, ({ anchors, ...p }) => {
          const left = anchors!.filter((_, k) => k !== index);
          return left.length ? { ...p, anchors: left } : p;
        })
      }
    >
      ✕
    </button>
  );
  if (anchor.hold !== 'distance' || !positions || anchor === entryOf(piece))
    return (
      <div className={HEAD}>
        {HOLDING[anchor.hold](anchor, side)}
        {remove}
      </div>
    );
  const now = distancesOf(piece, anchor, positions);
  const field = (label: string, value: number): React.ReactNode => (
    <NumberField
      label={label}
      value={Number(value.toFixed(6)) + 0}
      unit="mm"
      minimum={-1e6}
      maximum={1e6}
      step={0.5}
      onPreview={(v) => preview(scene, { [piece.id]: movedAway(piece, anchor, v - value) })}
      onCommit={
        (v) =>
        editPiece(scene, piece.id, `Distance of ${piece.name ?? piece.id} from the ${side}`, () => movedAway(piece, anchor, v - value)) // prettier-ignore
      }
    />
  );
  return (
    <div role="group" aria-label={`From ${side}`}>
      <div className={HEAD}>
        From the {side} {remove}
      </div>
      {field('to its side', now.side)}
      {field('to its middle', now.middle)}
    </div>
  );
}

const HOLDING: Record<Anchor['hold'], (a: Anchor, side: string) => string> = {
  middle: (a) => `In the middle, ${AXES[axisOf(a.facing)]}`,
  centre: (_, side) => `Keeps its place on the ${side}`,
  distance: (_, side) => `Goes in by the ${side}`,
};

const axisOf = (v: readonly number[]): number =>
  [0, 1, 2].reduce((a, b) => (Math.abs(v[b]) > Math.abs(v[a]) ? b : a));
const AXES = ['left to right', 'bottom to top', 'back to front'];

/** Draggable dimensions on the model, each with its value beside it. */
import { useEffect, useRef } from 'react';
import { Matrix4, Vector3 } from 'three';
import { worldMatrix } from '@urnsmith/core/document/placement';
import { formatNumber } from '@urnsmith/core/document/expression';
import type { Piece } from '@urnsmith/core/document/schema';
import {
  completePrimitive,
  PRIMITIVES,
  primitiveFault,
  type Primitive,
} from '@urnsmith/core/primitives/index';
import { editPiece, preview } from '../../state/actions';
import { activePiece, piecesById } from '../../state/selectors';
import { store, useApp } from '../../state/store';
import { dimensionsOf, type Dimension } from '../../viewport/dimensions';
import { nearestOnAxis } from '../../viewport/dragValue';
import type { Stage } from '../../viewport/Stage';

export function DimensionHandles({ stage }: { stage: Stage }) {
  const piece = useApp(activePiece);
  const shown = useApp(
    (s) => s.bench.tool === 'select' && s.bench.selected.length === 1 && s.bench.step === null,
  );
  if (!shown || !piece || piece.locked || piece.actions?.length || !('primitive' in piece.base)) return null;
  const base = completePrimitive(piece.base as Primitive);
  return (
    <>
      {dimensionsOf(base).map((d) => (
        <Handle key={d.key} stage={stage} piece={piece} base={base} d={d} />
      ))}
    </>
  );
}

interface HandleProps {
  stage: Stage;
  piece: Piece;
  base: Primitive;
  d: Dimension;
}

function Handle({ stage, piece, base, d }: HandleProps) {
  const ref = useRef<HTMLDivElement>(null);
  const drag = useRef<{ from: number; value: number; next: Piece | null } | null>(null);
  const value = (base as unknown as Record<string, number>)[d.key];
  const place = (): { at: Vector3; along: Vector3; perMm: number } => {
    const m = new Matrix4().fromArray(worldMatrix(piecesById(store.getState()), piece.id));
    const at = new Vector3(...d.at).applyMatrix4(m);
    const along = new Vector3(...d.at)
      .add(new Vector3(...d.along))
      .applyMatrix4(m)
      .sub(at);
    const perMm = along.length() || 1;
    return { at, along: along.normalize(), perMm };
  };
  useEffect(() => {
    const put = (): void => {
      const { at, along } = place();
      // The handle floats a little off the surface, so that it never hides what it measures.
      const p = stage.project(at.addScaledVector(along, stage.rig.pixelSize(at) * 16));
      if (!ref.current) return;
      ref.current.style.display = p ? '' : 'none';
      if (p) ref.current.style.transform = `translate(${p.x}px, ${p.y}px)`;
    };
    put();
    return stage.onFrame(put);
  });
  const along = (e: React.PointerEvent): number => {
    const { at, along: axis } = place();
    const ray = stage.rig.ray(stage.pointer(e.clientX, e.clientY));
    return nearestOnAxis(ray.origin, ray.direction, at, axis).sub(at).dot(axis);
  };
  const limits = (
    PRIMITIVES[base.primitive].properties as Record<string, { minimum?: number; maximum?: number }>
  )[d.key];
  const with_ = (v: number): Piece => ({ ...piece, base: { ...base, [d.key]: v } as Primitive });
  return (
    <div
      ref={ref}
      className="handle"
      role="slider"
      tabIndex={0}
      aria-label={`${d.label} of ${piece.name}`}
      aria-valuenow={value}
      aria-valuetext={`${formatNumber(value)} mm`}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        drag.current = { from: along(e), value, next: null };
      }}
      onPointerMove={(e) => {
        const g = drag.current;
        if (!g) return;
        const { perMm } = place();
        const grown = along(e);
        // The handle itself has moved by what the number grew so far.
        const pulled = (grown - g.from) / perMm + (value - g.value) / d.rate;
        const pixel = stage.rig.pixelSize(stage.rig.target);
        const snapOn = store.getState().bench.snap !== (e.ctrlKey || e.metaKey);
        const step = snapOn
          ? store.getState().bench.gridStep
          : 10 ** Math.floor(Math.log10(Math.max(0.001, pixel)));
        const raw = Math.round((g.value + pulled * d.rate) / step) * step;
        const v = Math.min(
          limits.maximum ?? Infinity,
          Math.max(limits.minimum ?? 0.001, Number(raw.toFixed(4))),
        );
        const next = with_(v);
        if (primitiveFault(next.base as Primitive)) return;
        g.next = next;
        preview({ [piece.id]: next });
      }}
      onPointerUp={() => {
        const g = drag.current;
        drag.current = null;
        if (g?.next)
          editPiece(
            piece.id,
            `${d.label} of ${piece.name}`.replace(/^./, (c) => c.toUpperCase()),
            () => g.next!,
          );
        else preview(null);
      }}
      onKeyDown={(e) => {
        const s =
          e.key === 'ArrowRight' || e.key === 'ArrowUp'
            ? 1
            : e.key === 'ArrowLeft' || e.key === 'ArrowDown'
              ? -1
              : 0;
        if (!s) return;
        e.preventDefault();
        const next = with_(Math.max(limits.minimum ?? 0.001, value + s));
        if (!primitiveFault(next.base as Primitive))
          editPiece(piece.id, `${d.label} of ${piece.name}`, () => next);
      }}
    >
      <i />
      <span>
        {d.label} <b>{formatNumber(value)}</b>
      </span>
    </div>
  );
}

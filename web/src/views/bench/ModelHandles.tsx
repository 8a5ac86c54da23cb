/** Draggable numbers on the model, each with its value beside it: a primitive's dimensions, or those of the step at hand. */
import { clsx } from 'clsx';
import { useScene } from '../../scene/useScene';
import { useEffect, useRef } from 'react';
import { Matrix4, Vector3 } from 'three';
import { worldMatrix } from '@urnsmith/core/document/placement';
import { formatNumber } from '@urnsmith/core/document/expression';
import type { Piece } from '@urnsmith/core/document/schema';
import type { ModelHandle } from '@urnsmith/core/handle';
import {
  completePrimitive,
  PRIMITIVES,
  primitiveFault,
  type Primitive,
} from '@urnsmith/core/primitives/index';
import { IDENTITY } from '@urnsmith/core/mesh/transform';
import { frameOfStep } from '@urnsmith/core/steps/ofPiece';
import { STEPS, type Step } from '@urnsmith/core/steps/steps';
import { editPiece, preview } from '../../state/actions';
import { activePiece, piecesById } from '../../state/selectors';
import { useApp } from '../../state/store';
import { nearestOnAxis } from '../../hands/dragValue';
import type { Stage } from '../../viewport/Stage';

/** What handles change: the values they show, and the piece with others, or null where that cannot be. */
interface Target {
  values: Readonly<Record<string, unknown>>;
  properties: Readonly<Record<string, unknown>>;
  handles: ReadonlyArray<ModelHandle>;
  changed(change: Record<string, unknown>): Piece | null;
}

export function ModelHandles({ stage }: { stage: Stage }) {
  const piece = useApp(activePiece);
  const shown = useApp((s) => s.bench.tool === 'select' && s.bench.selected.length === 1);
  const step = useApp((s) => s.bench.step);
  const byId = useApp(piecesById);
  if (!shown || !piece || piece.locked) return null;
  const target = step === null ? primitiveOf(piece) : stepOf(byId, piece, step);
  return target?.handles.map((handle) => (
    <Handle key={`${step} ${handle.key} ${handle.label}`} {...{ stage, piece, target, handle }} />
  ));
}

function primitiveOf(piece: Piece): Target | null {
  if (piece.actions?.length || !('primitive' in piece.base)) return null;
  const base = completePrimitive(piece.base as Primitive);
  const kind = PRIMITIVES[base.primitive];
  return {
    values: { ...base },
    properties: kind.schema.properties,
    handles: kind.handles(base),
    changed(change) {
      const next = { ...base, ...change } as Primitive;
      return primitiveFault(next) ? null : { ...piece, base: next };
    },
  };
}

function stepOf(byId: ReadonlyMap<string, Piece>, piece: Piece, index: number): Target | null {
  const step = piece.steps?.[index];
  const kind = step && STEPS[step.kind];
  if (!step || step.off || !kind?.handles) return null;
  return {
    values: { ...step },
    properties: kind.schema.properties,
    handles: kind.handles(step as never, frameOfStep(byId, piece.id, step) ?? IDENTITY),
    changed: (change) => ({
      ...piece,
      steps: piece.steps!.map((s, i) => (i === index ? ({ ...s, ...change } as Step) : s)),
    }),
  };
}

interface NumberSchema {
  type?: string;
  unit?: string;
  minimum?: number;
  maximum?: number;
  default?: number;
}

function Handle(p: { stage: Stage; piece: Piece; target: Target; handle: ModelHandle }) {
  const scene = useScene();
  const { stage, piece, target, handle } = p;
  const ref = useRef<HTMLDivElement>(null);
  const drag = useRef<{ from: number; value: number; next: Piece | null } | null>(null);
  const schema = target.properties[handle.key] as NumberSchema;
  const whole = schema.type === 'integer';
  const value =
    handle.derived?.value ?? (target.values[handle.key] as number | undefined) ?? schema.default ?? 0;
  const unit = handle.derived ? 'mm' : (schema.unit ?? '');
  const title = `${handle.label} of ${piece.name}`;
  const name = title.replace(/^./, (c) => c.toUpperCase());
  const with_ = (v: number): Piece | null => {
    const least = handle.derived ? 0.001 : (schema.minimum ?? 0.001);
    const held = Math.min(schema.maximum ?? Infinity, Math.max(least, Number(v.toFixed(4))));
    return target.changed(handle.derived?.put(held) ?? { [handle.key]: held });
  };
  const nudge = (by: number): void => {
    const next = with_(value + by);
    if (next) editPiece(scene, piece.id, name, () => next);
  };
  const place = (): { at: Vector3; along: Vector3; perMm: number } => {
    const m = new Matrix4().fromArray(worldMatrix(piecesById(scene.store.getState()), piece.id));
    const at = new Vector3(...handle.at).applyMatrix4(m);
    const along = new Vector3(...handle.at)
      .add(new Vector3(...handle.along))
      .applyMatrix4(m)
      .sub(at);
    const perMm = along.length() || 1;
    return { at, along: along.normalize(), perMm };
  };
  useEffect(() => {
    const put = (): void => {
      const { at, along } = place();
      // The handle floats a little off the surface, so that it never hides what it measures.
      const q = stage.project(at.addScaledVector(along, stage.rig.pixelSize(at) * 16));
      if (!ref.current) return;
      ref.current.style.display = q ? '' : 'none';
      if (q) ref.current.style.transform = `translate(${q.x}px, ${q.y}px)`;
    };
    put();
    return stage.onFrame(put);
  });
  const along = (e: React.PointerEvent): number => {
    const { at, along: axis } = place();
    const ray = stage.rig.ray(stage.pointer(e.clientX, e.clientY));
    return nearestOnAxis(ray.origin, ray.direction, at, axis).sub(at).dot(axis);
  };
  /** Steps a pulled number goes by. */
  const stepFor = (snapOver: boolean): number => {
    if (whole) return 1;
    const { snap, gridStep } = scene.store.getState().bench;
    const pixel = stage.rig.pixelSize(stage.rig.target);
    return snap !== snapOver ? gridStep : 10 ** Math.floor(Math.log10(Math.max(0.001, pixel)));
  };
  return (
    <div
      ref={ref}
      className="handle absolute -top-2.25 -left-1.75 flex cursor-grab touch-none items-center gap-1.75 rounded-[6px] select-none"
      role="slider"
      tabIndex={0}
      aria-label={title}
      aria-valuenow={value}
      aria-valuetext={`${formatNumber(value)} ${unit}`.trim()}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        drag.current = { from: along(e), value, next: null };
      }}
      onPointerMove={(e) => {
        const g = drag.current;
        if (!g) return;
        const grown = along(e);
        // The handle itself has moved by what the number grew so far.
        const pulled = (grown - g.from) / place().perMm + (value - g.value) / handle.rate;
        const by = stepFor(e.ctrlKey || e.metaKey);
        const next = with_(Math.round((g.value + pulled * handle.rate) / by) * by);
        if (!next) return;
        g.next = next;
        preview(scene, { [piece.id]: next });
      }}
      onPointerUp={() => {
        const g = drag.current;
        drag.current = null;
        if (g?.next) editPiece(scene, piece.id, name, () => g.next!);
        else preview(scene, null);
      }}
      data-wheel={whole || undefined}
      onWheel={whole ? (e) => nudge(e.deltaY < 0 ? 1 : -1) : undefined}
      onKeyDown={(e) => {
        const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[e.key];
        if (!by) return;
        e.preventDefault();
        nudge(by);
      }}
    >
      <i className="size-3.25 rotate-45 border-2 border-ink-0 bg-cream" />
      <span
        className={clsx(
          'rounded-[6px] bg-ink-0/84 px-1.75 py-0.25 whitespace-nowrap text-mist',
          // A count stands close to the length it belongs to: its label goes above.
          whole && '-translate-y-4.25',
        )}
      >
        {handle.label} <b className="font-semibold text-porcelain">{formatNumber(value)}</b>
      </span>
    </div>
  );
}

/**
 * A number on the model: pulled along its axis, typed while the hand is on it, stepped by wheel and arrow keys. It goes
 * by the grid or by what it meets when snapping is on.
 */
import { useEffect, useEffectEvent, useRef, useState } from 'react';
import { clsx } from 'clsx';
import { Matrix4, Vector3 } from 'three';
import { formatNumber } from '@urnsmith/core/document/expression';
import type { Matrix } from '@urnsmith/core/mesh/transform';
import type { Vec3 } from '@urnsmith/core/mesh/vec3';
import { nearestOnAxis } from './dragValue';
import { snapAt } from './snapping';
import { panelActions } from '../state/panelSlice';
import { useScene } from '../state/useScene';
import { readQuantity } from '../ui/quantity';
import type { Stage } from '../viewport/Stage';

export interface HandleProps {
  stage: Stage;
  /** The piece it belongs to, which is not snapped to, and its frame in the world. */
  piece: string;
  frame: () => Matrix;
  /** Its label on the stage, and its owner. */
  label: string;
  title: string;
  value: number;
  unit?: string;
  minimum?: number;
  maximum?: number;
  whole?: boolean;
  /** Its place for its value, and the direction it is pulled, in that frame, mm. */
  at: Vec3;
  along: Vec3;
  /** Change of the number per millimetre pulled; 0 for one that is not pulled. */
  rate: number;
  /** The pointer goes through it to the model: it is reached by keys. */
  passes?: boolean;
  /** Shows another value while the hand is at it; false where that cannot be. */
  onShow: (value: number) => boolean;
  /** Takes the value for good; null to go back to what there was. */
  onPut: (value: number | null) => void;
}

/** A handle while it is pulled. */
interface Pull {
  /** Where along its axis it was taken, mm, and its number then. */
  from: number;
  value: number;
  /** The number that was last shown, and one that waits until that is. */
  next: number | null;
  waiting: number | null;
}

/** A place of the pointer in the window. */
type Client = Pick<PointerEvent, 'clientX' | 'clientY'>;

/** Pixels it floats off the surface, so that it never hides what it measures. */
const OFF = 16;

/** Room a label takes, and its diamond, pixels. */
const LABEL = 110;
const DIAMOND = 14;

export function ModelHandle(p: HandleProps) {
  const scene = useScene();
  const { stage, value, whole, rate } = p;
  const ref = useRef<HTMLDivElement>(null);
  const drag = useRef<Pull | null>(null);
  const [pulled, setPulled] = useState(false);
  const [typed, setTyped] = useState<string | null>(null);
  const held = (v: number): number =>
    Math.min(p.maximum ?? Infinity, Math.max(p.minimum ?? -Infinity, Number(v.toFixed(4))));
  const place = (): { at: Vector3; along: Vector3; perMm: number } => {
    const m = new Matrix4().fromArray(p.frame());
    const at = new Vector3(...p.at).applyMatrix4(m);
    const along = new Vector3(...p.at)
      .add(new Vector3(...p.along))
      .applyMatrix4(m)
      .sub(at);
    const perMm = along.length() || 1;
    return { at, along: along.normalize(), perMm };
  };
  useEffect(() => {
    const put = (): void => {
      const { at, along } = place();
      const q = stage.project(at.addScaledVector(along, stage.rig.pixelSize(at) * OFF));
      if (!ref.current) return;
      ref.current.style.display = q ? '' : 'none';
      if (!q) return;
      // Near the stage's right edge the label moves to the other side of its diamond.
      const turned = q.x > stage.box.width - LABEL;
      ref.current.style.flexDirection = turned ? 'row-reverse' : '';
      ref.current.style.transform =
        `translate(${q.x}px, ${q.y}px)` + (turned ? ` translateX(calc(-100% + ${DIAMOND}px))` : '');
    };
    put();
    return stage.onFrame(put);
  });
  const along = (e: Client): number => {
    const { at, along: axis } = place();
    const ray = stage.rig.ray(stage.pointer(e.clientX, e.clientY));
    return nearestOnAxis(ray.origin, ray.direction, at, axis).sub(at).dot(axis);
  };
  /** How far what the pointer is snapped to lies beyond the handle, along its axis, mm in the world. */
  const met = (e: Client): number | null => {
    const { snapTo } = scene.store.getState().settings;
    const { peg } = scene.store.getState().view;
    const snap = snapAt(stage, e.clientX, e.clientY, {
      kinds: snapTo.filter((k) => k !== 'grid'),
      radius: OFF,
      without: new Set([p.piece]),
      moving: null,
      peg: peg ? new Vector3(peg[12], peg[13], peg[14]) : null,
    });
    const { at, along: axis } = place();
    return snap ? snap.at.clone().sub(at).dot(axis) : null;
  };
  const pulledTo = (e: PointerEvent, g: { from: number; value: number }): number => {
    const { snap, snapTo, gridStep } = scene.store.getState().settings;
    const snaps = snap !== (e.ctrlKey || e.metaKey);
    const { perMm } = place();
    const to = snaps && !whole ? met(e) : null;
    if (to !== null) return value + (to / perMm) * rate;
    // The handle itself has moved by what the number grew so far.
    const grown = (along(e) - g.from) / perMm + (value - g.value) / rate;
    const pixel = stage.rig.pixelSize(stage.rig.target) * Math.abs(rate);
    const by = whole
      ? 1
      : snaps && snapTo.includes('grid')
        ? gridStep * Math.abs(rate)
        : 10 ** Math.floor(Math.log10(Math.max(1e-3, pixel)));
    return Math.round((g.value + grown * rate) / by) * by;
  };
  const show = useEffectEvent((): void => {
    const g = drag.current;
    if (!g || g.waiting === null || scene.builds.isAwaited(p.piece)) return;
    const next = g.waiting;
    g.waiting = null;
    if (p.onShow(next)) g.next = next;
  });
  // Wherever the pointer goes. The number waits for the body, so that it is never further than one picture ahead.
  const onMove = useEffectEvent((e: PointerEvent): void => {
    const g = drag.current!;
    g.waiting = held(pulledTo(e, g));
    show();
  });
  const letGo = (value: number | null): void => {
    drag.current = null;
    setPulled(false);
    p.onPut(value);
  };
  const onUp = useEffectEvent((): void => {
    const { next, waiting, value: before } = drag.current!;
    const last = waiting !== null && p.onShow(waiting) ? waiting : next;
    letGo(last === before ? null : last);
  });
  const onCancel = useEffectEvent((): void => letGo(null));
  useEffect(() => {
    if (!pulled) return;
    const [move, up] = [(e: PointerEvent): void => onMove(e), (): void => onUp()];
    const cancel = (): void => onCancel();
    window.addEventListener('pointermove', move);
    window.addEventListener('pointerup', up);
    window.addEventListener('pointercancel', cancel);
    const stop = scene.builds.subscribe(() => show());
    return () => {
      stop();
      window.removeEventListener('pointermove', move);
      window.removeEventListener('pointerup', up);
      window.removeEventListener('pointercancel', cancel);
    };
  }, [pulled, scene]);
  const nudge = (by: number): void => p.onPut(held(value + by));
  const finish = (): void => {
    if (typed === null) return;
    const { label, unit: measure, minimum, maximum, whole: integer } = p;
    const title = label.replace(/^./, (c) => c.toUpperCase());
    const read = readQuantity(typed, { label: title, measure, minimum, maximum, integer });
    if ('error' in read) scene.store.dispatch(panelActions.noticed({ text: read.error, tone: 'problem' }));
    else {
      setTyped(null);
      ref.current?.focus();
      if (read.value !== value) p.onPut(read.value);
    }
  };
  return (
    <div
      ref={ref}
      className={clsx(
        'handle absolute -top-2.25 -left-1.75 flex touch-none items-center gap-1.75 rounded-[6px] select-none',
        rate && 'cursor-grab',
        p.passes && 'pointer-events-none',
      )}
      role="slider"
      tabIndex={0}
      aria-label={p.title}
      aria-valuenow={value}
      aria-valuetext={`${formatNumber(value)} ${p.unit ?? ''}`.trim()}
      onClick={() => !rate && !whole && typed === null && setTyped(String(value))}
      onPointerDown={(e) => {
        if (!rate || typed !== null) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        drag.current = { from: along(e), value, next: null, waiting: null };
        setPulled(true);
      }}
      data-wheel={whole || undefined}
      onWheel={whole ? (e) => nudge(e.deltaY < 0 ? 1 : -1) : undefined}
      onKeyDown={(e) => {
        const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[e.key];
        if (by && typed === null) {
          e.preventDefault();
          nudge(by);
        } else if (typed === null && /^[\d.,-]$/.test(e.key) && !e.ctrlKey && !e.altKey && !e.metaKey) {
          e.preventDefault();
          e.stopPropagation();
          // Drops the preview of the pull; the typed number counts.
          if (pulled) letGo(null);
          setTyped(e.key);
        }
      }}
    >
      <i className={clsx('size-3.25 rotate-45 border-2 border-ink-0 bg-cream', !rate && 'invisible')} />
      <span
        className={clsx(
          'rounded-[6px] bg-ink-0/84 px-1.75 py-0.25 whitespace-nowrap text-mist',
          // A count stands close to the length it belongs to: its label goes above.
          whole && '-translate-y-4.25',
        )}
      >
        {p.label}{' '}
        {typed === null ? (
          <b className="font-semibold text-porcelain">{formatNumber(value)}</b>
        ) : (
          <input
            autoFocus
            className="w-16 bg-transparent font-semibold text-porcelain outline-none"
            aria-label={p.title}
            value={typed}
            onChange={(e) => setTyped(e.currentTarget.value)}
            onBlur={() => setTyped(null)}
            onKeyDown={(e) => {
              e.stopPropagation();
              if (e.key === 'Enter') finish();
              if (e.key === 'Escape') {
                setTyped(null);
                ref.current?.focus();
              }
            }}
          />
        )}
      </span>
    </div>
  );
}

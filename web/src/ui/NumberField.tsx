/** A number with a unit: typed with arithmetic and units, scrubbed by its label, stepped by the arrow keys. */
import { clsx } from 'clsx';
import { useEffect, useEffectEvent, useId, useRef, useState } from 'react';
import { formatNumber } from '@urnsmith/core/document/expression';
import { readQuantity } from './quantity';

export interface NumberFieldProps {
  label: string;
  value: number;
  /** Shown behind the number; says how what is typed is read. */
  unit?: string;
  /** The unit when it is shown elsewhere. */
  measure?: string;
  minimum?: number;
  maximum?: number;
  integer?: boolean;
  /** A sentence when a number within the limits still cannot be. */
  refuse?: (v: number) => string | null;
  /** Change per pixel scrubbed and per arrow key. */
  step?: number;
  /** While scrubbing; not yet an action. */
  onPreview?: (v: number) => void;
  onCommit: (v: number) => void;
  /**
   * The field stands for several different numbers: a typed one replaces all, a step or a drag changes each by the
   * same amount.
   */
  differ?: { onPreview?: (by: number) => void; onCommit: (by: number) => void };
  compact?: boolean;
  /** Told what is wrong instead of showing it; shown under an element of that id. */
  fault?: { id: string; tell: (text: string | null) => void };
}

export function NumberField(props: NumberFieldProps) {
  const { label, value, unit, measure = unit, minimum = -Infinity, maximum = Infinity, integer } = props;
  const id = useId();
  const [text, setText] = useState<string | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const faultId = props.fault?.id ?? `${id}-fault`;
  const letGo = useRef(false);
  const scrubbed = useRef(false);
  const scrub = useRef<{ x: number; from: number; to: number } | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const { differ } = props;
  const step = props.step ?? (integer ? 1 : 0.5);
  // Typed text belongs to the value it was typed over.
  const [typedOver, setTypedOver] = useState(value);
  if (typedOver !== value) {
    setTypedOver(value);
    setText(null);
    setFault(null);
  }
  const tell = useEffectEvent(() => props.fault?.tell(fault));
  useEffect(() => tell(), [fault]);

  const clamp = (v: number): number => {
    const r = integer ? Math.round(v) : Number(v.toFixed(4));
    return Math.min(maximum, Math.max(minimum, r));
  };
  const finish = (): void => {
    if (text === null || letGo.current) return;
    const parsed = readQuantity(text, { label, measure, minimum, maximum, integer });
    const problem = 'error' in parsed ? parsed.error : (props.refuse?.(parsed.value) ?? null);
    if (problem || 'error' in parsed) {
      setFault(problem);
      return;
    }
    setFault(null);
    setText(null);
    if (differ || parsed.value !== value) props.onCommit(parsed.value);
  };
  const onKeyDown = (e: React.KeyboardEvent): void => {
    if (e.key === 'Enter') {
      finish();
      input.current?.select();
    } else if (e.key === 'Escape') {
      // Drops the typed text, so that leaving the field does not commit it.
      letGo.current = true;
      setText(null);
      setFault(null);
      input.current?.blur();
      letGo.current = false;
    } else if (e.key === 'ArrowUp' || e.key === 'ArrowDown') {
      e.preventDefault();
      const by = step * (e.shiftKey ? 10 : 1) * (e.key === 'ArrowUp' ? 1 : -1);
      if (differ)
        return differ.onCommit(integer ? Math.sign(by) * Math.max(1, Math.round(Math.abs(by))) : by);
      const to = clamp(value + by);
      // Over what cannot be, one step further.
      props.onCommit(props.refuse?.(to) ? clamp(to + by) : to);
    }
  };
  return (
    <div
      className={props.compact ? 'relative flex flex-wrap text-mist' : 'field'}
      data-field
      data-fault={fault ? '' : undefined}
    >
      <label
        className={clsx(
          'cursor-ew-resize touch-none select-none',
          props.compact && 'absolute left-1.5 z-1 px-0.5 py-1 text-[10.5px] text-ash',
        )}
        htmlFor={id}
        onPointerDown={(e) => {
          scrub.current = { x: e.clientX, from: value, to: value };
          e.currentTarget.setPointerCapture(e.pointerId);
        }}
        onPointerMove={(e) => {
          const s = scrub.current;
          if (!s || Math.abs(e.clientX - s.x) < 3) return;
          const by = (e.clientX - s.x) * step * (e.shiftKey ? 0.1 : 1);
          if (differ) {
            s.to = s.from + (integer ? Math.round(by) : Number(by.toFixed(4)));
            return differ.onPreview?.(s.to - s.from);
          }
          const to = clamp(s.from + by);
          if (props.refuse?.(to)) return;
          s.to = to;
          props.onPreview?.(to);
        }}
        onClick={(e) => {
          // A label that was scrubbed does not put the hand into its field.
          if (scrubbed.current) e.preventDefault();
          scrubbed.current = false;
        }}
        onPointerUp={() => {
          const s = scrub.current;
          scrub.current = null;
          if (!s || s.to === s.from) return;
          scrubbed.current = true;
          if (differ) differ.onCommit(s.to - s.from);
          else props.onCommit(s.to);
        }}
      >
        {label}
      </label>
      <div
        className={clsx(
          'num flex min-w-0 items-center rounded-[6px] border-b-2 bg-ink-2 focus-within:border-b-glaze',
          fault ? 'border-b-ember' : 'border-b-ink-3',
          props.compact ? 'flex-1' : 'pr-2',
        )}
      >
        <input
          className={clsx(
            'w-full min-w-0 flex-1 bg-transparent font-semibold outline-none',
            props.compact ? 'py-0.75 pr-0.5 pl-4.5 text-[12px] tracking-[-0.01em]' : 'py-1 pr-1 pl-2.25',
          )}
          // A name of more than one letter takes more room before the number.
          style={
            props.compact && label.length > 1 ? { paddingLeft: `${0.9 + label.length * 0.46}rem` } : undefined
          }
          ref={input}
          id={id}
          inputMode="decimal"
          autoComplete="off"
          data-untouched={text === null || undefined}
          aria-invalid={fault !== null}
          aria-describedby={fault ? faultId : undefined}
          value={text ?? (differ ? '' : formatNumber(value))}
          placeholder={differ && 'differ'}
          onFocus={(e) => e.currentTarget.select()}
          onChange={(e) => setText(e.currentTarget.value)}
          onBlur={finish}
          onKeyDown={onKeyDown}
        />
        {unit && (
          <span className="text-ash" aria-hidden>
            {unit}
          </span>
        )}
      </div>
      {fault && !props.fault && (
        <p id={faultId} className="fault" role="alert">
          {fault}
        </p>
      )}
    </div>
  );
}

/** A number with a unit: typed with arithmetic and units, scrubbed by its label, stepped by the arrow keys. */
import { useEffect, useId, useRef, useState } from 'react';
import { formatNumber, parseQuantity, type Quantity } from '@urnsmith/core/document/expression';

export interface NumberFieldProps {
  label: string;
  value: number;
  quantity?: Quantity;
  unit?: string;
  minimum?: number;
  maximum?: number;
  integer?: boolean;
  /** Change per pixel scrubbed and per arrow key. */
  step?: number;
  /** While scrubbing; not yet an action. */
  onPreview?: (v: number) => void;
  onCommit: (v: number) => void;
  compact?: boolean;
}

export function NumberField(props: NumberFieldProps) {
  const { label, value, quantity = 'number', unit, minimum = -Infinity, maximum = Infinity, integer } = props;
  const id = useId();
  const [text, setText] = useState<string | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const scrub = useRef<{ x: number; from: number; to: number } | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const step = props.step ?? (integer ? 1 : 0.5);
  useEffect(() => {
    setText(null);
    setFault(null);
  }, [value]);

  const check = (v: number): string | null => {
    const u = unit ? ` ${unit}` : '';
    if (integer && !Number.isInteger(v)) return `${label} must be a whole number.`;
    if (v < minimum) return `${label} must be at least ${formatNumber(minimum)}${u}.`;
    if (v > maximum) return `${label} must be at most ${formatNumber(maximum)}${u}.`;
    return null;
  };
  const clamp = (v: number): number => {
    const r = integer ? Math.round(v) : Number(v.toFixed(4));
    return Math.min(maximum, Math.max(minimum, r));
  };
  const finish = (): void => {
    if (text === null) return;
    const parsed = parseQuantity(text, quantity);
    const problem = 'error' in parsed ? parsed.error : check(parsed.value);
    if (problem || 'error' in parsed) {
      setFault(problem);
      return;
    }
    setFault(null);
    setText(null);
    if (parsed.value !== value) props.onCommit(parsed.value);
  };
  const onKeyDown = (e: React.KeyboardEvent): void => {
    e.stopPropagation();
    if (e.key === 'Enter') {
      finish();
      input.current?.select();
    } else if (e.key === 'Escape') {
      setText(null);
      setFault(null);
      input.current?.blur();
    } else if (e.key === 'ArrowUp' || e.key === 'ArrowDown') {
      e.preventDefault();
      const by = step * (e.shiftKey ? 10 : 1) * (e.key === 'ArrowUp' ? 1 : -1);
      props.onCommit(clamp(value + by));
    }
  };
  return (
    <div className={props.compact ? 'field compact' : 'field'} data-fault={fault ? '' : undefined}>
      <label
        htmlFor={id}
        onPointerDown={(e) => {
          scrub.current = { x: e.clientX, from: value, to: value };
          e.currentTarget.setPointerCapture(e.pointerId);
        }}
        onPointerMove={(e) => {
          const s = scrub.current;
          if (!s || Math.abs(e.clientX - s.x) < 3) return;
          s.to = clamp(s.from + (e.clientX - s.x) * step * (e.shiftKey ? 0.1 : 1));
          props.onPreview?.(s.to);
        }}
        onPointerUp={() => {
          const s = scrub.current;
          scrub.current = null;
          if (s && s.to !== s.from) props.onCommit(s.to);
        }}
      >
        {label}
      </label>
      <div className="num">
        <input
          ref={input}
          id={id}
          inputMode="decimal"
          autoComplete="off"
          aria-invalid={fault !== null}
          aria-describedby={fault ? `${id}-fault` : undefined}
          value={text ?? formatNumber(value)}
          onFocus={(e) => e.currentTarget.select()}
          onChange={(e) => setText(e.currentTarget.value)}
          onBlur={finish}
          onKeyDown={onKeyDown}
        />
        {unit && <span aria-hidden>{unit}</span>}
      </div>
      {fault && (
        <p id={`${id}-fault`} className="fault" role="alert">
          {fault}
        </p>
      )}
    </div>
  );
}

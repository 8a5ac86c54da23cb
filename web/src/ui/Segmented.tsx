/** A choice among a few, as a row of joined buttons (a Radix toggle group). */
import { ToggleGroup } from 'radix-ui';
import { clsx } from 'clsx';

export interface SegmentedProps<T extends string> {
  label: string;
  value: T;
  options: ReadonlyArray<{ value: T; label: string; hint?: string }>;
  onChange: (v: T) => void;
  className?: string;
}

export function Segmented<T extends string>({
  label,
  value,
  options,
  onChange,
  className,
}: SegmentedProps<T>) {
  return (
    <ToggleGroup.Root
      type="single"
      aria-label={label}
      value={value}
      onValueChange={(v) => v && onChange(v as T)}
      className={clsx('seg', className)}
    >
      {options.map((o) => (
        <ToggleGroup.Item key={o.value} value={o.value} title={o.hint}>
          {o.label}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}

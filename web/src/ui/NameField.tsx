/** A name that turns into a field on double click or F2. */
import { useEffect, useRef, useState } from 'react';

export interface NameFieldProps {
  value: string;
  label: string;
  editing: boolean;
  onDone: (name: string | null) => void;
}

export function NameField({ value, label, editing, onDone }: NameFieldProps) {
  if (!editing) return <span className="name overflow-hidden text-ellipsis">{value}</span>;
  return <NameInput value={value} label={label} onDone={onDone} />;
}

function NameInput({ value, label, onDone }: Omit<NameFieldProps, 'editing'>) {
  const [text, setText] = useState(value);
  const ref = useRef<HTMLInputElement>(null);
  useEffect(() => {
    const later = setTimeout(() => ref.current?.select(), 0);
    return () => clearTimeout(later);
  }, []);
  const finish = (): void => onDone(text.trim() && text.trim() !== value ? text.trim().slice(0, 120) : null);
  return (
    <input
      ref={ref}
      className="nameInput w-full min-w-15 rounded-[4px] bg-ink-0 px-1.25 py-0.25 font-medium text-porcelain"
      aria-label={label}
      maxLength={120}
      value={text}
      onChange={(e) => setText(e.currentTarget.value)}
      onBlur={finish}
      onClick={(e) => e.stopPropagation()}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === 'Enter') finish();
        if (e.key === 'Escape') onDone(null);
      }}
    />
  );
}

/** A button that asks for a file. */
import { useRef, type ReactNode } from 'react';

interface FileButtonProps {
  /** The label for screen readers. */
  label: string;
  /** Endings and types, as a file field takes them. */
  accept: string;
  disabled?: boolean;
  onFile: (file: File) => void;
  children: ReactNode;
}

export function FileButton({ label, accept, disabled, onFile, children }: FileButtonProps) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <button onClick={() => input.current?.click()} disabled={disabled}>
        {children}
      </button>
      <input
        ref={input}
        type="file"
        accept={accept}
        hidden
        aria-label={label}
        onChange={(e) => {
          const file = e.currentTarget.files?.[0];
          // The same file may be chosen again, changed.
          e.currentTarget.value = '';
          if (file) onFile(file);
        }}
      />
    </>
  );
}

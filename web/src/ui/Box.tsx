/** A box over the view: title, content, Escape and a click beside it close it. */
import { clsx } from 'clsx';
import type { ReactNode } from 'react';
import { Dialog } from 'radix-ui';
import { X } from 'lucide-react';

export function Box({
  title,
  wide,
  children,
  onClose,
}: {
  title: string;
  /** The width the window allows. */
  wide?: boolean;
  children: ReactNode;
  onClose: () => void;
}) {
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-70 bg-veil" />
        <Dialog.Content
          className={clsx(
            'scaled fixed top-18 left-1/2 z-71 max-h-[calc(100vh-110px)] -translate-x-1/2 overflow-auto rounded-[12px] border border-line bg-ink-1 pb-3 shadow-box',
            wide ? 'w-[min(1180px,96vw)]' : 'w-140',
          )}
          aria-describedby={undefined}
        >
          <header className="flex items-center justify-between px-3.5 pt-2.75 pb-1.75">
            <Dialog.Title className="text-[14px] font-semibold">{title}</Dialog.Title>
            <Dialog.Close className="quiet" aria-label="Close">
              <X size={15} aria-hidden />
            </Dialog.Close>
          </header>
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

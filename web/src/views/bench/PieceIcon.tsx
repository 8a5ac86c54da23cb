/** A small sign for what a piece is for: a solid, a cutter or a guide. */
import { clsx } from 'clsx';

const SIGNS = {
  solid: 'bg-current opacity-75',
  cutter: 'border-[1.5px] border-dashed border-cobalt',
  guide: 'scale-80 rotate-45 border-[1.5px] border-cream',
};

export const PieceIcon = ({ role, onActive }: { role: keyof typeof SIGNS; onActive?: boolean }) => (
  <i
    className={clsx(
      'inline-block size-2.75 flex-none rounded-[3px]',
      SIGNS[role],
      onActive && role === 'cutter' && 'border-glaze-ink',
    )}
  />
);

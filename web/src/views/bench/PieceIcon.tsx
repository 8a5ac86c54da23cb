/** A small sign for what a piece is for: a solid, a cutter or a guide. */
import { clsx } from 'clsx';

const SIGNS = {
  solid: 'bg-current opacity-75',
  cutter: 'border-[1.5px] border-dashed border-cobalt',
  guide: 'scale-80 rotate-45 border-[1.5px] border-cream',
};

interface PieceIconProps {
  role: keyof typeof SIGNS;
  onActive?: boolean;
  /** A twin: one of several pieces that share base and build. */
  twin?: boolean;
}

export const PieceIcon = ({ role, onActive, twin }: PieceIconProps) => (
  <i
    title={twin ? 'Twin' : undefined}
    className={clsx(
      'inline-block size-2.75 flex-none rounded-[3px]',
      SIGNS[role],
      twin && 'shadow-[2.5px_-2.5px_0_-1px_currentColor]',
      onActive && role === 'cutter' && 'border-glaze-ink',
    )}
  />
);

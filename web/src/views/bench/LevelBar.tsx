/** The level bar: pieces, or faces, edges and points of the piece in hand. */
import { useScene } from '../../state/useScene';
import { clsx } from 'clsx';
import { LEVELS } from '../../state/handSlice';
import { takeLevel } from '../../state/elements';
import { activeWherever } from '../../state/selectors';
import { useApp } from '../../state/store';
import { KeyCap } from '../KeyCap';

const MARKS = {
  piece: 'size-2.25 rounded-[3px] border border-current bg-current',
  face: 'size-2.25 border border-current bg-[linear-gradient(135deg,currentcolor_50%,transparent_50%)]',
  edge: 'size-2.25 -rotate-24 border-b-2 border-current',
  point: 'size-1.5 rounded-full border border-current bg-current',
};

export function LevelBar() {
  const scene = useScene();
  const level = useApp((s) => s.hand.level);
  const piece = useApp(activeWherever);
  const editable = piece !== null && !('group' in piece.base);
  return (
    <div className="seg" role="radiogroup" aria-label="Level">
      {LEVELS.map((l) => (
        <button
          key={l}
          role="radio"
          aria-checked={l === level}
          className={clsx(l === level && 'on')}
          disabled={l !== 'piece' && !editable}
          onClick={() => void takeLevel(scene, l)}
        >
          <i className={clsx('mr-1.25 inline-block align-[-1px] @max-[640px]:mr-0', MARKS[l])} aria-hidden />
          <span className="@max-[640px]:sr-only">{l[0].toUpperCase() + l.slice(1)}</span>
          <KeyCap of={`level-${l}`} />
        </button>
      ))}
    </div>
  );
}

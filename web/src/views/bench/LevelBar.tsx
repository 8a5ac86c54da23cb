/** What is handled: pieces, or faces, edges, points of the one in hand. */
import { useScene } from '../../scene/useScene';
import { clsx } from 'clsx';
import { LEVELS } from '../../state/benchSlice';
import { takeLevel } from '../../state/elements';
import { activePiece } from '../../state/selectors';
import { useApp } from '../../state/store';
import { KeyCap } from '../../ui/KeyCap';

export function LevelBar() {
  const scene = useScene();
  const level = useApp((s) => s.bench.level);
  const piece = useApp(activePiece);
  const editable = piece !== null && !('group' in piece.base);
  return (
    <div className="seg levels" role="radiogroup" aria-label="Level">
      {LEVELS.map((l) => (
        <button
          key={l}
          role="radio"
          aria-checked={l === level}
          className={clsx(l === level && 'on')}
          disabled={l !== 'piece' && !editable}
          onClick={() => void takeLevel(scene, l)}
        >
          <i className={`lvl ${l}`} aria-hidden />
          {l[0].toUpperCase() + l.slice(1)}
          <KeyCap of={`level-${l}`} />
        </button>
      ))}
    </div>
  );
}

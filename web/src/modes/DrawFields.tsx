/** The numbers of a drawing tool in hand: what its lines are held to, and what is drawn so far. */
import { finishDrawing, putDrawingAway } from '../hands/drawing';
import { AngleStep, GridStep } from '../hands/StepSizes';
import type { ModeOf } from '../state/mode';
import { settingActions } from '../state/settingSlice';
import { useAct, useApp } from '../state/store';
import { useScene } from '../state/useScene';
import { CheckField } from '../ui/fields';

export function DrawFields({ mode: { tool, lines } }: { mode: ModeOf<'draw'> }) {
  const scene = useScene();
  const act = useAct();
  const { snap, elements } = useApp((s) => s.settings);
  // The others have their numbers on the Card of what they did last.
  if (tool !== 'knife' && tool !== 'face') return null;
  const knife = tool === 'knife';
  const points = lines.flat().length;
  const ready = knife ? lines.some((l) => l.length > 1) : points > 2;
  const what = knife ? (points === 1 ? 'point' : 'points') : points === 1 ? 'corner' : 'corners';
  return (
    <section aria-label={knife ? 'Knife' : 'Draw a face'}>
      <div className="head">
        <b>{knife ? 'Knife' : 'Draw a face'}</b>
        <span className="dim" role="status">
          {points} {what}
        </span>
      </div>
      {knife ? <AngleStep /> : <GridStep />}
      <CheckField checked={snap} onChange={() => act(settingActions.snapSwitched())}>
        {knife ? 'hold lines to the angle step' : 'hold corners to the grid'}
      </CheckField>
      {knife && (
        <CheckField
          checked={elements.through}
          onChange={(through) => act(settingActions.elementSettings({ through }))}
        >
          cut what lies behind, too
        </CheckField>
      )}
      <div className="tools" role="group" aria-label="Drawing">
        <button disabled={!ready} onClick={() => scene.stage && void finishDrawing(scene, scene.stage)}>
          {knife ? 'Cut' : 'Make the face'}
        </button>
        <button onClick={() => putDrawingAway(scene)}>Cancel</button>
      </div>
    </section>
  );
}

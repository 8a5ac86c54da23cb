/** The one short message under the model: what happened, or why something could not. */
import { useScene } from '../state/useScene';
import { useEffect } from 'react';
import { CircleAlert, Info } from 'lucide-react';
import { undo } from '../state/actions';
import { stepPicks } from '../state/pickTrail';
import { panelActions } from '../state/panelSlice';
import { useAct, useApp } from '../state/store';

export function Notices() {
  const scene = useScene();
  const notice = useApp((s) => s.panels.notice);
  const act = useAct();
  useEffect(() => {
    if (!notice) return;
    const t = setTimeout(() => act(panelActions.noticeClosed()), 7000);
    return () => clearTimeout(t);
  }, [notice, act]);
  return (
    <div className="notices" role="status" aria-live="polite">
      {notice && (
        <div className={`notice ${notice.tone}`}>
          {notice.tone === 'problem' ? <CircleAlert size={15} aria-hidden /> : <Info size={15} aria-hidden />}
          <span>{notice.text}</span>
          {notice.undo && (
            <button
              onClick={() => {
                undo(scene);
                act(panelActions.noticeClosed());
              }}
            >
              Undo
            </button>
          )}
          {notice.picks && (
            <button
              onClick={() => {
                stepPicks(scene, -1);
                act(panelActions.noticeClosed());
              }}
            >
              Pick them again
            </button>
          )}
          <button aria-label="Close message" onClick={() => act(panelActions.noticeClosed())}>
            ✕
          </button>
        </div>
      )}
    </div>
  );
}

/** The last action: its numbers stay adjustable until the next one. */
import { useCallback } from 'react';
import type { Piece } from '@urnsmith/core/document/schema';
import { OPERATIONS } from '@urnsmith/core/ops/index';
import { previewLast, retune, saidOf } from '../../state/elements';
import { actionsAt, siteOf } from '../../state/site';
import { useApp } from '../../state/store';
import { useScene, useBuilt } from '../../state/useScene';
import { ActionFields } from './ActionFields';

export function LastAction({ piece }: { piece: Piece }) {
  const scene = useScene();
  const built = useBuilt(piece.id);
  const choice = useApp((s) => s.hand);
  const show = useCallback((change: Record<string, unknown>) => previewLast(scene, change), [scene]);
  const put = useCallback((change: Record<string, unknown>) => retune(scene, change), [scene]);
  const actions = actionsAt(piece, siteOf(choice, piece));
  const action = actions.at(-1);
  if (!action) return null;
  const said = built?.actions.at(-1);
  return (
    <section
      className="lastAction mb-1.5 border-b border-b-edge pb-1"
      aria-label="Last action"
      data-actions={actions.length}
    >
      <div className="head">
        <b>{OPERATIONS[action.op].title}</b>
        <span className="tag">last action</span>
      </div>
      <ActionFields action={action} onShow={show} onPut={put} />
      {said && !said.fault && (
        <p className="dim pad" role="status">
          {saidOf(action, said)}
        </p>
      )}
    </section>
  );
}

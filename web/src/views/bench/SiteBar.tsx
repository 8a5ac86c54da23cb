/** The site of element edits: the base, the result, or a step of edits by hand; and picks that are made again. */
import { useScene } from '../../state/useScene';
import { OPERATIONS } from '@urnsmith/core/ops/index';
import { handActions } from '../../state/handSlice';
import { activeWherever } from '../../state/selectors';
import { editsIn } from '../../state/edits';
import { endPickingAnew, takePicksAnew } from '../../state/pickAnew';
import { siteOf, siteOnResult } from '../../state/site';
import { useAct, useApp } from '../../state/store';
import { Segmented } from '../../ui/Segmented';

export function SiteBar() {
  const act = useAct();
  const piece = useApp(activeWherever);
  const level = useApp((s) => s.hand.level);
  const step = useApp((s) => s.hand.step);
  const onResult = useApp((s) => s.hand.onResult);
  const anew = useApp((s) => s.hand.anew);
  const result = piece && siteOnResult(piece);
  if (level === 'piece' || !piece) return null;
  if (anew) return <Anew />;
  if (!result) return null;
  const site = siteOf({ onResult, step }, piece);
  const inStep = site !== null && site.hand === step && site.upTo !== result.upTo;
  return (
    <Segmented
      label="Edit"
      value={inStep ? 'step' : site ? 'result' : 'base'}
      options={[
        { value: 'base', label: 'at the base', hint: 'Edit the base; the steps follow' },
        {
          value: 'result',
          label: 'on the result',
          hint: 'Edit the result of the steps, in a step of edits by hand',
        },
        ...(inStep
          ? [{ value: 'step', label: 'in this step', hint: 'Edit where the chosen step stands' }]
          : []),
      ]}
      onChange={(v) => {
        if (v !== 'step') act(handActions.siteTaken({ onResult: v === 'result' }));
      }}
    />
  );
}

function Anew() {
  const scene = useScene();
  const piece = useApp(activeWherever);
  const anew = useApp((s) => s.hand.anew)!;
  const any = useApp((s) => s.hand.picked.length > 0);
  const op = piece ? editsIn({ piece, step: anew.step })[anew.action]?.op : undefined;
  return (
    <div className="seg anew" role="group" aria-label="Picking anew">
      <span className="px-2 text-[12px]">Picks of {op ? OPERATIONS[op].title : 'the edit'}</span>
      <button disabled={!any} onClick={() => void takePicksAnew(scene)}>
        Use the picks
      </button>
      <button onClick={() => endPickingAnew(scene)}>Leave as it was</button>
    </div>
  );
}

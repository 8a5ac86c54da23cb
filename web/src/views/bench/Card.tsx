/** The Card: numbers for whatever is in hand. */
import { createElement, lazy, Suspense } from 'react';
import { PanelRightClose, PanelRightOpen } from 'lucide-react';
import { panelActions } from '../../state/panelSlice';
import { activeWherever } from '../../state/selectors';
import { actionsAt, siteOf } from '../../state/site';
import { useAct, useApp } from '../../state/store';
import { modeOn } from '../../modes';
import { BaseCard } from './BaseCard';
import { FaultBox } from './FaultBox';
import { ToolCard } from './ToolCard';

/** Cards that are not the first one seen are loaded when they are. */
const ElementCard = lazy(async () => ({ default: (await import('./ElementCard')).ElementCard }));
const LastAction = lazy(async () => ({ default: (await import('./LastAction')).LastAction }));
const StepCard = lazy(async () => ({ default: (await import('./StepCard')).StepCard }));
const PlacementCard = lazy(async () => ({ default: (await import('./PlacementCard')).PlacementCard }));
const ShadingCard = lazy(async () => ({ default: (await import('./ShadingCard')).ShadingCard }));

export function Card() {
  const act = useAct();
  const open = useApp((s) => s.panels.open.card);
  if (!open)
    return (
      <button
        className="size-full items-start rounded-none bg-ink-1 px-1.5 py-2.5 text-ash"
        aria-label="Open the Card"
        onClick={() => act(panelActions.panelToggled('card'))}
      >
        <PanelRightOpen size={15} aria-hidden />
      </button>
    );
  return (
    <section
      className="card scaled relative h-full min-h-0 overflow-y-auto bg-ink-1 pb-2.5 contain-strict [scrollbar-width:thin]"
      aria-label="Card"
    >
      <button
        className="quiet absolute top-2 right-1.5 z-1"
        aria-label="Close the Card"
        onClick={() => act(panelActions.panelToggled('card'))}
      >
        <PanelRightClose size={14} aria-hidden />
      </button>
      <InHand />
    </section>
  );
}

function InHand() {
  const piece = useApp(activeWherever);
  const step = useApp((s) => s.hand.step);
  const level = useApp((s) => s.hand.level);
  const onResult = useApp((s) => s.hand.onResult);
  const count = useApp((s) => s.hand.selected.length);
  const mode = useApp((s) => s.hand.mode);
  const card = useApp((s) => modeOn(s)?.does.Card);
  const above = useApp((s) => modeOn(s)?.does.Above);
  if (mode && card) return <Suspense>{createElement(card, { mode })}</Suspense>;
  if (!piece) return <ToolCard />;
  if (level !== 'piece')
    return (
      <>
        <FaultBox piece={piece} />
        <Suspense>{mode && above && createElement(above, { mode })}</Suspense>
        <Suspense>
          <LastAction piece={piece} />
          <ElementCard level={level} acted={actionsAt(piece, siteOf({ onResult, step }, piece)).length > 0} />
        </Suspense>
      </>
    );
  const chosen = step !== null ? piece.steps?.[step] : undefined;
  return (
    <>
      <FaultBox piece={piece} />
      {chosen ? (
        <Suspense>
          <StepCard key={`${piece.id}/${step}`} piece={piece} index={step!} step={chosen} />
        </Suspense>
      ) : (
        <BaseCard key={piece.id} piece={piece} />
      )}
      <Suspense fallback={<div className="h-60" />}>
        {!chosen && <PlacementCard piece={piece} count={count} />}
        <ShadingCard piece={piece} />
      </Suspense>
    </>
  );
}

/** The stage with everything that lies over the model. */
import { createElement, lazy, memo, Suspense, useEffect, useRef, useState } from 'react';
import { useScene } from '../../state/useScene';
import { useApp } from '../../state/store';
import { Stage } from '../../viewport/Stage';
import type { Rect } from '../../viewport/freePlace';
import { drawnBy, frameDrawn } from '../../app/measure';
import { Compass } from './Compass';
import { ModelHandles } from './ModelHandles';
import { HandsOver } from './HandsOver';
import { LevelBar } from './LevelBar';
import { LookBar } from './LookBar';
import { PieceCounts } from './PieceCounts';
import { StageFeed } from './StageFeed';
import { SwitchChips } from './SwitchChips';
import { ToolBar } from './ToolBar';
import { TurnsAbout } from './TurnsAbout';
import { modeOn, showsHandles } from '../../modes';

/** Not needed for the first picture. */
const ToolTray = lazy(async () => ({ default: (await import('./ToolTray')).ToolTray }));
const ElementCounts = lazy(async () => ({ default: (await import('./ElementCounts')).ElementCounts }));
const FirstMoves = lazy(async () => ({ default: (await import('./FirstMoves')).FirstMoves }));
const NextMoves = lazy(async () => ({ default: (await import('./NextMoves')).NextMoves }));
const WarningMarks = lazy(async () => ({ default: (await import('./WarningMarks')).WarningMarks }));
const SiteBar = lazy(async () => ({ default: (await import('./SiteBar')).SiteBar }));
const LastActionHandles = lazy(async () => ({
  default: (await import('./ActionHandles')).LastActionHandles,
}));

export function ViewportPane() {
  const pane = useRef<HTMLElement>(null);
  const [stage, setStage] = useState<Stage | null>(null);
  const scene = useScene();

  useEffect(() => {
    const s = new Stage(pane.current!);
    s.canvas.className = 'absolute inset-0 block size-full touch-none';
    s.canvas.id = 'stage';
    s.canvas.tabIndex = -1;
    s.canvas.ariaLabel = 'The model';
    s.bars = () => barsOver(pane.current!);
    setStage(s);
    scene.showOn(s);
    const stopTelling = s.onFrame(frameDrawn);
    const stopAsking = drawnBy(() => s.drawn);
    const sized = new ResizeObserver(() => {
      const box = pane.current!.getBoundingClientRect();
      s.resize(box.width, box.height);
    });
    sized.observe(pane.current!);
    return () => {
      sized.disconnect();
      stopTelling();
      stopAsking();
      scene.showOn(null);
      s.dispose();
    };
  }, [scene]);

  return (
    <section
      className="view onStage @container-[size] relative h-full overflow-hidden bg-[radial-gradient(120%_90%_at_50%_20%,#3a4a4a,#1a2324)] contain-strict"
      ref={pane}
      aria-label="Stage"
      onPointerEnter={() => stage?.remeasure()}
      onPointerDownCapture={() => stage?.remeasure()}
    >
      <Bars stage={stage} />
      {stage && (
        <>
          <StageFeed stage={stage} />
          <AtPieces stage={stage} />
          <Suspense>
            <WarningMarks stage={stage} />
            <LastActionHandles stage={stage} />
          </Suspense>
          <TurnsAbout stage={stage} />
          <OverModel stage={stage} />
          <Compass stage={stage} />
          <HandsOver stage={stage} />
        </>
      )}
    </section>
  );
}

/** Rectangles of the bars over the model, pixels from the corner of the stage. */
function barsOver(pane: HTMLElement): Rect[] {
  const { left, top } = pane.getBoundingClientRect();
  return [...pane.querySelectorAll('.ov > *, [data-over]')]
    .map((e) => e.getBoundingClientRect())
    .filter((r) => r.width > 0 && r.height > 0)
    .map((r) => ({ left: r.left - left, top: r.top - top, right: r.right - left, bottom: r.bottom - top }));
}

/** Bars that do not change during a gesture are not rendered again. */
const Bars = memo(function Bars({ stage }: { stage: Stage | null }) {
  return (
    // Bars fold by the room they have, in their own scale.
    <div className="scaled pointer-events-none absolute inset-0 @container-[size]">
      <div className="pointer-events-none absolute inset-x-2.5 top-2.5 flex items-start justify-between gap-1.5">
        <div className="ov flex min-w-0 flex-col items-start gap-1.5 *:pointer-events-auto">
          <LevelBar />
          <ToolBar />
          <Suspense>
            <SiteBar />
          </Suspense>
          <Counts />
          <SwitchChips />
        </div>
        <div className="ov tr flex flex-none flex-col items-end gap-1.5 *:pointer-events-auto">
          <LookBar />
          {stage && (
            <Suspense>
              <FirstMoves stage={stage} />
            </Suspense>
          )}
        </div>
      </div>
      <div className="ov pointer-events-none absolute flex flex-col gap-1.5 *:pointer-events-auto bottom-11 left-2.5 right-28">
        <Suspense>
          <NextMoves />
        </Suspense>
        <Suspense>
          <ToolTray />
        </Suspense>
      </div>
    </div>
  );
});

function Counts() {
  const atPieces = useApp((s) => s.hand.level === 'piece');
  return atPieces ? (
    <PieceCounts />
  ) : (
    <Suspense>
      <ElementCounts />
    </Suspense>
  );
}

function AtPieces({ stage }: { stage: Stage }) {
  const atPieces = useApp((s) => s.hand.level === 'piece' && showsHandles(s));
  return atPieces ? <ModelHandles stage={stage} /> : null;
}

/** The layer of the mode that is on, over the model. */
function OverModel({ stage }: { stage: Stage }) {
  const mode = useApp((s) => s.hand.mode);
  const over = useApp((s) => modeOn(s)?.does.Over);
  return over && mode ? <Suspense>{createElement(over, { mode, stage })}</Suspense> : null;
}

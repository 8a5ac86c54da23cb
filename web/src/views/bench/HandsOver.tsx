/** The hands on the stage, and what shows while they work: the box and the lasso, the line of help, the ring. */
import { useScene } from '../../state/useScene';
import { lazy, Suspense, useEffect, useState } from 'react';
import { Hands } from '../../hands/Hands';
import type { Outline } from '../../hands/pointing';
import type { Stage } from '../../viewport/Stage';
import { handsHost, type Rect } from '../../hands/benchHands';
import { modeOn } from '../../modes';
import { BesidePointer } from './BesidePointer';
import { ToolLine } from './ToolLine';

const ContextRing = lazy(async () => ({ default: (await import('./ContextRing')).ContextRing }));

export function HandsOver({ stage }: { stage: Stage }) {
  const scene = useScene();
  const [rubber, setRubber] = useState<Rect | null>(null);
  const [lasso, setLasso] = useState<Outline | null>(null);
  const [said, setSaid] = useState('');
  const [ring, setRing] = useState<{ x: number; y: number } | null>(null);
  useEffect(() => {
    const menu = (x: number, y: number): void => setRing({ x, y });
    const hands = new Hands(
      stage,
      handsHost(
        scene,
        stage,
        { rubber: setRubber, lasso: setLasso, say: setSaid, menu },
        () => modeOn(scene.store.getState())?.does ?? null,
      ),
    );
    return () => hands.dispose();
  }, [scene, stage]);
  // The stage fills its pane, so its corner is what pixels of the window are told from.
  const corner = (): DOMRect => stage.box;
  return (
    <>
      {rubber && <Rubber rect={rubber} corner={corner()} />}
      {lasso && <Lasso outline={lasso} corner={corner()} />}
      <BesidePointer stage={stage} said={said} />
      <ToolLine said={said} />
      {ring && (
        <Suspense fallback={null}>
          <ContextRing at={ring} onClose={() => setRing(null)} />
        </Suspense>
      )}
    </>
  );
}

function Rubber({ rect: { x, y, w, h }, corner }: { rect: Rect; corner: DOMRect }) {
  return (
    <div
      className="pointer-events-none absolute border border-glaze bg-glaze/12"
      style={{ left: x - corner.left, top: y - corner.top, width: w, height: h }}
    />
  );
}

function Lasso({ outline, corner }: { outline: Outline; corner: DOMRect }) {
  return (
    <svg className="pointer-events-none absolute inset-0 size-full" aria-hidden>
      <polygon
        className="fill-glaze/12 stroke-glaze [stroke-dasharray:5_3]"
        points={outline.map((p) => `${p.x - corner.left},${p.y - corner.top}`).join(' ')}
      />
    </svg>
  );
}

/** The chosen pieces, in gloss, to look at before they leave; right- or left-drag turns them. */
import { useEffect, useRef, useState } from 'react';
import { stagePieces } from '../bench/stageContents';
import { livePieces } from '../../state/selectors';
import { useApp } from '../../state/store';
import { Stage } from '../../viewport/Stage';
import { useScene, useBuildsVersion } from '../../state/useScene';

export function CrateStage({ ids }: { ids: string[] }) {
  const scene = useScene();
  const home = useRef<HTMLDivElement>(null);
  const [stage, setStage] = useState<Stage | null>(null);
  const version = useBuildsVersion();
  const pieces = useApp(livePieces);
  const key = ids.join();
  useEffect(() => {
    const s = new Stage(home.current!);
    s.canvas.className = 'block size-full';
    s.canvas.ariaLabel = 'The chosen pieces';
    setStage(s);
    const sized = new ResizeObserver(([{ contentRect: r }]) => s.resize(r.width, r.height));
    sized.observe(home.current!);
    const stop = turnedByHand(s);
    return () => {
      sized.disconnect();
      stop();
      s.dispose();
    };
  }, []);
  useEffect(() => {
    if (!stage) return;
    const chosen = new Set(key.split(','));
    const shown = stagePieces(scene.store.getState(), scene.builds).map((p) => ({
      ...p,
      visible: chosen.has(p.id),
      pickable: true,
      look: {
        ...p.look,
        ghost: false,
        wire: false,
        look: 'gloss' as const,
        xray: false,
        faint: false,
        lit: 'none' as const,
      },
    }));
    stage.show(shown, {
      grid: false,
      gridStep: 10,
      parallel: false,
      tool: 'select',
      handle: null,
      faults: null,
    });
    stage.bringIntoView(stage.bounds());
  }, [scene, stage, version, pieces, key]);
  return (
    <div
      className="view onStage relative h-full overflow-hidden bg-[radial-gradient(120%_90%_at_50%_20%,#3a4a4a,#1a2324)] contain-strict"
      ref={home}
    />
  );
}

/** Drags turn the view, the wheel zooms. @returns ends it */
function turnedByHand(stage: Stage): () => void {
  const { canvas, rig } = stage;
  const ended = new AbortController();
  const on = <K extends keyof HTMLElementEventMap>(
    type: K,
    f: (e: HTMLElementEventMap[K]) => void,
    options?: AddEventListenerOptions,
  ): void => canvas.addEventListener(type, f, { ...options, signal: ended.signal });
  let last: { x: number; y: number } | null = null;
  on('pointerdown', (e) => {
    canvas.setPointerCapture(e.pointerId);
    last = { x: e.clientX, y: e.clientY };
  });
  on('pointermove', (e) => {
    if (!last) return;
    rig.orbit(e.clientX - last.x, e.clientY - last.y);
    last = { x: e.clientX, y: e.clientY };
    stage.redraw();
  });
  on('pointerup', () => (last = null));
  on('contextmenu', (e) => e.preventDefault());
  on(
    'wheel',
    (e) => {
      rig.zoom(Math.exp(e.deltaY * 0.0012), stage.pointer(e.clientX, e.clientY));
      stage.redraw();
    },
    { passive: true },
  );
  return () => ended.abort();
}

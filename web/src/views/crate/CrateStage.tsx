/** The chosen pieces, in gloss, to look at before they leave; right- or left-drag turns them. */
import { useEffect, useRef, useState } from 'react';
import { stagePieces } from '../bench/stageContents';
import { livePieces } from '../../state/selectors';
import { useApp } from '../../state/store';
import { Stage } from '../../viewport/Stage';
import { useScene, useBuildsVersion } from '../../state/useScene';

export function CrateStage({ ids }: { ids: string[] }) {
  const scene = useScene();
  const canvas = useRef<HTMLCanvasElement>(null);
  const [stage, setStage] = useState<Stage | null>(null);
  const version = useBuildsVersion();
  const pieces = useApp(livePieces);
  const key = ids.join();
  useEffect(() => {
    const c = canvas.current!;
    const s = new Stage(c);
    setStage(s);
    const sized = new ResizeObserver(() =>
      s.resize(c.parentElement!.clientWidth, c.parentElement!.clientHeight),
    );
    sized.observe(c.parentElement!);
    let last: { x: number; y: number } | null = null;
    c.onpointerdown = (e) => {
      c.setPointerCapture(e.pointerId);
      last = { x: e.clientX, y: e.clientY };
    };
    c.onpointermove = (e) => {
      if (!last) return;
      s.rig.orbit(e.clientX - last.x, e.clientY - last.y);
      last = { x: e.clientX, y: e.clientY };
      s.redraw();
    };
    c.onpointerup = () => (last = null);
    c.oncontextmenu = (e) => e.preventDefault();
    c.onwheel = (e) => {
      s.rig.zoom(Math.exp(e.deltaY * 0.0012), s.pointer(e.clientX, e.clientY));
      s.redraw();
    };
    return () => {
      sized.disconnect();
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
    <div className="view onStage relative h-full overflow-hidden bg-[radial-gradient(120%_90%_at_50%_20%,#3a4a4a,#1a2324)] contain-strict">
      <canvas ref={canvas} aria-label="The chosen pieces" />
    </div>
  );
}

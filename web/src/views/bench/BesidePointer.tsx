/** Numbers beside the pointer: the distance dragged, or the size of a drawing. */
import { useEffect, useRef } from 'react';
import { modeOn } from '../../modes';
import { useApp } from '../../state/store';
import type { RootState } from '../../state/store';
import type { Stage } from '../../viewport/Stage';

/** Right of and below the pointer, pixels. */
const OFF = { x: 18, y: 16 };

const saidByMode = (s: RootState): string => {
  const on = modeOn(s);
  return on?.does.says?.(on.mode, s) ?? '';
};

export function BesidePointer({ stage, said }: { stage: Stage; said: string }) {
  const box = useRef<HTMLOutputElement>(null);
  const drawn = useApp(saidByMode);
  const text = said || drawn;
  useEffect(() => {
    if (!text) return;
    const follow = (e?: PointerEvent): void => {
      const { x, y } = e ? { x: e.clientX, y: e.clientY } : stage.pointerAt;
      const { left, top, width, height } = stage.box;
      // Its size depends on its text, so the browser itself keeps it within the stage.
      const within = (at: number, room: number): string => `min(${at}px, calc(${room - 4}px - 100%))`;
      const place = `${within(x - left + OFF.x, width)}, ${within(y - top + OFF.y, height)}`;
      box.current!.style.transform = `translate(${place})`;
    };
    follow();
    window.addEventListener('pointermove', follow);
    return () => window.removeEventListener('pointermove', follow);
  }, [text, stage]);
  if (!text) return null;
  return (
    <output
      ref={box}
      className="beside pointer-events-none absolute top-0 left-0 rounded-[6px] bg-ink-0/88 px-1.75 py-0.5 text-[12px] font-semibold whitespace-nowrap text-porcelain tabular-nums"
    >
      {text}
    </output>
  );
}

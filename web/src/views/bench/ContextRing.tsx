/** The context ring: a right click puts the likeliest things around the pointer. */
import { useScene } from '../../scene/useScene';
import { useEffect, useRef } from 'react';
import { createPortal } from 'react-dom';
import type { Page } from '@urnsmith/core/offers';
import { shortTitle, type Command } from '../../commands/command';
import { COMMANDS } from '../../commands/commands';
import { useApp } from '../../state/store';

/** What is offered on a page of the ring, by seat. */
const onPage = (page: Page): Command[] =>
  COMMANDS.filter((c) => c.ring?.[page] !== undefined).sort((a, b) => a.ring![page]! - b.ring![page]!);

/** How far the ring reaches from its middle, pixels; it is kept that far inside the window. */
const REACH = { x: 164, y: 98 };
const RADIUS = { x: 104, y: 78 };

/** Where the middle goes so that the whole ring is inside the window: at the pointer, but for its edges. */
export const ringPlace = (
  at: { x: number; y: number },
  window: { width: number; height: number },
): { x: number; y: number } => ({
  x: Math.max(REACH.x, Math.min(window.width - REACH.x, at.x)),
  y: Math.max(REACH.y, Math.min(window.height - REACH.y, at.y)),
});

export function ContextRing({ at, onClose }: { at: { x: number; y: number }; onClose: () => void }) {
  const scene = useScene();
  const level = useApp((s) => s.bench.level);
  const any = useApp((s) => (s.bench.level === 'piece' ? s.bench.selected : s.bench.picked).length > 0);
  const offered = onPage(any ? level : level === 'piece' ? 'add' : 'bare');
  const first = useRef<HTMLButtonElement>(null);
  useEffect(() => first.current?.focus(), []);
  const middle = ringPlace(at, { width: window.innerWidth, height: window.innerHeight });
  const move = (by: number): void => {
    const all = [...document.querySelectorAll<HTMLButtonElement>('.ring button:not(:disabled)')];
    const here = all.indexOf(document.activeElement as HTMLButtonElement);
    all[(here + by + all.length) % all.length]?.focus();
  };
  // Outside the stage: its pane is a world of its own, where “fixed” is told from its corner.
  return createPortal(
    <div
      className="ringVeil"
      onPointerDown={onClose}
      onContextMenu={(e) => e.preventDefault()}
      onKeyDown={(e) => {
        if (e.key === 'Escape') onClose();
        if (e.key === 'ArrowRight' || e.key === 'ArrowDown') move(1);
        if (e.key === 'ArrowLeft' || e.key === 'ArrowUp') move(-1);
      }}
    >
      <div
        className="ring"
        role="menu"
        aria-label={any ? 'With the selection' : 'Add'}
        style={{ left: middle.x, top: middle.y }}
        onPointerDown={(e) => e.stopPropagation()}
      >
        {offered.map((c, i) => {
          const a = (2 * Math.PI * i) / offered.length - Math.PI / 2;
          return (
            <button
              key={c.id}
              ref={i === 0 ? first : undefined}
              role="menuitem"
              style={{
                transform: `translate(-50%, -50%) translate(${Math.cos(a) * RADIUS.x}px, ${Math.sin(a) * RADIUS.y}px)`,
              }}
              disabled={c.enabled ? !c.enabled(scene) : false}
              onClick={() => {
                onClose();
                c.run(scene);
              }}
            >
              {shortTitle(c)}
            </button>
          );
        })}
      </div>
    </div>,
    document.body,
  );
}

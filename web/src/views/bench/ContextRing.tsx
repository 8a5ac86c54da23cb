/** The context ring: a right click puts the likeliest things around the pointer. */
import { useScene } from '../../state/useScene';
import { useEffect, useRef } from 'react';
import { createPortal } from 'react-dom';
import { DropdownMenu } from 'radix-ui';
import type { Page } from '@urnsmith/core/offers';
import { shortTitle, type Command } from '../../state/command';
import { COMMANDS, lackOf, runFromAnywhere } from '../../commands/commands';
import { useApp } from '../../state/store';

/** Commands on a page of the ring, by seat. */
const onPage = (page: Page): Command[] =>
  COMMANDS.filter((c) => c.ring?.[page] !== undefined).sort((a, b) => a.ring![page]! - b.ring![page]!);

/** How far the ring reaches from its middle, pixels; it is kept that far inside the window. */
const REACH = { x: 164, y: 98 };
const RADIUS = { x: 104, y: 78 };

/** The ring's middle: at the pointer, moved in from the window's edges so that the whole ring fits. */
export const ringPlace = (
  at: { x: number; y: number },
  window: { width: number; height: number },
): { x: number; y: number } => ({
  x: Math.max(REACH.x, Math.min(window.width - REACH.x, at.x)),
  y: Math.max(REACH.y, Math.min(window.height - REACH.y, at.y)),
});

export function ContextRing({ at, onClose }: { at: { x: number; y: number }; onClose: () => void }) {
  const scene = useScene();
  const level = useApp((s) => s.hand.level);
  const any = useApp((s) => (s.hand.level === 'piece' ? s.hand.selected : s.hand.picked).length > 0);
  const offered = onPage(any ? level : level === 'piece' ? 'add' : 'bare');
  const first = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    // After the menu has taken the focus itself.
    const later = setTimeout(() => first.current?.focus(), 0);
    return () => clearTimeout(later);
  }, []);
  const middle = ringPlace(at, { width: window.innerWidth, height: window.innerHeight });
  return (
    <DropdownMenu.Root open onOpenChange={(open) => !open && onClose()}>
      {createPortal(
        // Outside the stage: its pane is a world of its own, where “fixed” is told from its corner.
        <DropdownMenu.Trigger asChild>
          <span className="fixed" style={{ left: middle.x, top: middle.y }} />
        </DropdownMenu.Trigger>,
        document.body,
      )}
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          className="ring relative z-50 size-0 outline-none before:absolute before:-m-1.25 before:size-2.25 before:rounded-full before:border-2 before:border-cream before:content-['']"
          aria-label={any ? 'With the selection' : 'Add'}
          avoidCollisions={false}
          loop
          onCloseAutoFocus={(e) => e.preventDefault()}
          onContextMenu={(e) => e.preventDefault()}
          onKeyDown={sideways}
        >
          {offered.map((c, i) => {
            const a = (2 * Math.PI * i) / offered.length - Math.PI / 2;
            return (
              <DropdownMenu.Item
                key={c.id}
                asChild
                onSelect={() => {
                  onClose();
                  runFromAnywhere(scene, c);
                }}
              >
                <button
                  data-lacks={lackOf(scene, c) ?? undefined}
                  title={lackOf(scene, c) ?? undefined}
                  className="absolute rounded-[16px] border border-line bg-ink-0/92 px-3 py-1.25 whitespace-nowrap focus-visible:bg-glaze focus-visible:text-glaze-ink data-lacks:opacity-40 data-highlighted:bg-glaze data-highlighted:text-glaze-ink"
                  ref={i === 0 ? first : undefined}
                  style={{
                    transform: `translate(-50%, -50%) translate(${Math.cos(a) * RADIUS.x}px, ${Math.sin(a) * RADIUS.y}px)`,
                  }}
                >
                  {shortTitle(c)}
                </button>
              </DropdownMenu.Item>
            );
          })}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

/** The menu goes on by the arrows up and down; in a ring the others mean the same. */
function sideways(e: React.KeyboardEvent): void {
  const key = { ArrowRight: 'ArrowDown', ArrowLeft: 'ArrowUp' }[e.key];
  if (!key) return;
  e.preventDefault();
  e.target.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
}

/** The parts of the window, for going from one to the next by a key, and where the focus is when nothing else has it. */
import type { OpenScene } from '../state/OpenScene';
import type { Command } from '../state/command';

/** In the order they are gone through; of each, what has the focus first. */
const PARTS: ReadonlyArray<{ within: string; first: string[] }> = [
  { within: '.strip', first: ['.bead.on', 'button'] },
  { within: '.ledger', first: ['.rows [tabindex="0"]', 'input'] },
  { within: '.view', first: ['#stage'] },
  { within: '.card', first: ['.num input', 'input', '.card > :not(.quiet) button', 'button'] },
];

const shown = (e: HTMLElement): boolean => e.getClientRects().length > 0;

/** The focused element; null where only the page has the focus. */
const focused = (): HTMLElement | null => document.querySelector(':focus');

function firstOf(part: (typeof PARTS)[number]): HTMLElement | null {
  const box = document.querySelector(part.within);
  if (!box) return null;
  for (const css of part.first)
    for (const e of box.querySelectorAll<HTMLElement>(css)) if (shown(e)) return e;
  return null;
}

function goBy(by: 1 | -1): void {
  const n = PARTS.length;
  const here = PARTS.findIndex((p) => focused()?.closest(p.within));
  for (let k = 1; k <= n; k++) {
    const e = firstOf(PARTS[((((here < 0 && by < 0 ? n : here) + by * k) % n) + n) % n]);
    if (e) return e.focus();
  }
}

/** From the Ledger to the stage, where the next keys are meant. */
export function leaveLedger(): void {
  if (focused()?.closest('.rows')) document.getElementById('stage')?.focus();
}

/** Moves the focus on when its element is gone: to the row of the piece in hand, or to the stage. */
export function focusHome(scene: OpenScene): void {
  if (focused()) return;
  const { level, active } = scene.store.getState().hand;
  const row = level === 'piece' && active ? firstOf(PARTS[1]) : null;
  (row ?? document.getElementById('stage'))?.focus();
}

export const REGION_COMMANDS: Command[] = [
  {
    id: 'part-next',
    title: 'Go to the next part of the window',
    words: 'focus panel keyboard ledger card stage strip',
    group: 'View',
    run: () => goBy(1),
  },
  {
    id: 'part-previous',
    title: 'Go to the previous part of the window',
    words: 'focus panel keyboard ledger card stage strip',
    group: 'View',
    run: () => goBy(-1),
  },
];

/** How the interface looks and is scrolled on this computer: light or dark, how large, what two fingers do. */
import { useSyncExternalStore } from 'react';
import { remembered } from './remembered';

export const THEMES = ['system', 'dark', 'light'] as const;
/** Percent. */
export const SCALES = [85, 100, 115, 130, 150] as const;

export interface Interface {
  theme: (typeof THEMES)[number];
  scale: (typeof SCALES)[number];
  /** Scrolling over the stage: zooms, for a wheel; or turns the view, for two fingers on a trackpad. */
  scroll: 'zoom' | 'turn';
}

const KEY = 'urnsmith-interface';
const FIRST: Interface = { theme: 'system', scale: 100, scroll: 'zoom' };

const among = <T>(list: ReadonlyArray<T>, value: unknown, otherwise: T): T =>
  list.includes(value as T) ? (value as T) : otherwise;

function read(): Interface {
  let kept: Partial<Interface> = {};
  try {
    kept = (JSON.parse(remembered.getItem(KEY) ?? '{}') ?? {}) as Partial<Interface>;
  } catch {
    // Choices that cannot be read count as not made.
  }
  return {
    theme: among(THEMES, kept.theme, FIRST.theme),
    scale: among(SCALES, kept.scale, FIRST.scale),
    scroll: among(['zoom', 'turn'], kept.scroll, FIRST.scroll),
  };
}

let now = read();
const heard = new Set<() => void>();

export const interfaceNow = (): Interface => now;

/** Puts what was chosen on the page. */
export function applyInterface(): void {
  const root = document.documentElement;
  root.dataset.theme = now.theme;
  root.style.setProperty('--ui-scale', String(now.scale / 100));
}

export function chooseInterface(change: Partial<Interface>): void {
  now = { ...now, ...change };
  remembered.setItem(KEY, JSON.stringify(now));
  applyInterface();
  for (const f of heard) f();
}

export const useInterface = (): Interface =>
  useSyncExternalStore((f) => {
    heard.add(f);
    return () => heard.delete(f);
  }, interfaceNow);

/** Whether the window is so small that the sides have to make room for the stage. */
import { useSyncExternalStore } from 'react';

const query = (): MediaQueryList => window.matchMedia('(max-width: 1100px)');

const heed = (changed: () => void): (() => void) => {
  const q = query();
  q.addEventListener('change', changed);
  return () => q.removeEventListener('change', changed);
};

export const useSmallWindow = (): boolean => useSyncExternalStore(heed, () => query().matches);

/** Work that the hand waits for: keys may come faster than answers. */
import type { OpenScene } from './OpenScene';
import { perScene } from './perScene';

/** Work that is under way with the worker, and when all of it is done; and what waits for its turn after it. */
const work = perScene(() => ({
  running: 0,
  allDone: Promise.resolve() as Promise<unknown>,
  queue: Promise.resolve() as Promise<unknown>,
  queued: 0,
}));

/** Notes work that keys which come after it wait for. */
export function underWay<T>(scene: OpenScene, asked: Promise<T>): Promise<T> {
  const own = work(scene);
  own.running++;
  const done = asked.finally(() => own.running--);
  own.allDone = Promise.allSettled([own.allDone, done]);
  return done;
}

/** Runs a command of the hand at once, or after what was begun before it: keys may come faster than answers. */
export function inTurn(scene: OpenScene, run: () => void): void {
  const own = work(scene);
  if (!own.running && !own.queued) return run();
  own.queued++;
  own.queue = own.queue
    .then(async () => {
      while (own.running) await own.allDone;
    })
    .then(run)
    .finally(() => own.queued--);
}

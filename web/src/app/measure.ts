/** For `npm run bench`: tells, on an address with `?measure`, when a piece's next picture is up and what it took. */
import type { OpenScene } from '../state/OpenScene';

export interface Picture {
  /** When the build's result was on the main thread, by performance.now(). */
  arrived: number;
  /** Time the scene update took, ms. */
  update: number;
}

interface Drawn {
  /** Pieces on the stage. */
  pieces: number;
  /** Draw calls of the last frame. */
  calls: number;
}

const nothing = (): Drawn => ({ pieces: 0, calls: 0 });
let drawn = nothing;

/** Says where to ask what the stage draws, until it is left. */
export function drawnBy(ask: () => Drawn): () => void {
  drawn = ask;
  return () => {
    if (drawn === ask) drawn = nothing;
  };
}

let lastUpdate = 0;
let afterFrame: Array<() => void> = [];

/** Reports how long bringing the stage in line took. */
export const stageUpdated = (ms: number): void => {
  lastUpdate = ms;
};
/** Reports that a frame was drawn. */
export const frameDrawn = (): void => {
  const waiting = afterFrame;
  afterFrame = [];
  for (const f of waiting) f();
};

export function installMeasure(scene: OpenScene): void {
  if (!new URLSearchParams(location.search).has('measure')) return;
  const nextPicture = (id: string): Promise<Picture> =>
    new Promise((resolve) => {
      const before = scene.builds.get(id)?.display;
      const stop = scene.builds.subscribe(() => {
        if (scene.builds.get(id)?.display === before) return;
        stop();
        const arrived = performance.now();
        // The stage is updated by effects after this; the frame after that shows the result.
        setTimeout(() => afterFrame.push(() => resolve({ arrived, update: lastUpdate })), 0);
      });
    });
  (window as unknown as { urnsmithMeasure: unknown }).urnsmithMeasure = {
    nextPicture,
    drawn: () => drawn(),
    idle: () => scene.builds.idle,
  };
}

/** This window among others of the same browser: a name, a sign of life, and news of scenes shared by all of them. */
import type { SceneEvent } from '@urnsmith/core/document/scene';

const LIFE = 'urnsmith-window-';

/** Told to the server with every action, so that a window does not take its own work for another's. */
export const thisWindow: string = crypto.randomUUID();

/** Any scene may have changed. */
const MISSED: SceneEvent = { scene: '*', seq: Number.MAX_SAFE_INTEGER, window: '' };

const locks = (): LockManager | null => globalThis.navigator?.locks ?? null;

/** Holds a lock for as long as the window lives; others can tell by it. */
export function showLife(): void {
  void locks()?.request(LIFE + thisWindow, () => new Promise(() => {}));
}

/** Whether a window is gone; waits a moment, as one that is being reloaded may be just about to. */
export async function isGone(window: string, patience = 1500): Promise<boolean> {
  const manager = locks();
  if (!manager || window === thisWindow) return window !== thisWindow;
  try {
    return await manager.request(LIFE + window, { signal: AbortSignal.timeout(patience) }, () => true);
  } catch {
    return false;
  }
}

/**
 * Tells of every change of a scene when it happens. One window of the browser listens to the server and passes it on,
 * so that many windows do not use up the connections the browser allows.
 */
export function hearOfScenes(tell: (e: SceneEvent) => void): void {
  if (typeof BroadcastChannel === 'undefined' || typeof EventSource === 'undefined') return;
  const channel = new BroadcastChannel('urnsmith-scenes');
  channel.onmessage = (e: MessageEvent<SceneEvent>) => tell(e.data);
  void locks()?.request(
    'urnsmith-listener',
    () =>
      new Promise(() => {
        const source = new EventSource('/api/events');
        // After a break, changes may have been missed: everyone looks again.
        let broke = false;
        source.onerror = () => (broke = true);
        source.onopen = () => {
          if (!broke) return;
          broke = false;
          channel.postMessage(MISSED);
          tell(MISSED);
        };
        source.onmessage = (e: MessageEvent<string>) => {
          const event = JSON.parse(e.data) as SceneEvent;
          channel.postMessage(event);
          tell(event);
        };
      }),
  );
}

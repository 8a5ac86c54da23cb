/** /api/events: a stream that tells open windows which scene changed, when it happens. */
import { Hono } from 'hono';
import { streamSSE } from 'hono/streaming';
import type { SceneEvent } from '@urnsmith/core/document/scene';
import type { Journal } from '../store/journal';

const HEARTBEAT_MS = 15_000;

export const eventRoutes = (journal: Journal, closing: AbortSignal) =>
  new Hono().get('/', (c) =>
    streamSSE(c, async (stream) => {
      const tell = (e: SceneEvent): void => void stream.writeSSE({ data: JSON.stringify(e) });
      journal.events.on('changed', tell);
      const ended = new Promise<void>((resolve) => {
        stream.onAbort(resolve);
        closing.addEventListener('abort', () => resolve(), { once: true });
      });
      const beat = setInterval(() => void stream.writeSSE({ event: 'beat', data: '' }), HEARTBEAT_MS);
      await stream.writeSSE({ event: 'beat', data: '' });
      await ended;
      clearInterval(beat);
      journal.events.off('changed', tell);
    }),
  );

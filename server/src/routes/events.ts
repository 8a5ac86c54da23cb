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
      let end = (): void => {};
      const ended = new Promise<void>((resolve) => (end = resolve));
      stream.onAbort(end);
      closing.addEventListener('abort', end, { once: true });
      const beat = setInterval(() => void stream.writeSSE({ event: 'beat', data: '' }), HEARTBEAT_MS);
      await stream.writeSSE({ event: 'beat', data: '' });
      await ended;
      clearInterval(beat);
      closing.removeEventListener('abort', end);
      journal.events.off('changed', tell);
    }),
  );

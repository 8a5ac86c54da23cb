/** Request bodies: asked for by content type, limited in size, checked against a schema. */
import { createWriteStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import type { HttpBindings } from '@hono/node-server';
import { Ajv, type ValidateFunction } from 'ajv';
import type { Context } from 'hono';
import { createMiddleware } from 'hono/factory';
import type { Static, TSchema } from 'typebox';
import { JsonError, parseJson } from '@urnsmith/core/schema/json';

const ajv = new Ajv({ strict: false, strictNumbers: true });

/** A request refused for its form. */
export class BodyError extends Error {
  constructor(
    readonly status: 400 | 408 | 413 | 415,
    readonly code: string,
    message: string,
  ) {
    super(message);
  }
}

export const JSON_LIMIT = 16 * 1024 * 1024;
/**
 * A body that is too large is still read to its end, up to this size, so that the caller gets an answer and not a
 * broken connection.
 */
const DRAIN_MS = 30_000;

function refuseOtherTypes(c: Context, types: ReadonlyArray<string>): void {
  const given = (c.req.header('content-type') ?? '').split(';')[0].trim().toLowerCase();
  if (!types.includes(given))
    throw new BodyError(
      415,
      'wrong-type',
      `This address takes ${types.join(' or ')}, not ${given ? `“${given.slice(0, 60)}”` : 'a body without a content type'}.`,
    );
}

/** Passes on the chunks of a body; one that is larger than `limit` is refused once all of it has arrived. */
async function* chunks(c: Context, limit: number): AsyncGenerator<Uint8Array> {
  const body = c.req.raw.body;
  if (!body) return;
  const reader = body.getReader();
  let size = 0;
  const until = Date.now() + DRAIN_MS;
  for (;;) {
    const { done, value } = await reader.read().catch(() => {
      throw new BodyError(400, 'cut-off', 'The body ended before it was complete; send it again.');
    });
    if (done) break;
    size += value.length;
    if (size <= limit) yield value;
    else if (Date.now() > until) break;
  }
  if (size > limit) throw new BodyError(413, 'too-large', `This address takes up to ${megabytes(limit)}.`);
}

const megabytes = (n: number): string => `${Math.round(n / 1024 / 1024)} MB`;

/** A whole body in memory; for small ones. */
export async function bytesOf(c: Context, types: ReadonlyArray<string>, limit: number): Promise<Uint8Array> {
  refuseOtherTypes(c, types);
  const parts: Uint8Array[] = [];
  for await (const chunk of chunks(c, limit)) parts.push(chunk);
  return Buffer.concat(parts);
}

/** Aborted when the caller goes away before it has its answer. */
export function goneSignal(c: Context): AbortSignal | undefined {
  const outgoing = (c.env as Partial<HttpBindings> | undefined)?.outgoing;
  if (!outgoing) return undefined;
  const gone = new AbortController();
  outgoing.once('close', () => {
    if (!outgoing.writableFinished) gone.abort();
  });
  return gone.signal;
}

export interface Folder {
  path: string;
  in(name: string): string;
}

/** A folder that is there while `work` runs. */
export async function inFolder<T>(work: (folder: Folder) => Promise<T>): Promise<T> {
  const path = await mkdtemp(join(tmpdir(), 'urnsmith-'));
  try {
    return await work({ path, in: (name) => join(path, name) });
  } finally {
    await rm(path, { recursive: true, force: true });
  }
}

/** Streams a body into a file. @returns its size in bytes */
export async function bodyToFile(
  c: Context,
  types: ReadonlyArray<string>,
  limit: number,
  file: string,
): Promise<number> {
  refuseOtherTypes(c, types);
  let size = 0;
  await pipeline(async function* () {
    for await (const chunk of chunks(c, limit)) {
      size += chunk.length;
      yield chunk;
    }
  }, createWriteStream(file));
  return size;
}

/** Parses and checks a JSON body; refuses it with the place and the reason when it does not fit. */
export function validated<S extends TSchema>(schema: S, limit = JSON_LIMIT) {
  // Compiled at the first request: most starts never see one.
  let compiled: ValidateFunction | undefined;
  return createMiddleware<{ Variables: { body: Static<S> } }>(async (c, next) => {
    const text = Buffer.from(await bytesOf(c, ['application/json'], limit)).toString('utf8');
    let body: unknown;
    try {
      body = parseJson(text);
    } catch (e) {
      if (!(e instanceof JsonError)) throw e;
      throw new BodyError(400, 'not-json', e.place ? `${e.place}: ${e.message}` : e.message);
    }
    const check = (compiled ??= ajv.compile(schema));
    if (!check(body)) {
      const e = check.errors![0];
      const extra = (e.params as { additionalProperty?: string }).additionalProperty;
      throw new BodyError(
        400,
        'bad-body',
        `${e.instancePath.slice(1) || 'body'}: ${e.message}${extra ? ` (“${extra}”)` : ''}.`,
      );
    }
    c.set('body', body as Static<S>);
    await next();
  });
}

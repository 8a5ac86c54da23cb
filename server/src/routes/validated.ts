/** Declares a JSON body's schema at the route. */
import { Ajv } from 'ajv';
import type { Static, TSchema } from 'typebox';
import { createMiddleware } from 'hono/factory';

const ajv = new Ajv({ strict: false });

/** Parses and checks the body; answers 400 with the place and the reason when it does not fit. */
export function validated<S extends TSchema>(schema: S) {
  const check = ajv.compile(schema);
  return createMiddleware<{ Variables: { body: Static<S> } }>(async (c, next) => {
    let body: unknown;
    try {
      body = await c.req.json();
    } catch {
      return c.json({ code: 'not-json', message: 'The body is not JSON.' }, 400);
    }
    if (!check(body)) {
      const e = check.errors![0];
      const extra = (e.params as { additionalProperty?: string }).additionalProperty;
      return c.json(
        {
          code: 'bad-body',
          message: `${e.instancePath.slice(1) || 'body'}: ${e.message}${extra ? ` (“${extra}”)` : ''}.`,
        },
        400,
      );
    }
    c.set('body', body as Static<S>);
    await next();
  });
}

/** /api/settings: what a person set for the whole workshop. */
import { Hono } from 'hono';
import { Type } from 'typebox';
import { presetFaults } from '@urnsmith/core/document/validate';
import type { SettingStore } from '../store/settings';
import { BodyError, validated } from './bodies';

/** Changed keys by command; an empty text takes a command's key away. */
const Keys = Type.Record(
  Type.String({ minLength: 1, maxLength: 80, pattern: '^[A-Za-z0-9_-]+$' }),
  Type.String({ maxLength: 40 }),
  { maxProperties: 1000, additionalProperties: false },
);

const Presets = Type.Array(Type.Unknown(), { maxItems: 500 });

export const settingRoutes = (settings: SettingStore) =>
  new Hono()
    .get('/keys', (c) => c.json(settings.get('keys') ?? {}))
    .put('/keys', validated(Keys, 256 * 1024), (c) => {
      settings.set('keys', c.get('body'));
      return c.json({});
    })
    .get('/presets', (c) => c.json(settings.get('presets') ?? []))
    .put('/presets', validated(Presets, 4 * 1024 * 1024), (c) => {
      const [fault] = c.get('body').flatMap((p, k) => presetFaults(p, String(k)));
      if (fault) throw new BodyError(400, 'bad-body', `${fault.path}: ${fault.message}`);
      settings.set('presets', c.get('body'));
      return c.json({});
    });

/** /api/settings: what a person set for the whole workshop, each setting under its name. */
import { Hono } from 'hono';
import { SETTINGS } from '@urnsmith/core/settings/index';
import type { SettingStore } from '../store/settings';
import { BodyError, validated } from './bodies';

export function settingRoutes(settings: SettingStore) {
  const routes = new Hono();
  for (const setting of Object.values(SETTINGS)) {
    const { name, schema, first, most } = setting;
    const faultsOf = setting.faults as ((value: unknown) => Array<{ path: string; message: string }>) | undefined; // prettier-ignore
    routes
      .get(`/${name}`, (c) => c.json(settings.get(name) ?? first))
      .put(`/${name}`, validated(schema, most), (c) => {
        const value = c.get('body');
        const [fault] = faultsOf?.(value) ?? [];
        if (fault) throw new BodyError(400, 'bad-body', `${fault.path}: ${fault.message}`);
        settings.set(name, value);
        return c.json({});
      });
  }
  return routes;
}

/** Random calls to every route: no 5xx, always a code and a message, and nothing stored by a refused call. */
import { expect, it } from 'vitest';
import { soakRoutes } from '../../soak/routes';
import { OnServer } from './onServer';
import { runs } from '../../core/test/effort';

it('answers anything, and stores nothing it refuses', async () => {
  const on = await new OnServer().start();
  const everything = on.running.app.db.prepare(
    `SELECT (SELECT count(*) FROM scene), (SELECT sum(seq) FROM scene), (SELECT count(*) FROM revision), (SELECT count(*) FROM entry),
            (SELECT count(*) FROM milestone), (SELECT count(*) FROM mesh), (SELECT group_concat(name || coalesce(deleted, '')) FROM scene)`,
  );
  const most = runs(400, 900);
  const { faults, accepted, refused } = await soakRoutes(on.running.url, most, 20261126, () =>
    JSON.stringify(everything.raw().get()),
  );
  expect(faults).toEqual([]);
  expect([accepted > most / 6, refused > most / 4.5]).toEqual([true, true]);
  await on.close();
});

/** An open scene of which nothing is built, as there are no workers to build it. */
import { Scene } from '../src/app/Scene';
import { Outgoing } from '../src/state/outgoing';
import { Builds, type OpenPool } from '../src/workers/builds';

type Ask = ReturnType<OpenPool>['ask'];

const nothingBuilt = (ask: Ask): Builds =>
  new Builds(() => ({
    request: () => {},
    prepare: async () => {},
    ask,
    cancel: () => {},
    close: () => {},
    idle: true,
  }));

/** @param ask what workers would answer */
export const openScene = (
  id = 's',
  outgoing = new Outgoing(),
  ask: Ask = () => Promise.resolve(null),
): Scene => new Scene(id, outgoing, nothingBuilt(ask));

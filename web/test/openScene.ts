/** An open scene of which nothing is built, as there are no workers to build it. */
import { Scene } from '../src/scene/Scene';
import { Outgoing } from '../src/state/outgoing';
import { Builds } from '../src/workers/builds';

const nothingBuilt = (): Builds =>
  new Builds(() => ({
    request: () => {},
    ask: () => Promise.resolve(null),
    cancel: () => {},
    close: () => {},
    idle: true,
  }));

export const openScene = (id = 's', outgoing = new Outgoing()): Scene =>
  new Scene(id, outgoing, nothingBuilt());

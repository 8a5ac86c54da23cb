/** An open scene of which nothing is built, as there are no workers to build it. */
import { OpenScene } from '../src/scene/OpenScene';
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

export const openScene = (id = 's', outgoing = new Outgoing()): OpenScene =>
  new OpenScene(id, outgoing, nothingBuilt());

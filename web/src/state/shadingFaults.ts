/** Faults of shading of what is built, asked for once per result. */
import type { Display } from '@urnsmith/core/build/display';
import type { OpenScene } from './OpenScene';
import type { SeenFault } from '../workers/questions/shadingFaults';

const known = new WeakMap<Display, SeenFault[]>();

export const knownFaults = (display: Display | null | undefined): SeenFault[] | undefined =>
  display ? known.get(display) : undefined;

export async function findFaults(scene: OpenScene, id: string, display: Display): Promise<SeenFault[]> {
  const before = known.get(display);
  if (before) return before;
  const reply = await scene.builds.ask(id, { kind: 'shadingFaults' });
  const found = reply && 'shadingFaults' in reply ? reply.shadingFaults : [];
  known.set(display, found);
  return found;
}

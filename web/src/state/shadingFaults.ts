/** Faults of shading of what is built, asked for once per result. */
import type { Display } from '@urnsmith/core/build/display';
import type { OpenScene } from './OpenScene';
import type { SeenFault } from '../workers/questions/aside/shadingFaults';

const known = new WeakMap<Display, SeenFault[]>();

export const knownFaults = (display: Display | null | undefined): SeenFault[] | undefined =>
  display ? known.get(display) : undefined;

/** @param wanted whether the answer still is */
export async function findFaults(
  scene: OpenScene,
  id: string,
  display: Display,
  wanted: () => boolean,
): Promise<SeenFault[]> {
  const before = known.get(display);
  if (before) return before;
  const reply = await scene.builds.askAside(id, { kind: 'shadingFaults' }, wanted);
  if (!reply || !('shadingFaults' in reply)) return [];
  known.set(display, reply.shadingFaults);
  return reply.shadingFaults;
}

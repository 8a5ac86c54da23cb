/** Asks the worker for the faults of a result, once per result. */
import type { Display } from '@urnsmith/core/build/display';
import type { LeadLines } from '../workers/questions/aside/leads';
import type { SeenShading } from '../workers/questions/aside/shading';
import type { Unsound } from '../workers/questions/aside/soundness';
import type { OpenScene } from './OpenScene';

const shadings = new WeakMap<Display, SeenShading>();
const leads = new WeakMap<Display, LeadLines>();
const unsound = new WeakMap<Display, Unsound>();

export const knownShading = (display: Display | null | undefined): SeenShading | undefined =>
  display ? shadings.get(display) : undefined;
export const knownLeads = (display: Display | null | undefined): LeadLines | undefined =>
  display ? leads.get(display) : undefined;

export const knownUnsound = (display: Display | null | undefined): Unsound | undefined =>
  display ? unsound.get(display) : undefined;

/** @param wanted whether the answer still is @returns null where there is none */
export async function seeShading(
  scene: OpenScene,
  id: string,
  display: Display,
  wanted: () => boolean,
): Promise<SeenShading | null> {
  const known = shadings.get(display);
  if (known) return known;
  const reply = await scene.builds.askAside(id, { kind: 'shading' }, wanted);
  if (!reply || !('seen' in reply)) return null;
  shadings.set(display, reply.seen);
  return reply.seen;
}

/** The same of the kinds of faces that may lead. */
export async function seeLeads(
  scene: OpenScene,
  id: string,
  display: Display,
  wanted: () => boolean,
): Promise<void> {
  if (leads.has(display)) return;
  const reply = await scene.builds.askAside(id, { kind: 'leads' }, wanted);
  if (reply && 'leads' in reply) leads.set(display, reply.leads);
}

/** Asks for the faults of its mesh. @returns whether they are known */
export async function seeUnsound(
  scene: OpenScene,
  id: string,
  display: Display,
  wanted: () => boolean,
): Promise<boolean> {
  if (unsound.has(display)) return true;
  const reply = await scene.builds.askAside(id, { kind: 'soundness' }, wanted);
  if (!reply || !('unsound' in reply)) return false;
  unsound.set(display, reply.unsound);
  return true;
}

/** Puts the demo scenes into a database that has no scene yet. */
import type { SceneStore } from '../server/src/store/scenes';
import { hatch } from './hatch';

export const DEMO_SCENE = 'Skerry Light: pressure hatch';

export function seed(scenes: SceneStore): void {
  if (scenes.list('').length) return;
  scenes.create(DEMO_SCENE, hatch());
}

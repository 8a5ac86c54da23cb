/** Puts the demo scenes into a database that has no scene yet. */
import { documentOf } from '@urnsmith/core/document/sections';
import type { SceneStore } from '../server/src/store/scenes';
import { bell } from './bell';
import { grille } from './grille';
import { hatch } from './hatch';
import { junctionBox } from './junctionBox';
import { lantern } from './lantern';
import { valve } from './valve';

export const DEMO_SCENE = 'Skerry Light: pressure hatch';
export const GRILLE_SCENE = 'Skerry Light: bell grille';
export const BELL_SCENE = 'Skerry Light: fog horn bell';
export const BOX_SCENE = 'Skerry Light: junction box';
export const LANTERN_SCENE = 'Skerry Light: lamp house';
export const VALVE_SCENE = 'Skerry Light: valve on its plinth';

export function seed(scenes: SceneStore): void {
  if (scenes.list('').length) return;
  scenes.create(GRILLE_SCENE, documentOf(grille().pieces));
  scenes.create(BELL_SCENE, documentOf(bell().pieces));
  scenes.create(BOX_SCENE, documentOf(junctionBox().pieces));
  scenes.create(LANTERN_SCENE, documentOf(lantern().pieces));
  scenes.create(VALVE_SCENE, documentOf(valve().pieces));
  scenes.create(DEMO_SCENE, documentOf(hatch().pieces));
}

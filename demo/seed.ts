/** Puts the demo scenes, with their pictures, into a database that has no scene yet. */
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Piece } from '@urnsmith/core/document/schema';
import { documentOf } from '@urnsmith/core/document/sections';
import { ROOT } from '../server/src/root';
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

/** Where `npm run shots` leaves the pictures of their cards. */
export const PICTURES = join(ROOT, 'demo/pictures');

/** Names of the files of a scene's picture and of its faces. */
export const pictureFile = (scene: string): string =>
  join(PICTURES, `${scene.replace(/^.*: /, '').replace(/\W+/g, '-')}.png`);
const FACES = join(PICTURES, 'faces.json');

/** In the order they were made, the one shown first last. */
const SCENES: ReadonlyArray<[name: string, make: () => { pieces: Piece[] }]> = [
  [GRILLE_SCENE, grille],
  [BELL_SCENE, bell],
  [BOX_SCENE, junctionBox],
  [LANTERN_SCENE, lantern],
  [VALVE_SCENE, valve],
  [DEMO_SCENE, hatch],
];

/** @param pictured with the pictures there are; without, the page makes them */
export function seed(scenes: SceneStore, pictured = true): void {
  if (scenes.list('').length) return;
  const faces: Record<string, number> = existsSync(FACES) ? JSON.parse(readFileSync(FACES, 'utf8')) : {};
  for (const [name, make] of SCENES) {
    const id = scenes.create(name, documentOf(make().pieces));
    const file = pictureFile(name);
    if (pictured && existsSync(file)) scenes.setPicture(id, readFileSync(file), faces[name] ?? 0);
  }
}

/** Opens and closes scenes of the app. Apart from it, so that the list of scenes loads nothing of the Bench. */
import { bench } from '../state/benchSlice';
import type { App } from './App';
import { Scene } from './Scene';

/** Opens a scene; it is to be closed when it is left. */
export function openScene(app: App, id: string): Scene {
  const scene = new Scene(id, app.outgoing);
  if (app.view) scene.store.dispatch(bench.viewTaken(app.view));
  void scene.open();
  return scene;
}

export function closeScene(app: App, scene: Scene): void {
  const { panels, look } = scene.store.getState().bench;
  app.view = { panels, look };
  scene.close();
}

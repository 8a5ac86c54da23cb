/** Opens and closes scenes of the app. Apart from it, so that the list of scenes loads nothing of the Bench. */
import { panelActions } from '../state/panelSlice';
import { viewActions } from '../state/viewSlice';
import type { App } from './App';
import { Scene } from './Scene';

/** Opens a scene; it is to be closed when it is left. */
export function openScene(app: App, id: string): Scene {
  const scene = new Scene(id, app.outgoing);
  if (app.view) {
    scene.store.dispatch(panelActions.panelsTaken(app.view.open));
    scene.store.dispatch(viewActions.lookChosen(app.view.look));
  }
  void scene.open();
  return scene;
}

export function closeScene(app: App, scene: Scene): void {
  const { panels, view } = scene.store.getState();
  app.view = { open: panels.open, look: view.look };
  scene.close();
}

/** What outlives open scenes: what is on its way to the server, and how the person likes to look at things. */
import { bench, type BenchState } from '../state/benchSlice';
import { Outgoing } from '../state/outgoing';
import { createAppStore } from '../state/store';
import { Scene } from './Scene';

export class App {
  readonly store = createAppStore();
  readonly outgoing = new Outgoing();
  private view: Pick<BenchState, 'panels' | 'look'> | null = null;

  /** Opens a scene; it is to be closed when it is left. */
  open(id: string): Scene {
    const scene = new Scene(id, this.outgoing);
    if (this.view) scene.store.dispatch(bench.viewTaken(this.view));
    void scene.open();
    return scene;
  }

  close(scene: Scene): void {
    const { panels, look } = scene.store.getState().bench;
    this.view = { panels, look };
    scene.close();
  }
}

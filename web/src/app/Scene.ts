/** A scene while it is open: made when it is opened, closed when it is left. */
import { Saver } from '../state/saving';
import type { Outgoing } from '../state/outgoing';
import { createSceneStore, type SceneStore } from '../state/store';
import type { Stage } from '../viewport/Stage';
import { Builds } from '../workers/builds';
import { startEffects } from './effects';
import type { OpenScene } from '../state/OpenScene';

export class Scene implements OpenScene {
  readonly store: SceneStore;
  readonly saver: Saver;
  private onView: Stage | null = null;
  private navigate: (path: string) => void = () => {};
  private readonly endEffects: () => void;

  constructor(
    readonly id: string,
    outgoing: Outgoing,
    readonly builds = new Builds(undefined, id),
  ) {
    const { store, listeners } = createSceneStore();
    this.store = store;
    this.saver = new Saver(id, store, outgoing);
    this.endEffects = startEffects(this, listeners);
  }

  /** The stage on view; null in views without one. */
  get stage(): Stage | null {
    return this.onView;
  }

  showOn(stage: Stage | null): void {
    this.onView = stage;
  }

  /** Goes to another view, in the way it was told to. */
  goTo(path: string): void {
    this.navigate(path);
  }

  goesBy(navigate: (path: string) => void): void {
    this.navigate = navigate;
  }

  open(): Promise<void> {
    return this.saver.open();
  }

  close(): void {
    this.endEffects();
    this.saver.close();
    this.builds.clear();
  }
}

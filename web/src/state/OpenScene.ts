/**
 * Everything that belongs to one open scene: its store, what is built of it, how it is saved, the stage it is shown on.
 * It is made when the scene is opened and gone when it is left; nothing of it is kept anywhere else.
 */
import type { Saver } from './saving';
import type { SceneStore } from './store';
import type { Stage } from '../viewport/Stage';
import type { Builds } from '../workers/builds';

export interface OpenScene {
  readonly id: string;
  readonly store: SceneStore;
  readonly builds: Builds;
  readonly saver: Saver;
  /** The stage on view; null in views without one. */
  readonly stage: Stage | null;
  showOn(stage: Stage | null): void;
  /** Goes to another view, in the way it was told to. */
  goTo(path: string): void;
  goesBy(navigate: (path: string) => void): void;
}

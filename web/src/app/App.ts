/** State that outlives open scenes: unsent actions, and how the person likes to look at scenes. */
import { createAppStore } from '../state/appStore';
import type { BenchState } from '../state/benchSlice';
import { Outgoing } from '../state/outgoing';

export class App {
  readonly store = createAppStore();
  readonly outgoing = new Outgoing();
  /** How the last scene was looked at; the next one begins with it. */
  view: Pick<BenchState, 'panels' | 'look'> | null = null;
}

/** State that outlives open scenes: unsent actions, and how the person likes to look at scenes. */
import { createAppStore } from '../state/appStore';
import { Outgoing } from '../state/outgoing';
import type { PanelState } from '../state/panelSlice';
import type { Look } from '../viewport/looks';

export class App {
  readonly store = createAppStore();
  readonly outgoing = new Outgoing();
  /** How the last scene was looked at; the next one begins with it. */
  view: { open: PanelState['open']; look: Look } | null = null;
}

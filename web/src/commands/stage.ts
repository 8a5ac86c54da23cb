/** The stage commands act on: the one on view. */
import type { Stage } from '../viewport/Stage';

let stage: Stage | null = null;
export const setStage = (s: Stage | null): void => {
  stage = s;
};
export const currentStage = (): Stage | null => stage;

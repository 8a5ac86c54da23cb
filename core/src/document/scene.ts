/** A stored scene as the library hands it out: its card, and its state with the history that can be taken back. */
import type { Patch } from './patch';
import type { SceneDocument } from './schema';

export interface SceneCard {
  id: string;
  name: string;
  created: number;
  changed: number;
  pieces: number;
  /** Null until the scene was first evaluated. */
  faces: number | null;
  hasThumbnail: boolean;
}

export interface RevisionLabel {
  number: number;
  label: string;
}

export interface SceneState {
  id: string;
  name: string;
  seq: number;
  document: SceneDocument;
  /** Revisions that undo can take back, newest last, and that redo can bring again, next one first. */
  undo: Array<RevisionLabel & { inverse: Patch }>;
  redo: Array<RevisionLabel & { forward: Patch }>;
}

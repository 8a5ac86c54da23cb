/** Messages between the library's server and the page about a stored scene. */
import type { Patch } from './patch';
import type { SceneDocument } from './sections';

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

/** One step of a scene's history. */
export interface Revision {
  /** Its number in the scene's journal, from 1. */
  number: number;
  /** The id the action brought along when it happened. */
  action: string;
  label: string;
  /** When it was stored, ms since 1970. */
  created: number;
}

/** The start of the history, as a target of going back. */
export const START = 'start';

export interface SceneState {
  id: string;
  name: string;
  /** Counts accepted writes. */
  seq: number;
  /** The action the document stands at; `START` before the first. */
  head: string;
  document: SceneDocument;
  /** Nearest revisions that undo can take back, newest last, and that redo can bring again, next one first. */
  undo: Array<Revision & { inverse: Patch }>;
  redo: Array<Revision & { forward: Patch }>;
  /** There are older ones to undo than sent here. */
  more: boolean;
  /** Why the scene can only be looked at; null when it is sound. */
  damage: string | null;
}

/** A write: something done, or going along the history. Sending the same one twice is the same as once. */
export type SceneAction = {
  /** Unique in the journal. */
  id: string;
  /** The window it happened in. */
  window: string;
  /** The `seq` up to which the window knew what other windows did. */
  base: number;
} & (
  | { kind: 'revision'; label: string; forward: Patch; inverse: Patch }
  /** Undo and redo: from one action of the history to another. `patch` is what that changes. */
  | { kind: 'move'; from: string; to: string; patch: Patch }
);

export interface Accepted {
  seq: number;
  /** The action the document now stands at. */
  head: string;
  /** Other windows' actions came in between: the page has to look at the scene again. */
  merged: boolean;
}

/** The server's message to open windows when a scene changes. */
export interface SceneEvent {
  scene: string;
  seq: number;
  window: string;
}

/** A named state of a scene. */
export interface Milestone {
  id: number;
  name: string;
  created: number;
  /** Set by itself, once a day; these thin out with time. */
  automatic: boolean;
  /** The action it stands at. */
  action: string;
}

/** Differences between a milestone and the current scene. */
export interface Comparison {
  added: string[];
  removed: string[];
  changed: Array<{ name: string; what: string[] }>;
}

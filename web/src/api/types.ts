/** What the server says, as the interface sees it. */
import type { Patch } from '@urnsmith/core/document/patch';
import type { SceneDocument } from '@urnsmith/core/document/schema';

export interface SceneCard {
  id: string;
  name: string;
  created: number;
  changed: number;
  pieces: number;
  faces: number | null;
  hasThumbnail: boolean;
}
export interface UndoEntry {
  number: number;
  label: string;
  inverse: Patch;
}
export interface RedoEntry {
  number: number;
  label: string;
  forward: Patch;
}
export interface SceneState {
  id: string;
  name: string;
  seq: number;
  document: SceneDocument;
  undo: UndoEntry[];
  redo: RedoEntry[];
}
export interface ApiFault {
  status: number;
  code: string;
  message: string;
  fix?: string;
}

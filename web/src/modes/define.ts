/** The contract of a mode: its file says its keys, its Card, its sentence, what clicks do and what the stage shows. */
import type { ComponentType } from 'react';
import type { Vec3 } from '@urnsmith/core/mesh/vec3';
import type { ModeDoing } from '../hands/HandsHost';
import type { Command } from '../state/command';
import type { HandState } from '../state/handSlice';
import type { ModeName, ModeOf } from '../state/mode';
import type { OpenScene } from '../state/OpenScene';
import type { RootState } from '../state/store';
import type { Stage } from '../viewport/Stage';

/** A key or gesture, and what it does. */
export type HelpLine = readonly [key: string, does: string];

export interface ModeDefinition<N extends ModeName> extends ModeDoing {
  is: N;
  /** Its name on the line of help. */
  title: string | ((mode: ModeOf<N>) => string);
  /** Commands that begin it. */
  commands?: ReadonlyArray<Command>;
  help: ReadonlyArray<HelpLine> | ((mode: ModeOf<N>, s: RootState) => ReadonlyArray<HelpLine>);
  /** Keys that act on the mode in place of their commands. */
  keys: Readonly<Record<string, (scene: OpenScene) => void>>;
  /** In place of the piece's Card. */
  Card?: ComponentType<{ mode: ModeOf<N> }>;
  /** Above the piece's Card. */
  Above?: ComponentType<{ mode: ModeOf<N> }>;
  /** Lies over the model. */
  Over?: ComponentType<{ mode: ModeOf<N>; stage: Stage }>;
  /** Handles and marks stay on the model; without it the stage is for the mode alone. */
  handles?: true;
  /** Lines on the stage, in the world: two places each. */
  lines?(mode: ModeOf<N>, s: RootState): Vec3[] | null;
  /** Numbers of the drawing, shown beside the pointer. */
  says?(mode: ModeOf<N>, s: RootState): string;
  /** Whether it goes on after the selection changed; without it, it does. */
  lasts?(mode: ModeOf<N>, now: HandState, before: HandState): boolean;
  /** Its state or the settings of tools changed. @param before its state; null where it was just taken */
  changed?(scene: OpenScene, mode: ModeOf<N>, before: ModeOf<N> | null): void;
  /** The mode has ended, for whatever reason. */
  ended?(scene: OpenScene): void;
}

/** A mode as one who does not know which one sees it. */
export type AnyMode = ModeDefinition<ModeName>;

export const defineMode = <N extends ModeName>(d: ModeDefinition<N>): AnyMode => d as unknown as AnyMode;

export const somePiece = (scene: OpenScene): boolean => scene.store.getState().hand.selected.length > 0;

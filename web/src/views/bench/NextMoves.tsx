/** Next moves: the few things most likely wanted with what is selected. */
import { STEPS } from '@urnsmith/core/steps/steps';
import type { Command } from '../../commands/command';
import { commandById } from '../../commands/commands';
import { activePiece } from '../../state/selectors';
import { useApp } from '../../state/store';
import { useBuilt } from '../../workers/builds';
import { KeyCap } from '../../ui/KeyCap';

const ELEMENT_MOVES = {
  face: ['edit-extrude', 'edit-inset', 'pick-grow'],
  edge: ['edit-bevel', 'edit-ringCut', 'pick-loop'],
  point: ['edit-weldMiddle', 'edit-connect', 'pick-grow'],
} as const;

export function NextMoves() {
  const piece = useApp(activePiece);
  const count = useApp((s) => s.bench.selected.length);
  const level = useApp((s) => s.bench.level);
  const any = useApp((s) => s.bench.picked.length > 0);
  const empty = useApp((s) => s.document.pieces.length === 0);
  const display = useBuilt(piece?.id ?? null)?.display;
  const moves: Array<{ command: Command; text: string; value?: string }> = [];
  const add = (id: string, text: string, value?: string): void =>
    void moves.push({ command: commandById(id), text, value });
  if (empty) {
    add('add-box', 'Start with a box');
    add('add-cylinder', 'Start with a cylinder');
    add('add-tube', 'Start with a tube');
  } else if (level !== 'piece') {
    for (const id of any ? ELEMENT_MOVES[level] : ['pick-all', 'edit-knife']) add(id, commandById(id).title);
  } else if (piece && !('group' in piece.base)) {
    const steps = piece.steps ?? [];
    const cuts = steps.some((s) => STEPS[s.kind].makesRims);
    if (count > 1) {
      add('cut-subtract', `Subtract from ${piece.name}`, `${count - 1}`);
      add('cut-union', `Unite with ${piece.name}`, `${count - 1}`);
    }
    if (!steps.some((s) => s.kind === 'bevel'))
      add('round', cuts ? 'Round the rims' : 'Round sharp edges', '2 mm');
    if (!steps.some((s) => s.kind === 'normals') && (display?.shading.facesOver ?? 0) > 0)
      add('normals', 'Flatten shading', `drift ${display!.shading.worst.toFixed(1)}°`);
    if (count === 1) {
      if (cuts) add('select-cutters', 'Select its cutters');
      else add('duplicate', 'Duplicate');
    }
  }
  if (!moves.length) return null;
  return (
    <div className="next" role="group" aria-label="Next moves">
      <span className="dim">Next moves</span>
      {moves.slice(0, 3).map((m) => (
        <button key={m.command.id} onClick={() => m.command.run()}>
          <b>{m.text}</b>
          <i>{m.value ?? <KeyCap of={m.command.id} />}</i>
        </button>
      ))}
    </div>
  );
}

/** Next moves: the few things most likely wanted with what is selected. */
import type { OpenScene } from '../../state/OpenScene';
import type { Command } from '../../state/command';
import { commandById, COMMANDS } from '../../commands/commands';
import { seenNow, stepMoves } from '../../commands/stepCommands';
import { activeWherever, roleOf } from '../../state/selectors';
import { useApp } from '../../state/store';
import { useScene, useBuilt } from '../../state/useScene';
import { KeyCap } from '../KeyCap';

interface Move {
  command: Command;
  text: string;
  value?: string;
}

const ADDS = COMMANDS.filter((c) => c.next?.add !== undefined).sort((a, b) => a.next!.add! - b.next!.add!);

/** Offers of the step kinds for the chosen piece, then those that are always there. */
function pieceMoves(scene: OpenScene): Move[] {
  const now = seenNow(scene);
  if (!now) return [];
  const moves = stepMoves(now.seen).map(({ id, ...said }): Move => ({ command: commandById(id), ...said }));
  if (now.seen.others.length) return moves;
  const solid = roleOf(now.piece) === 'solid';
  if (!now.seen.hasRims && solid)
    return [
      { command: commandById('place-hole'), text: 'Put holes in it' },
      ...moves,
      { command: commandById('duplicate'), text: 'Duplicate' },
    ];
  const last = now.seen.hasRims ? 'select-cutters' : 'duplicate';
  return [
    ...moves,
    { command: commandById(last), text: now.seen.hasRims ? 'Select its cutters' : 'Duplicate' },
  ];
}

export function NextMoves() {
  const scene = useScene();
  // The offers depend on these.
  const piece = useApp(activeWherever);
  useBuilt(piece?.id ?? null);
  useApp((s) => s.hand.selected);
  const level = useApp((s) => s.hand.level);
  const empty = useApp((s) => s.document.pieces.length === 0);
  const moves: Move[] = empty
    ? ADDS.map((command) => ({ command, text: command.title.replace('Add', 'Start with a') }))
    : pieceMoves(scene);
  // On elements, likely tools are seen in the tray.
  if (level !== 'piece' || !moves.length) return null;
  return (
    <div
      className="flex w-53 max-w-full flex-col [@container(height<28rem)]:hidden gap-0.75 rounded-[10px] bg-ink-0/84 p-2"
      role="group"
      aria-label="Next moves"
    >
      <span className="dim">Next moves</span>
      {moves.slice(0, 3).map((m) => (
        <button
          key={m.command.id}
          className="justify-between rounded-[6px] bg-ink-2 px-1.75 py-1"
          onClick={() => m.command.run(scene)}
        >
          <b className="font-medium">{m.text}</b>
          <i className="text-glaze not-italic">{m.value ?? <KeyCap of={m.command.id} />}</i>
        </button>
      ))}
    </div>
  );
}

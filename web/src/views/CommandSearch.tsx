/** The open command search: everything that can be done, by name, from any level. */
import { useScene } from '../state/useScene';
import { memo, useCallback, useEffect, useState } from 'react';
import { Command } from 'cmdk';
import { clsx } from 'clsx';
import { atLevel, COMMANDS, lackOf, runFromAnywhere } from '../commands/commands';
import { found } from '../commands/find';
import type { Command as AnyCommand } from '../state/command';
import { panelActions } from '../state/panelSlice';
import { useAct } from '../state/store';
import { KeyCap } from './KeyCap';

export function CommandSearch() {
  const scene = useScene();
  const act = useAct();
  const [typed, setTyped] = useState('');
  const close = useCallback((): void => {
    act(panelActions.searchToggled());
  }, [act]);
  const all = COMMANDS.filter((c) => c.id !== 'search');
  const listed = typed.trim()
    ? found(all, typed, (c) => atLevel(scene, c))
    : [...new Set(all.map((c) => c.group))].flatMap((g) => all.filter((c) => c.group === g));
  const some = listed.slice(0, useGrowing(listed.length, typed));
  const groups = typed.trim()
    ? [['', some] as const]
    : [...new Set(some.map((c) => c.group))].map((g) => [g, some.filter((c) => c.group === g)] as const);
  return (
    <Command.Dialog
      open
      onOpenChange={close}
      label="Find a command"
      overlayClassName="fixed inset-0 z-70 bg-veil"
      contentClassName="finderBox scaled fixed top-22.5 left-1/2 z-71 w-115 -translate-x-1/2 overflow-hidden rounded-[12px] border border-line bg-ink-1 shadow-box"
      shouldFilter={false}
    >
      <Command.Input
        className="w-full border-b border-b-line bg-transparent px-4 py-3 text-[14px] outline-none"
        placeholder="What do you want to do?"
        aria-label="Find a command"
        value={typed}
        onValueChange={setTyped}
      />
      <Command.List className="max-h-95 overflow-auto p-1.5">
        <Command.Empty className="p-4.5 text-center text-ash">No command by that name.</Command.Empty>
        {groups.map(([g, list]) =>
          g ? (
            <Command.Group
              key={g}
              heading={<span className="block px-2.5 pt-1.5 pb-0.5 text-[11px] text-ash">{g}</span>}
            >
              <Items list={list} close={close} />
            </Command.Group>
          ) : (
            <Items key="found" list={list} close={close} />
          ),
        )}
      </Command.List>
    </Command.Dialog>
  );
}

function Items({ list, close }: { list: ReadonlyArray<AnyCommand>; close: () => void }) {
  return list.map((c) => <Item key={c.id} command={c} close={close} />);
}

const Item = memo(function Item({ command: c, close }: { command: AnyCommand; close: () => void }) {
  const scene = useScene();
  const here = atLevel(scene, c);
  const lack = here ? lackOf(scene, c) : null;
  return (
    <Command.Item
      className={clsx(
        'flex gap-2.5 rounded-[6px] px-2.5 py-1.25 data-[selected=true]:bg-ink-3',
        lack !== null && 'text-off',
      )}
      value={c.id}
      aria-disabled={lack !== null}
      onSelect={() => {
        // One that cannot act stays there with its reason, and nothing else acts in its place.
        if (lack !== null) return;
        close();
        runFromAnywhere(scene, c);
      }}
    >
      <span className="flex-1">{c.title}</span>
      {lack !== null && <em className="text-[11px] text-mist not-italic">{lack.replace(/\.$/, '')}</em>}
      {!here && (
        <em className="text-[11px] text-ash not-italic">
          {c.when === 'pieces' ? 'at Piece level' : 'on faces, edges, points'}
        </em>
      )}
      <KeyCap of={c.id} />
    </Command.Item>
  );
});

/** Rows made at once: as many as are seen, and a few more. */
const AT_ONCE = 16;

/**
 * How many of a list's rows to make: those that are seen first, and the others by and by, so that no key waits for them.
 * @param list what tells one list from another
 */
function useGrowing(length: number, list: string): number {
  const [made, setMade] = useState({ list, rows: AT_ONCE });
  const rows = made.list === list ? made.rows : AT_ONCE;
  useEffect(() => {
    if (rows >= length) return;
    const next = setTimeout(() => setMade({ list, rows: rows + AT_ONCE }), 30);
    return () => clearTimeout(next);
  }, [rows, length, list]);
  return rows;
}

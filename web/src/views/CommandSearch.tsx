/** Command search: everything that can be done, by name, from any level. */
import { useScene } from '../scene/useScene';
import { useState } from 'react';
import { Command } from 'cmdk';
import { atLevel, COMMANDS, runFromAnywhere } from '../commands/commands';
import { found } from '../commands/find';
import type { Command as AnyCommand } from '../commands/command';
import { bench } from '../state/benchSlice';
import { useAct, useApp } from '../state/store';
import { KeyCap } from '../ui/KeyCap';

export function CommandSearch() {
  const scene = useScene();
  const open = useApp((s) => s.bench.searchOpen);
  const act = useAct();
  const [typed, setTyped] = useState('');
  if (!open) return null;
  const close = (): void => {
    setTyped('');
    act(bench.toggled('searchOpen'));
  };
  const all = COMMANDS.filter((c) => c.id !== 'search');
  const groups = typed.trim()
    ? [['', found(all, typed, (c) => atLevel(scene, c))] as const]
    : [...new Set(all.map((c) => c.group))].map((g) => [g, all.filter((c) => c.group === g)] as const);
  return (
    <Command.Dialog
      open
      onOpenChange={close}
      label="Find a command"
      className="finder"
      overlayClassName="veil"
      contentClassName="finderBox"
      shouldFilter={false}
    >
      <Command.Input
        placeholder="What do you want to do?"
        aria-label="Find a command"
        value={typed}
        onValueChange={setTyped}
      />
      <Command.List>
        <Command.Empty>No command by that name.</Command.Empty>
        {groups.map(([g, list]) =>
          g ? (
            <Command.Group key={g} heading={g}>
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
  const scene = useScene();
  return list.map((c) => {
    const here = atLevel(scene, c);
    return (
      <Command.Item
        key={c.id}
        value={c.id}
        disabled={here && c.enabled ? !c.enabled(scene) : false}
        onSelect={() => {
          close();
          runFromAnywhere(scene, c);
        }}
      >
        <span>{c.title}</span>
        {!here && <em>{c.when === 'pieces' ? 'at Piece level' : 'on faces, edges, points'}</em>}
        <KeyCap of={c.id} />
      </Command.Item>
    );
  });
}

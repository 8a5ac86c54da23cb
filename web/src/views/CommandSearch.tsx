/** Command search: everything that can be done, by name. */
import { Command } from 'cmdk';
import { atLevel, COMMANDS, keyLabel } from '../commands/commands';
import { bench } from '../state/benchSlice';
import { useAct, useApp } from '../state/store';

export function CommandSearch() {
  const open = useApp((s) => s.bench.searchOpen);
  const act = useAct();
  if (!open) return null;
  const close = (): void => void act(bench.toggled('searchOpen'));
  const groups = [...new Set(COMMANDS.map((c) => c.group))];
  return (
    <Command.Dialog
      open
      onOpenChange={close}
      label="Find a command"
      className="finder"
      overlayClassName="veil"
      contentClassName="finderBox"
    >
      <Command.Input placeholder="What do you want to do?" aria-label="Find a command" />
      <Command.List>
        <Command.Empty>No command by that name.</Command.Empty>
        {groups.map((g) => (
          <Command.Group key={g} heading={g}>
            {COMMANDS.filter((c) => c.group === g && c.id !== 'search' && atLevel(c)).map((c) => (
              <Command.Item
                key={c.id}
                value={c.title}
                disabled={c.enabled ? !c.enabled() : false}
                onSelect={() => {
                  close();
                  c.run();
                }}
              >
                <span>{c.title}</span>
                {c.keys && <kbd>{keyLabel(c.keys)}</kbd>}
              </Command.Item>
            ))}
          </Command.Group>
        ))}
      </Command.List>
    </Command.Dialog>
  );
}

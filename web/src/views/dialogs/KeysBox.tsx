/** The keys as a picture of the keyboard by level, and every command's key to change. */
import { useEffect, useState } from 'react';
import { clsx } from 'clsx';
import { useSetting } from '../../api/settingsApi';
import { holdersOf } from '../../commands/clashes';
import { type Command, shortTitle } from '../../state/command';
import { COMMANDS } from '../../commands/commands';
import { found } from '../../commands/find';
import { keyLabel, KEYMAP, keyName, keyOf } from '../../commands/keymap';
import type { ChangedKeys } from '@urnsmith/core/settings/keys';
import { DIGITS, LEFT, RIGHT, type KeyRow } from '../../commands/keyRows';
import { mirroredKeys, opposite } from '../../commands/mirroredKeys';
import { Box } from '../../ui/Box';
import { Segmented } from '../../ui/Segmented';
import { useApp } from '../../state/store';

type Level = 'pieces' | 'elements';

export function KeysBox({ onClose }: { onClose: () => void }) {
  const { value: changed, save, failed } = useSetting('keys');
  const startsAt = useApp((s) => (s.hand.level === 'piece' ? 'pieces' : 'elements'));
  const [level, setLevel] = useState<Level>(startsAt);
  const [typed, setTyped] = useState('');
  const [lit, setLit] = useState<string | null>(null);
  const commands = COMMANDS.filter((c) => !c.when || c.when === level);
  // Commands with a key come first.
  const byKey = [...commands].sort((a, b) => Number(!keyOf(a.id, changed)) - Number(!keyOf(b.id, changed)));
  const shown = lit ? commands.filter((c) => c.id === lit) : found(byKey, typed);
  const put = (change: Record<string, string>): void => {
    // Keys equal to the keymap are not stored.
    const next = Object.entries({ ...changed, ...change }).filter(([id, key]) => key !== (KEYMAP[id] ?? ''));
    save(Object.fromEntries(next));
  };
  return (
    <Box title="Keys" wide onClose={onClose}>
      <div className="keysBox grid gap-2.5 px-3.5 pb-3">
        <div className="flex items-center gap-3">
          <Segmented
            label="Level"
            value={level}
            options={[
              { value: 'pieces', label: 'Pieces' },
              { value: 'elements', label: 'Faces, edges, points' },
            ]}
            onChange={(v) => {
              setLevel(v);
              setLit(null);
            }}
          />
          <span className="dim">
            plain, then with <kbd>Shift</kbd> and <kbd>Alt</kbd>
          </span>
        </div>
        <Keyboard {...{ level, commands, changed, lit }} onLight={(id) => setLit(id === lit ? null : id)} />
        <div className="keysFind flex items-center gap-3">
          <input
            className="max-w-80 flex-1 rounded-ui border border-line bg-ink-0 px-2.5 py-1.25"
            type="search"
            placeholder="Find a command"
            aria-label="Find a command to change its key"
            value={typed}
            onChange={(e) => {
              setTyped(e.currentTarget.value);
              setLit(null);
            }}
          />
          <button onClick={() => save(mirroredKeys(changed))}>Swap the hands</button>
          <button disabled={!Object.keys(changed).length} onClick={() => save({})}>
            Reset all keys
          </button>
        </div>
        {failed && (
          <p className="problem" role="alert">
            The keys could not be saved, so they are as they were. Try again when the server answers.
          </p>
        )}
        <ul className="h-47.5 overflow-auto border-t border-t-line pt-1.5">
          {shown.map((c) => (
            <CommandKey key={c.id} command={c} changed={changed} onPut={put} />
          ))}
        </ul>
      </div>
    </Box>
  );
}

/** The row opposite, which tells what a row is for once the hands are swapped. */
const otherHand = (r: KeyRow): KeyRow => {
  const pairs = [
    [LEFT, RIGHT],
    [RIGHT, LEFT],
    [DIGITS, DIGITS],
  ] as const;
  const [own, other] = pairs.find(([rows]) => rows.includes(r))!;
  return own === other ? r : other[own.indexOf(r)];
};

const HAND = 'grid grid-rows-[58px_repeat(3,74px)] gap-1.25';

function Keyboard(p: {
  level: Level;
  commands: Command[];
  changed: ChangedKeys;
  lit: string | null;
  onLight: (id: string) => void;
}) {
  const at = (key: string): Command | undefined => p.commands.find((c) => keyOf(c.id, p.changed) === key);
  const swapped = keyOf('tool-move', p.changed) === opposite(KEYMAP['tool-move']);
  const row = (r: KeyRow) => (
    <div key={r.keys} className="grid min-w-0 auto-cols-[minmax(0,1fr)] grid-flow-col grid-cols-[62px] gap-1">
      <em className="self-center text-[11px] text-cream not-italic">
        {(swapped ? otherHand(r) : r)[p.level]}
      </em>
      {[...r.keys].map((k) => (
        <div
          key={k}
          className="grid min-w-0 content-start rounded-[6px] border border-line bg-ink-2 px-1.25 py-0.75"
        >
          <b className="text-[10px] text-ash">{k.toUpperCase()}</b>
          {['', 'Shift+', 'Alt+'].map((held) => {
            const c = at(held + k);
            return c ? (
              <button
                key={held}
                className={clsx(
                  'block min-w-0 overflow-hidden rounded-[3px] px-0.5 py-0 text-left text-[11px] text-ellipsis whitespace-nowrap',
                  c.id === p.lit ? 'bg-glaze text-glaze-ink' : held && 'text-ash',
                )}
                title={`${keyLabel(held + k)}: ${c.title}`}
                onClick={() => p.onLight(c.id)}
              >
                {shortTitle(c)}
              </button>
            ) : null;
          })}
        </div>
      ))}
    </div>
  );
  return (
    <div className="keyboard grid grid-cols-[1fr_1fr] gap-5.5" role="group" aria-label="Keyboard">
      <div className={HAND}>
        {row(DIGITS[0])}
        {LEFT.map(row)}
      </div>
      <div className={HAND}>
        {row(DIGITS[1])}
        {RIGHT.map(row)}
      </div>
    </div>
  );
}

/** A command with its key; the next key pressed after *Change* becomes the new one. */
function CommandKey(p: {
  command: Command;
  changed: ChangedKeys;
  onPut: (change: Record<string, string>) => void;
}) {
  const { command, changed, onPut } = p;
  const [listening, setListening] = useState(false);
  const [wanted, setWanted] = useState<string | null>(null);
  const key = keyOf(command.id, changed);
  const own = KEYMAP[command.id] ?? '';
  useEffect(() => {
    if (!listening) return;
    const hear = (e: KeyboardEvent): void => {
      e.preventDefault();
      e.stopPropagation();
      const name = keyName(e);
      if (name === null) return;
      setListening(false);
      if (name === key) return;
      if (holdersOf(COMMANDS, changed, command, name).length) setWanted(name);
      else onPut({ [command.id]: name });
    };
    window.addEventListener('keydown', hear, { capture: true });
    return () => window.removeEventListener('keydown', hear, { capture: true });
  }, [listening, key, changed, command, onPut]);
  const holders = wanted ? holdersOf(COMMANDS, changed, command, wanted) : [];
  return (
    <li
      className="grid grid-cols-[1fr_110px_auto_auto_auto] items-center gap-2 px-1 py-0.25"
      data-command={command.id}
    >
      <span>{command.title}</span>
      {key ? (
        <kbd className="justify-self-start">{keyLabel(key)}</kbd>
      ) : (
        <em className="text-ash not-italic">no key</em>
      )}
      <button
        aria-label={`Change the key of ${command.title}`}
        onBlur={() => setListening(false)}
        onClick={() => {
          setWanted(null);
          setListening(true);
        }}
      >
        {listening ? 'press a key …' : 'Change'}
      </button>
      <button disabled={!key} onClick={() => onPut({ [command.id]: '' })}>
        No key
      </button>
      <button
        disabled={(changed[command.id] ?? own) === own}
        onClick={() => {
          if (own && holdersOf(COMMANDS, changed, command, own).length) setWanted(own);
          else onPut({ [command.id]: own });
        }}
      >
        Reset
      </button>
      {wanted && holders.length > 0 && (
        <p className="col-span-full text-ember" role="alert">
          {keyLabel(wanted)} is {holders.map((h) => `“${h.title}”`).join(' and ')} already.{' '}
          <button
            onClick={() => {
              onPut({ ...Object.fromEntries(holders.map((h) => [h.id, ''])), [command.id]: wanted });
              setWanted(null);
            }}
          >
            Take it from there
          </button>
          <button onClick={() => setWanted(null)}>Leave it</button>
        </p>
      )}
    </li>
  );
}

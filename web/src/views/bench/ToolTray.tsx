/**
 * The tools for what is picked, where their keys are: a row for what makes, one for what moves, one for what joins. Shift
 * and Alt show what the keys do with them, held or pressed here; tools without a key there lie under More.
 */
import { memo, useDeferredValue, useEffect, useState } from 'react';
import { clsx } from 'clsx';
import { ChevronDown, ChevronUp } from 'lucide-react';
import { shortTitle, type Command } from '../../state/command';
import { atLevel, COMMANDS } from '../../commands/commands';
import { useKeys } from '../../commands/keys';
import { keyLabel, keyOf } from '../../commands/keymap';
import type { ChangedKeys } from '@urnsmith/core/settings/keys';
import { LEFT } from '../../commands/keyRows';
import { useScene } from '../../state/useScene';
import type { ElementLevel, Level } from '../../state/handSlice';
import { panelActions } from '../../state/panelSlice';
import { useAct, useApp } from '../../state/store';
import { remembered } from '../../ui/remembered';
import { ToolIcon } from './ToolIcon';

const LAYERS = ['Keys', 'Shift', 'Alt', 'More'] as const;
type Layer = (typeof LAYERS)[number];
const PREFIX: Record<Exclude<Layer, 'More'>, string> = { Keys: '', Shift: 'Shift+', Alt: 'Alt+' };
/** Of tools under More, whose labels need more room than a key has. */
const COLUMNS = 3;
const FOLDED = 'urnsmith-tools-folded';
/** In windows not higher than this, pixels, the tools are folded at first. */
const SHORT = 560;

const toolsAt = (level: ElementLevel): Command[] =>
  COMMANDS.filter((c) => c.card?.includes(level) || c.id.startsWith('tool-'));

/** The commands of a layer in rows, each with its key; null where a key has none. */
function rowsOf(
  tools: Command[],
  layer: Layer,
  changed: ChangedKeys,
): Array<Array<[string, Command | null]>> {
  const byKey = new Map(tools.map((c) => [keyOf(c.id, changed), c]));
  if (layer !== 'More')
    return LEFT.map(({ keys }) =>
      [...keys].map((k) => [PREFIX[layer] + k, byKey.get(PREFIX[layer] + k) ?? null]),
    );
  const shown = new Set(
    LEFT.flatMap(({ keys }) => [...keys].flatMap((k) => Object.values(PREFIX).map((p) => p + k))),
  );
  const rest = tools.filter((c) => !shown.has(keyOf(c.id, changed) ?? ''));
  const rows = Math.ceil(rest.length / COLUMNS);
  return Array.from({ length: rows }, (_, r) =>
    rest.slice(r * COLUMNS, (r + 1) * COLUMNS).map((c) => [keyOf(c.id, changed) ?? '', c]),
  );
}

/** The tray acts on the current picks, so it may render after the stage and not hold it up. */
export function ToolTray() {
  const level = useDeferredValue<Level>(
    useApp((s) => s.hand.level),
    'piece',
  );
  const drawing = useApp((s) => s.hand.anew !== null);
  return level === 'piece' || drawing ? null : <Tray level={level} />;
}

const Tray = memo(function Tray({ level }: { level: ElementLevel }) {
  const changed = useKeys();
  const held = useHeldLayer();
  const [chosen, setChosen] = useState<Layer>('Keys');
  const [folded, setFolded] = useState(
    () => remembered.getItem(FOLDED) === '1' || window.innerHeight < SHORT,
  );
  const layer = held ?? chosen;
  const tools = toolsAt(level);
  const fold = (to: boolean): void => {
    setFolded(to);
    remembered.setItem(FOLDED, to ? '1' : '0');
  };
  return (
    <section
      className={clsx(
        'tray @container max-w-full rounded-[10px] bg-ink-0/88 p-1.5',
        layer === 'More' && !folded ? 'w-112' : 'w-104',
      )}
      aria-label="Tools for the picks"
    >
      <div className="flex items-center gap-1">
        <div className="flex gap-0.5" role="tablist" aria-label="Keys with">
          {LAYERS.map((l) => (
            <button
              key={l}
              role="tab"
              aria-selected={l === layer}
              className={clsx(
                'rounded-[6px] px-1.75 py-0.25 text-[11.5px]',
                l === layer ? 'bg-ink-3 text-porcelain' : 'text-mist',
              )}
              onClick={() => {
                setChosen(l);
                fold(false);
              }}
            >
              {l}
            </button>
          ))}
        </div>
        <PickFirst level={level} />
        <button
          className="quiet ml-auto"
          aria-expanded={!folded}
          aria-label={folded ? 'Show the tools' : 'Fold the tools'}
          onClick={() => fold(!folded)}
        >
          {folded ? <ChevronUp size={14} aria-hidden /> : <ChevronDown size={14} aria-hidden />}
        </button>
      </div>
      {!folded && (
        <div className="mt-1 flex flex-col gap-0.75" role="group" aria-label="Tools">
          {rowsOf(tools, layer, changed).map((row, r) => (
            <div
              key={r}
              className={clsx(
                'grid gap-0.75',
                layer === 'More' ? 'grid-cols-3' : 'auto-cols-[minmax(0,1fr)] grid-flow-col',
              )}
              // Keyboards stagger their rows.
              style={
                layer === 'More' ? undefined : { marginLeft: `${r * 6}px`, marginRight: `${(2 - r) * 6}px` }
              }
            >
              {row.map(([key, c], k) => (
                <Cell key={c?.id ?? k} cap={key} command={c} level={level} wide={layer === 'More'} />
              ))}
            </div>
          ))}
        </div>
      )}
    </section>
  );
});

function PickFirst({ level }: { level: ElementLevel }) {
  const any = useApp((s) => s.hand.picked.length > 0);
  return any ? null : (
    <span className="min-w-0 truncate px-1 text-[11.5px] text-mist">pick {level}s, then a tool</span>
  );
}

interface CellProps {
  /** Key of the cell; empty where there is none. */
  cap: string;
  /** The command of the key; null where the key has none. */
  command: Command | null;
  level: ElementLevel;
  /** The label is beside the icon, not below it. */
  wide: boolean;
}

function Cell({ cap, command, level, wide }: CellProps) {
  const scene = useScene();
  const act = useAct();
  const can = useApp(() => command !== null && atLevel(scene, command) && (command.enabled?.(scene) ?? true));
  const inHand = useApp((s) => command?.id === `tool-${s.hand.tool}` && !s.hand.mode);
  const likely = useApp((s) => command?.next?.[s.hand.picked.length ? level : 'bare'] !== undefined);
  // The layer already tells the modifier; a key elsewhere is shown in full.
  const label = cap && keyLabel(cap.replace(/^(Shift|Alt)\+/, ''));
  if (!command)
    return (
      <span className="rounded-[7px] border border-ink-2 px-1.25 py-0.5 text-[10px] text-ash/50" aria-hidden>
        {label}
      </span>
    );
  return (
    <button
      title={command.title}
      aria-disabled={!can}
      aria-pressed={command.id.startsWith('tool-') ? inHand : undefined}
      className={clsx(
        'min-w-0 rounded-[7px] border px-1 py-0.5 text-[10.5px] leading-[1.2]',
        wide ? 'items-center gap-1.5 text-left' : 'flex-col items-stretch gap-0',
        inHand
          ? 'border-porcelain bg-porcelain font-semibold text-ink-0'
          : can
            ? likely
              ? 'border-glaze bg-ink-2 text-porcelain'
              : 'border-edge bg-ink-2 text-porcelain'
            : 'border-ink-2 text-ash',
      )}
      onClick={() => {
        if (can) command.run(scene);
        else
          act(
            panelActions.noticed({
              text: `${shortTitle(command)}: ${command.needs ?? `pick ${level}s first.`}`,
              tone: 'problem',
            }),
          );
      }}
    >
      <span className={wide ? 'contents' : 'flex items-center justify-between'}>
        <ToolIcon of={command.id} />
        <span className={clsx('text-[10px] opacity-80', wide && 'order-last ml-auto')} aria-hidden>
          {label}
        </span>
      </span>
      <span className={clsx('text-left', wide ? 'line-clamp-2 whitespace-normal' : 'truncate')}>
        {shortTitle(command)}
      </span>
    </button>
  );
}

/** The layer whose modifier is held down, while no field has the keys. */
function useHeldLayer(): Layer | null {
  const [held, setHeld] = useState<Layer | null>(null);
  useEffect(() => {
    const of = (e: KeyboardEvent): void => {
      const typing = e.target instanceof HTMLElement && e.target.matches('input, textarea, select');
      setHeld(typing || e.ctrlKey || e.metaKey ? null : e.altKey ? 'Alt' : e.shiftKey ? 'Shift' : null);
    };
    const none = (): void => setHeld(null);
    window.addEventListener('keydown', of, true);
    window.addEventListener('keyup', of, true);
    window.addEventListener('blur', none);
    return () => {
      window.removeEventListener('keydown', of, true);
      window.removeEventListener('keyup', of, true);
      window.removeEventListener('blur', none);
    };
  }, []);
  return held;
}

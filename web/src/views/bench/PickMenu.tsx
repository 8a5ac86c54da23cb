/** Ways to pick at a level, from its own button: along loops, by what is alike, by rule, by name. */
import { useState } from 'react';
import { ChevronDown } from 'lucide-react';
import { Popover } from 'radix-ui';
import { ALIKE, type Trait } from '@urnsmith/core/select/traits';
import { shortTitle } from '../../state/command';
import { atLevel, COMMANDS } from '../../commands/commands';
import { useScene } from '../../state/useScene';
import type { ElementLevel } from '../../state/handSlice';
import { forgetSelection, nameSelection, recallSelection } from '../../state/keptSelections';
import { KIND } from '../../state/inHand';
import { pick } from '../../state/elements';
import { activeWherever } from '../../state/selectors';
import { useApp } from '../../state/store';
import { CheckField, ListField } from '../../ui/fields';
import { KeyCap } from '../KeyCap';
import { NumberField } from '../../ui/NumberField';
import { PickSettings } from './HandleSettings';
import { RulePicks } from './RulePicks';

const PICKS = COMMANDS.filter((c) => c.id.startsWith('pick-') && c.id !== 'pick-none' && c.enabled);

interface Options {
  tolerance: number;
  count: number;
  start: number;
  back: boolean;
  across: boolean;
  /** Elements left out between; null as between the first two. */
  gap: number | null;
  trait: Trait | null;
  /** Angles for sharp and flat, degrees. */
  angle: number;
}

export function PickMenu({ level }: { level: ElementLevel }) {
  // They stay as they were set while the menu is closed.
  const [options, setOptions] = useState<Options>({ tolerance: 0.01, count: 0, start: 0, back: false, across: false, gap: null, trait: null, angle: 30 }); // prettier-ignore
  const set = (to: Partial<Options>): void => setOptions({ ...options, ...to });
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <button
          className="picks pointer-events-auto ml-2"
          aria-label={`Ways to pick ${level}s`}
          title={`Ways to pick ${level}s`}
        >
          pick <ChevronDown size={13} aria-hidden />
        </button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          className="pickMenu z-20 max-h-(--radix-popover-content-available-height) w-76 overflow-y-auto rounded-[10px] border border-line bg-ink-1 pb-2 shadow-xl [scrollbar-width:thin]"
          align="start"
          sideOffset={6}
          collisionPadding={8}
          aria-label={`Ways to pick ${level}s`}
        >
          <div className="head">
            <b>Pick {level}s</b>
          </div>
          <Commands />
          <RulePicks angle={options.angle} onAngle={(angle) => set({ angle })} />
          <PickOptions level={level} o={options} set={set} />
          <NamedSelections />
          <PickSettings />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Commands() {
  const scene = useScene();
  // Re-renders only when the picks change: the commands depend on them.
  const can = useApp(() =>
    PICKS.map((c) => Number(atLevel(scene, c) && (c.enabled?.(scene) ?? true))).join(''),
  );
  return (
    <div className="tools" role="group" aria-label="Pick">
      {PICKS.map((c, k) => (
        <button key={c.id} disabled={can[k] === '0'} title={c.title} onClick={() => c.run(scene)}>
          {shortTitle(c)}
          <KeyCap of={c.id} />
        </button>
      ))}
    </div>
  );
}

/** How alike is alike, and how a pattern is carried on. */
function PickOptions({
  level,
  o,
  set,
}: {
  level: ElementLevel;
  o: Options;
  set: (o: Partial<Options>) => void;
}) {
  const scene = useScene();
  const { gap, trait } = o;
  const traits = ALIKE[KIND[level]];
  const chosen = trait && (traits as readonly string[]).includes(trait) ? trait : traits[0];
  return (
    <>
      <ListField label="Alike in" value={chosen} options={traits} onChange={(trait) => set({ trait })} />
      <NumberField
        label="Tolerance"
        value={o.tolerance}
        minimum={0}
        maximum={180}
        step={0.01}
        onCommit={(tolerance) => set({ tolerance })}
      />
      <NumberField
        label="Carry on by"
        value={o.count}
        unit="times, 0 all round"
        integer
        minimum={0}
        maximum={10000}
        step={0.1}
        onCommit={(count) => set({ count })}
      />
      <CheckField checked={gap === null} onChange={(as) => set({ gap: as ? null : 1 })}>
        gap as between the first two
      </CheckField>
      {gap !== null && (
        <NumberField
          label="Gap"
          value={gap}
          unit="left out"
          integer
          minimum={0}
          maximum={10000}
          step={0.1}
          onCommit={(gap) => set({ gap })}
        />
      )}
      <NumberField
        label="Start after"
        value={o.start}
        unit="left out"
        integer
        minimum={0}
        maximum={10000}
        step={0.1}
        onCommit={(start) => set({ start })}
      />
      <div className="checks">
        {(['back', 'across'] as const).map((k) => (
          <CheckField key={k} checked={o[k]} onChange={(on) => set({ [k]: on })}>
            {k === 'back' ? 'the other way' : 'along the crossing run'}
          </CheckField>
        ))}
      </div>
      <div className="tools" role="group" aria-label="Pick by these">
        <button onClick={() => void pick(scene, 'alike', { trait: chosen, tolerance: o.tolerance })}>
          Pick alike
        </button>
        <button
          onClick={() =>
            void pick(scene, 'repeat', { ...o, trait: undefined, angle: undefined, gap: gap ?? undefined })
          }
        >
          Carry on{o.count ? ` ${o.count} times` : ' all round'}
        </button>
      </div>
    </>
  );
}

/** Selections kept with the piece. */
function NamedSelections() {
  const scene = useScene();
  const piece = useApp(activeWherever);
  const any = useApp((s) => s.hand.picked.length > 0);
  const [name, setName] = useState('');
  const kept = Object.keys(piece?.selections ?? {});
  return (
    <div className="kept px-3 pb-1.5" role="group" aria-label="Kept selections">
      {kept.map((n) => (
        <span key={n} className="chip">
          <button onClick={() => recallSelection(scene, n)}>{n}</button>
          <button className="ml-1" aria-label={`Forget ${n}`} onClick={() => forgetSelection(scene, n)}>
            ✕
          </button>
        </span>
      ))}
      <form
        className="field px-0 py-1"
        onSubmit={(e) => {
          e.preventDefault();
          nameSelection(scene, name);
          setName('');
        }}
      >
        <input
          aria-label="Name for the selection"
          placeholder="Keep the selection as"
          maxLength={60}
          value={name}
          onChange={(e) => setName(e.currentTarget.value)}
        />
        <button disabled={!any || !name.trim()}>keep</button>
      </form>
    </div>
  );
}

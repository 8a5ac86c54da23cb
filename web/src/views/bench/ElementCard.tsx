/** Tools for the picked elements, ways to pick, and how handles and softness behave. */
import { useScene } from '../../scene/useScene';
import { memo, useDeferredValue, useState } from 'react';
import { ALIKE, type Trait } from '@urnsmith/core/select/traits';
import { shortTitle, type Command } from '../../commands/command';
import { atLevel, COMMANDS } from '../../commands/commands';
import { KEYMAP } from '../../commands/keymap';
import { keyPlace } from '../../commands/keyRows';
import type { ElementLevel, Level } from '../../state/benchSlice';
import { forgetSelection, KIND, nameSelection, pick, recallSelection } from '../../state/elements';
import { activePiece } from '../../state/selectors';
import { useApp } from '../../state/store';
import { CheckField, ListField } from '../../ui/fields';
import { NumberField } from '../../ui/NumberField';
import { HandleSettings } from './HandleSettings';
import { RulePicks } from './RulePicks';
import { KeyCap } from '../../ui/KeyCap';

const PICKS = COMMANDS.filter((c) => c.id.startsWith('pick-') && c.id !== 'pick-none' && c.enabled);

/** Tools stand as their keys do: what makes, what moves, what joins, and what has no key. */
const toolsAt = (level: ElementLevel): Command[] =>
  COMMANDS.filter((c) => c.card?.includes(level)).sort((a, b) => {
    const [x, y] = [keyPlace(KEYMAP[a.id]), keyPlace(KEYMAP[b.id])];
    return x === y ? 0 : x - y;
  });

/** Its tools act on what is picked now, so it may be put up after the stage, which it would hold up otherwise. */
export function ElementCard() {
  const level = useDeferredValue<Level>(
    useApp((s) => s.bench.level),
    'piece',
  );
  return level === 'piece' ? null : <Tools level={level} />;
}

const Tools = memo(function Tools({ level }: { level: ElementLevel }) {
  return (
    <>
      <div className="head sub">
        <b>Tools</b>
        <PickFirst level={level} />
      </div>
      <Buttons commands={toolsAt(level)} label="Tools" />
      <div className="head sub">
        <b>Pick</b>
      </div>
      <Buttons commands={PICKS} label="Pick" />
      <PickOptions level={level} />
      <RulePicks />
      <NamedSelections />
      <HandleSettings />
    </>
  );
});

function PickFirst({ level }: { level: ElementLevel }) {
  const any = useApp((s) => s.bench.picked.length > 0);
  return <span className="dim">{any ? '' : `pick ${level}s first`}</span>;
}

function Buttons({ commands, label }: { commands: Command[]; label: string }) {
  const scene = useScene();
  // What can be done depends on what is picked; only that is followed.
  const can = useApp(() =>
    commands.map((c) => Number(atLevel(scene, c) && (c.enabled?.(scene) ?? true))).join(''),
  );
  return (
    <div className="tools" role="group" aria-label={label}>
      {commands.map((c, k) => (
        <button key={c.id} disabled={can[k] === '0'} title={c.title} onClick={() => c.run(scene)}>
          {shortTitle(c)}
          <KeyCap of={c.id} />
        </button>
      ))}
    </div>
  );
}

/** How alike is alike, and how a pattern is carried on. */
function PickOptions({ level }: { level: ElementLevel }) {
  const scene = useScene();
  const [o, set] = useState({ tolerance: 0.01, count: 0, start: 0, back: false, across: false });
  const [gap, setGap] = useState<number | null>(null);
  const traits = ALIKE[KIND[level]];
  const [trait, setTrait] = useState<Trait | null>(null);
  const chosen = trait && (traits as readonly string[]).includes(trait) ? trait : traits[0];
  return (
    <>
      <ListField label="Alike in" value={chosen} options={traits} onChange={setTrait} />
      <NumberField
        label="Tolerance"
        value={o.tolerance}
        minimum={0}
        maximum={180}
        step={0.01}
        onCommit={(tolerance) => set({ ...o, tolerance })}
      />
      <NumberField
        label="Carry on by"
        value={o.count}
        unit="times, 0 all round"
        integer
        minimum={0}
        maximum={10000}
        step={0.1}
        onCommit={(count) => set({ ...o, count })}
      />
      <CheckField checked={gap === null} onChange={(as) => setGap(as ? null : 1)}>
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
          onCommit={setGap}
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
        onCommit={(start) => set({ ...o, start })}
      />
      <div className="checks">
        {(['back', 'across'] as const).map((k) => (
          <CheckField key={k} checked={o[k]} onChange={(on) => set({ ...o, [k]: on })}>
            {k === 'back' ? 'the other way' : 'along the crossing run'}
          </CheckField>
        ))}
      </div>
      <div className="tools" role="group" aria-label="Pick by these">
        <button onClick={() => void pick(scene, 'alike', { trait: chosen, tolerance: o.tolerance })}>
          Pick alike
        </button>
        <button onClick={() => void pick(scene, 'repeat', { ...o, gap: gap ?? undefined })}>
          Carry on{o.count ? ` ${o.count} times` : ' all round'}
        </button>
      </div>
    </>
  );
}

/** Selections kept with the piece. */
function NamedSelections() {
  const scene = useScene();
  const piece = useApp(activePiece);
  const any = useApp((s) => s.bench.picked.length > 0);
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

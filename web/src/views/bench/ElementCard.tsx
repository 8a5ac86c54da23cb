/** Tools for the picked elements, ways to pick, and how handles and softness behave. */
import { memo, useDeferredValue, useState } from 'react';
import { ALIKE, type Trait } from '@urnsmith/core/select/rules';
import { atLevel, commandById } from '../../commands/commands';
import type { ElementLevel, Level } from '../../state/benchSlice';
import { forgetSelection, KIND, nameSelection, pick, recallSelection } from '../../state/elements';
import { activePiece } from '../../state/selectors';
import { useApp } from '../../state/store';
import { CheckField, ListField } from '../../ui/fields';
import { NumberField } from '../../ui/NumberField';
import { HandleSettings } from './HandleSettings';
import { RulePicks } from './RulePicks';
import { KeyCap } from '../../ui/KeyCap';

const TOOLS = {
  face: ['extrude', 'extrudeEach', 'extrudePeg', 'inset', 'insetEach', 'knife', 'makeRound', 'flatten', 'flattenView', 'bridge', 'splitApart', 'copyFaces', 'detach', 'fan', 'triangulate', 'pairTriangles', 'turnOver', 'faceOutward', 'mirrorOnce', 'thicken', 'planeSlice', 'drawFace', 'collapse', 'remove'],
  edge: ['bevel',
    'extrude',
    'openAlong', 'ringCut', 'supportLoops', 'slide', 'knife', 'connect', 'fill', 'fillGrid', 'bridge', 'straighten', 'spaceEvenly', 'makeRound', 'collapse', 'markHard', 'crease', 'seam', 'roundShare', 'clearHard', 'markOver', 'planeSlice', 'drawFace', 'remove'],
  point: ['bevel', 'weld', 'weldMiddle', 'connect', 'knife', 'slide', 'push', 'relax', 'flatten', 'flattenView', 'straighten', 'spaceEvenly', 'makeRound', 'fill', 'drawFace', 'planeSlice', 'remove'],
} as const; // prettier-ignore
const PICKS = [
  'loop',
  'ring',
  'border',
  'grow',
  'shrink',
  'invert',
  'all',
  'flat',
  'shell',
  'way',
  'enclose',
  'alike',
  'repeat',
];

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
      <Buttons ids={TOOLS[level].map((t) => `edit-${t}`)} label="Tools" />
      <div className="head sub">
        <b>Pick</b>
      </div>
      <Buttons ids={PICKS.map((p) => `pick-${p}`)} label="Pick" />
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

function Buttons({ ids, label }: { ids: string[]; label: string }) {
  const commands = ids.map(commandById);
  // What can be done depends on what is picked; only that is followed.
  const can = useApp(() => commands.map((c) => Number(atLevel(c) && (c.enabled?.() ?? true))).join(''));
  return (
    <div className="tools" role="group" aria-label={label}>
      {commands.map((c, k) => (
        <button key={c.id} disabled={can[k] === '0'} title={c.title} onClick={() => c.run()}>
          {SHORT[c.id] ??
            c.title
              .replace(/^(Pick|Mark) (the |along the |a |edges )?/, '')
              .replace(/^./, (x) => x.toUpperCase())}
          <KeyCap of={c.id} />
        </button>
      ))}
    </div>
  );
}

const SHORT: Record<string, string> = {
  'edit-remove': 'Delete, dissolve',
  'edit-detach': 'New piece',
  'edit-pairTriangles': 'To quads',
  'edit-copyFaces': 'Duplicate',
  'edit-planeSlice': 'Plane slice',
  'edit-weld': 'Weld near',
  'edit-weldMiddle': 'Weld together',
  'edit-fan': 'Fan',
  'edit-push': 'Push',
  'edit-flattenView': 'Flatten to view',
  'edit-extrudeEach': 'Extrude each',
  'edit-insetEach': 'Inset each',
  'edit-fillGrid': 'Fill: grid',
  'edit-markHard': 'Hard',
  'edit-crease': 'Crease',
  'edit-seam': 'Seam',
  'edit-clearHard': 'Not hard',
  'edit-roundShare': 'Half width',
  'edit-markOver': 'All over an angle',
  'edit-drawFace': 'Draw a face',
  'edit-extrudePeg': 'Along the peg',
  'pick-grow': 'Grow',
  'pick-shrink': 'Shrink',
  'pick-invert': 'Others',
  'pick-way': 'Way',
  'pick-enclose': 'Enclosed',
  'pick-alike': 'Alike',
  'pick-repeat': 'Carry on',
  'pick-shell': 'Shell',
  'pick-flat': 'Flat region',
};

/** How alike is alike, and how a pattern is carried on. */
function PickOptions({ level }: { level: ElementLevel }) {
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
        <button onClick={() => void pick('alike', { trait: chosen, tolerance: o.tolerance })}>
          Pick alike
        </button>
        <button onClick={() => void pick('repeat', { ...o, gap: gap ?? undefined })}>
          Carry on{o.count ? ` ${o.count} times` : ' all round'}
        </button>
      </div>
    </>
  );
}

/** Selections kept with the piece. */
function NamedSelections() {
  const piece = useApp(activePiece);
  const any = useApp((s) => s.bench.picked.length > 0);
  const [name, setName] = useState('');
  const kept = Object.keys(piece?.selections ?? {});
  return (
    <div className="kept" role="group" aria-label="Kept selections">
      {kept.map((n) => (
        <span key={n} className="chip">
          <button onClick={() => recallSelection(n)}>{n}</button>
          <button aria-label={`Forget ${n}`} onClick={() => forgetSelection(n)}>
            ✕
          </button>
        </span>
      ))}
      <form
        className="field"
        onSubmit={(e) => {
          e.preventDefault();
          nameSelection(name);
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

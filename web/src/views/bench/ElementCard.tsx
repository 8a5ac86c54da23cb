/** Tools for the picked elements, ways to pick, and how handles and softness behave. */
import { useState } from 'react';
import { ALIKE, type Trait } from '@urnsmith/core/select/rules';
import { FALLOFFS, type Falloff } from '@urnsmith/core/select/soft';
import { atLevel, commandById, keyLabel } from '../../commands/commands';
import { bench, type ElementLevel } from '../../state/benchSlice';
import { forgetSelection, KIND, nameSelection, pick, recallSelection } from '../../state/elements';
import { activePiece } from '../../state/selectors';
import { useAct, useApp } from '../../state/store';
import { NumberField } from '../../ui/NumberField';
import { Segmented } from '../../ui/Segmented';

const TOOLS = {
  face: ['extrude', 'extrudeEach', 'inset', 'insetEach', 'knife', 'makeRound', 'flatten', 'bridge', 'splitApart', 'copyFaces', 'detach', 'fan', 'triangulate', 'pairTriangles', 'turnOver', 'faceOutward', 'mirrorOnce', 'thicken', 'planeSlice', 'collapse', 'remove'],
  edge: ['bevel',
    'extrude',
    'rip', 'ringCut', 'supportLoops', 'slide', 'knife', 'connect', 'fill', 'fillGrid', 'bridge', 'straighten', 'spaceEvenly', 'makeRound', 'collapse', 'markHard', 'crease', 'seam', 'clearHard', 'remove'],
  point: ['weld', 'weldMiddle', 'connect', 'knife', 'push', 'relax', 'flatten', 'straighten', 'spaceEvenly', 'makeRound', 'fill', 'remove'],
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

export function ElementCard() {
  const level = useApp((s) => s.bench.level);
  const any = useApp((s) => s.bench.picked.length > 0);
  if (level === 'piece') return null;
  return (
    <>
      <div className="head sub">
        <b>Tools</b>
        <span className="dim">{any ? '' : `pick ${level}s first`}</span>
      </div>
      <Buttons ids={TOOLS[level].map((t) => `edit-${t}`)} label="Tools" />
      <div className="head sub">
        <b>Pick</b>
      </div>
      <Buttons ids={PICKS.map((p) => `pick-${p}`)} label="Pick" />
      <PickOptions />
      <NamedSelections />
      <HandleSettings />
      <SymmetryChoice />
      <SoftSettings />
    </>
  );
}

function Buttons({ ids, label }: { ids: string[]; label: string }) {
  useApp((s) => s.bench.picked);
  return (
    <div className="tools" role="group" aria-label={label}>
      {ids.map(commandById).map((c) => (
        <button
          key={c.id}
          disabled={!atLevel(c) || !(c.enabled?.() ?? true)}
          title={c.title}
          onClick={() => c.run()}
        >
          {SHORT[c.id] ??
            c.title
              .replace(/^(Pick|Mark) (the |along the |a |edges )?/, '')
              .replace(/^./, (x) => x.toUpperCase())}
          {c.keys && <kbd>{keyLabel(c.keys)}</kbd>}
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
  'edit-extrudeEach': 'Extrude each',
  'edit-insetEach': 'Inset each',
  'edit-fillGrid': 'Fill: grid',
  'edit-markHard': 'Hard',
  'edit-crease': 'Crease',
  'edit-seam': 'Seam',
  'edit-clearHard': 'Not hard',
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

function HandleSettings() {
  const act = useAct();
  const e = useApp((s) => s.bench.elements);
  return (
    <>
      <div className="head sub">
        <b>Handles</b>
      </div>
      <div className="field">
        <span className="lab">Along</span>
        <Segmented
          label="Along"
          value={e.frame}
          options={(['world', 'piece', 'grid', 'own'] as const).map((v) => ({ value: v, label: v }))}
          onChange={(frame) => act(bench.elementSettings({ frame }))}
        />
      </div>
      <div className="field">
        <span className="lab">About</span>
        <Segmented
          label="About"
          value={e.about}
          options={(['middle', 'each'] as const).map((v) => ({ value: v, label: v }))}
          onChange={(about) => act(bench.elementSettings({ about }))}
        />
      </div>
      <label className="check">
        <input
          type="checkbox"
          checked={e.through}
          onChange={() => act(bench.elementSettings({ through: !e.through }))}
        />{' '}
        pick through the depth
        <kbd>Shift+V</kbd>
      </label>
      <NumberField
        label="Point size"
        value={e.pointSize}
        unit="px"
        minimum={2}
        maximum={24}
        integer
        onCommit={(pointSize) => act(bench.elementSettings({ pointSize }))}
      />
      <NumberField
        label="Pick radius"
        value={e.pickRadius}
        unit="px"
        minimum={2}
        maximum={60}
        integer
        onCommit={(pickRadius) => act(bench.elementSettings({ pickRadius }))}
      />
    </>
  );
}

function SymmetryChoice() {
  const act = useAct();
  const symmetry = useApp((s) => s.bench.elements.symmetry);
  return (
    <div className="field">
      <span className="lab">Symmetry</span>
      <Segmented
        label="Symmetry"
        value={symmetry}
        options={(['none', 'x', 'y', 'z'] as const).map((v) => ({ value: v, label: v }))}
        onChange={(v) => act(bench.elementSettings({ symmetry: v }))}
      />
    </div>
  );
}

function SoftSettings() {
  const act = useAct();
  const e = useApp((s) => s.bench.elements);
  return (
    <>
      <label className="check">
        <input
          type="checkbox"
          checked={e.soft}
          onChange={() => act(bench.elementSettings({ soft: !e.soft }))}
        />{' '}
        soft selection
        <kbd>Shift+S</kbd>
      </label>
      {e.soft && (
        <>
          <NumberField
            label="Reach"
            value={e.reach}
            quantity="length"
            unit="mm"
            minimum={0.001}
            maximum={1e6}
            onPreview={(reach) => act(bench.elementSettings({ reach }))}
            onCommit={(reach) => act(bench.elementSettings({ reach }))}
          />
          <div className="field">
            <span className="lab">Reach along</span>
            <Segmented
              label="Reach along"
              value={e.along}
              options={(['straight', 'surface'] as const).map((v) => ({ value: v, label: v }))}
              onChange={(along) => act(bench.elementSettings({ along }))}
            />
          </div>
          <div className="field">
            <span className="lab">Falloff</span>
            <select
              aria-label="Falloff"
              value={e.falloff}
              onChange={(x) => act(bench.elementSettings({ falloff: x.currentTarget.value as Falloff }))}
            >
              {FALLOFFS.map((f) => (
                <option key={f}>{f}</option>
              ))}
            </select>
          </div>
        </>
      )}
    </>
  );
}

/** How alike is alike, and how a pattern is carried on. */
function PickOptions() {
  const level = useApp((s) => s.bench.level) as ElementLevel;
  const [o, set] = useState({ tolerance: 0.01, gap: 1, count: 0 });
  const traits = ALIKE[KIND[level]];
  const [trait, setTrait] = useState<Trait | null>(null);
  const chosen = trait && (traits as readonly string[]).includes(trait) ? trait : traits[0];
  return (
    <>
      <div className="field">
        <span className="lab">Alike in</span>
        <select
          aria-label="Alike in"
          value={chosen}
          onChange={(e) => setTrait(e.currentTarget.value as Trait)}
        >
          {traits.map((t) => (
            <option key={t}>{t}</option>
          ))}
        </select>
      </div>
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
        integer
        minimum={0}
        maximum={10000}
        step={0.1}
        onCommit={(count) => set({ ...o, count })}
      />
      <div className="row2">
        <button onClick={() => void pick('alike', { trait: chosen, tolerance: o.tolerance })}>
          Pick alike
        </button>
        <button onClick={() => void pick('repeat', { count: o.count })}>
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

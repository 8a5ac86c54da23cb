/** How handles move elements: along which axes, about what, with what snapping, softness and attraction. */
import { WAYS, type Way } from '@urnsmith/core/ops/layOnto';
import { FALLOFFS } from '@urnsmith/core/select/soft';
import { settingActions } from '../../state/settingSlice';
import type { ElementSettings } from '../../state/elementSettings';
import { livePieces } from '../../state/selectors';
import { useAct, useApp } from '../../state/store';
import { CheckField, ChoiceField, ListField } from '../../ui/fields';
import { NumberField } from '../../ui/NumberField';
import { SnapSettings } from './SnapSettings';
import { KeyCap } from '../KeyCap';

export function HandleSettings() {
  const tool = useApp((s) => s.hand.tool);
  return (
    <>
      <div className="head sub">
        <b>Handles</b>
      </div>
      {tool === 'turn' && <Choice name="turns" label="Turns" options={['elements', 'shading']} />}
      <Choice name="frame" label="Along" options={['world', 'piece', 'grid', 'view', 'own']} />
      <Choice name="about" label="About" options={['middle', 'each', 'pivot', 'peg']} />
      <Choice name="symmetry" label="Symmetry" options={['none', 'x', 'y', 'z']} />
      <SnapSettings />
      <Toggle name="weld" label="weld points where they are dropped" />
      <Attraction />
      <NormalSettings />
      <SoftSettings />
    </>
  );
}

/** How picking behaves. */
export function PickSettings() {
  return (
    <>
      <Toggle name="through" label="pick through the depth" command="pick-through" />
      <Size name="pointSize" label="Point size" minimum={2} maximum={24} />
      <Size name="pickRadius" label="Pick radius" minimum={2} maximum={60} />
      <Toggle name="soft" label="soft selection" command="soft" />
    </>
  );
}

type Named<T> = {
  [K in keyof ElementSettings]: ElementSettings[K] extends T ? K : never;
}[keyof ElementSettings];

function useSetting<K extends keyof ElementSettings>(
  name: K,
): [ElementSettings[K], (v: ElementSettings[K]) => void] {
  const act = useAct();
  const value = useApp((s) => s.settings.elements[name]);
  return [value, (v) => act(settingActions.elementSettings({ [name]: v }))];
}

function Choice<K extends 'turns' | 'frame' | 'about' | 'symmetry' | 'along'>(p: {
  name: K;
  label: string;
  options: ReadonlyArray<ElementSettings[K]>;
}) {
  const [value, set] = useSetting(p.name);
  return (
    <ChoiceField<string>
      label={p.label}
      value={value}
      options={p.options}
      onChange={(v) => set(v as ElementSettings[K])}
    />
  );
}

function Toggle({ name, label, command }: { name: Named<boolean>; label: string; command?: string }) {
  const [value, set] = useSetting(name);
  return (
    <CheckField checked={value} onChange={set}>
      {label}
      {command && <KeyCap of={command} />}
    </CheckField>
  );
}

function Size(p: { name: Named<number>; label: string; minimum: number; maximum: number }) {
  const [value, set] = useSetting(p.name);
  return (
    <NumberField
      label={p.label}
      value={value}
      unit="px"
      minimum={p.minimum}
      maximum={p.maximum}
      integer
      onCommit={set}
    />
  );
}

function Length({ name, label }: { name: Named<number>; label: string }) {
  const [value, set] = useSetting(name);
  return (
    <NumberField
      label={label}
      value={value}
      unit="mm"
      minimum={0.001}
      maximum={1e6}
      onPreview={set}
      onCommit={set}
    />
  );
}

const WAY_NAMES: Record<Way, string> = {
  nearest: 'nearest',
  along: 'along the view',
  center: 'toward its middle',
};

/** Another piece onto whose surface moved points are drawn. */
function Attraction() {
  const [onto, setOnto] = useSetting('onto');
  const [lay, setLay] = useSetting('lay');
  const pieces = useApp(livePieces);
  const active = useApp((s) => s.hand.active);
  const others = pieces.filter((p) => p.id !== active && !('group' in p.base));
  const chosen = others.some((p) => p.id === onto) ? onto! : '';
  return (
    <>
      <ListField
        label="Draw onto"
        value={chosen}
        options={['', ...others.map((p) => p.id)]}
        names={{ '': 'nothing', ...Object.fromEntries(others.map((p) => [p.id, p.name ?? p.id])) }}
        onChange={(id) => setOnto(id || null)}
      />
      {chosen && <ListField label="They go" value={lay} options={WAYS} names={WAY_NAMES} onChange={setLay} />}
    </>
  );
}

function NormalSettings() {
  const [shown] = useSetting('normals');
  return (
    <>
      <Toggle name="ranks" label="tint ranks of shading" command="show-ranks" />
      <Toggle name="normals" label="show shading normals" command="show-normals" />
      {shown && <Length name="normalLength" label="Their length" />}
    </>
  );
}

function SoftSettings() {
  const [soft] = useSetting('soft');
  const [brush] = useSetting('brush');
  const [falloff, setFalloff] = useSetting('falloff');
  return (
    <>
      <Toggle name="soft" label="soft selection" command="soft" />
      {soft && (
        <>
          <Toggle name="brush" label="reach as a size on the screen" />
          {brush ? (
            <Size name="brushSize" label="Brush" minimum={4} maximum={2000} />
          ) : (
            <Length name="reach" label="Reach" />
          )}
          <p className="dim pad">The wheel changes the reach while dragging.</p>
          <Choice name="along" label="Reach along" options={['straight', 'surface']} />
          <ListField label="Falloff" value={falloff} options={FALLOFFS} onChange={setFalloff} />
        </>
      )}
    </>
  );
}

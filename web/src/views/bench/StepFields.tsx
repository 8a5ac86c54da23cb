/** The fields of a step's parameters, made from its kind: numbers, choices, ticks, rows, and the few with a shape of their own. */
import { lazy, Suspense } from 'react';
import { useScene } from '../../state/useScene';
import { Toggle } from 'radix-ui';
import type { Vec3 } from '@urnsmith/core/mesh/vec3';
import type { Piece } from '@urnsmith/core/document/schema';
import type { StepField } from '@urnsmith/core/steps/define';
import type { Scope } from '@urnsmith/core/select/rules';
import {
  inLaneOrder,
  stepName,
  STEPS,
  type CutStep,
  type HandStep,
  type Step,
} from '@urnsmith/core/steps/index';
import { transformOf } from '@urnsmith/core/mesh/transform';
import { editTogether, previewTogether, sameSteps, useSelectedWith, withStep } from '../../state/together';
import { useApp } from '../../state/store';
import { CheckField, ListField, RowField, SchemaField, type FieldSchema } from '../../ui/fields';
import { Segmented } from '../../ui/Segmented';
import { stepTitle } from '../../state/beads';
import { HandEdits } from './HandEdits';
import { RimFields } from './RimFields';
import { ScopeFields } from './ScopeFields';
import type { StepProps } from './stepProps';

const ShadingField = lazy(async () => ({ default: (await import('./ShadingField')).ShadingField }));
const CutterList = lazy(async () => ({ default: (await import('./CutterList')).CutterList }));
const LeadsField = lazy(async () => ({ default: (await import('./LeadsField')).LeadsField }));

type Values = Record<string, unknown>;

export function StepFields(props: StepProps) {
  const { step } = props;
  const fields = STEPS[step.kind].fields.filter((f) => f.when?.(step) ?? true);
  const fine = fields.filter((f) => f.fine);
  return (
    <>
      {fields
        .filter((f) => !f.fine)
        .map((f) => (
          <OneField key={f.key} {...props} field={f} />
        ))}
      {fine.length > 0 && (
        <details className="fine">
          <summary className="cursor-pointer px-3 py-1 text-ash">fine</summary>
          {fine.map((f) => (
            <OneField key={f.key} {...props} field={f} />
          ))}
        </details>
      )}
    </>
  );
}

const clamped = (v: number, { minimum = -Infinity, maximum = Infinity }: FieldSchema): number =>
  Math.min(maximum, Math.max(minimum, Number(v.toFixed(6))));

const isRims = (v: unknown): v is Extract<Scope, { rule: 'rims' }> =>
  (v as Scope | undefined)?.rule === 'rims';

/** Titles of the steps worked before one, in that order. */
function earlierSteps(piece: Piece, index: number, pieces: Piece[]): Record<string, string> {
  const all = inLaneOrder((piece.steps ?? []).map((s, at) => ({ ...s, at })));
  const before = all.slice(
    0,
    all.findIndex((s) => s.at === index),
  );
  return Object.fromEntries(before.map(({ at, ...s }) => [stepName(s, at), stepTitle(s, pieces)]));
}

interface FieldProps extends StepProps {
  field: StepField<Step>;
}

function OneField({ piece, index, step, field }: FieldProps) {
  const scene = useScene();
  const scenePieces = useApp((s) => s.document.pieces);
  const key: string = field.key;
  const kind = STEPS[step.kind];
  const schema = kind.schema.properties[key] as FieldSchema & {
    default?: unknown;
    scope?: true;
    refersTo?: string;
  };
  const label = field.label ?? schema.title ?? key;
  const value = (step as Values)[key] ?? schema.default;
  const name = `${kind.title}: ${label.toLowerCase()}`;
  const all = sameSteps(useSelectedWith(piece), index);
  const indexIn = new Map(all.map((x) => [x.piece.id, x.index]));
  const pieces = all.map((x) => x.piece);
  // Scopes and operands belong to one piece, so they are not edited together.
  const own = schema.scope || field.as;
  const edited =
    (make: (s: Step) => Values) =>
    (p: Piece): Piece =>
      withStep(p, indexIn.get(p.id)!, (s) => ({ ...s, ...make(s) }) as Step);
  const put = (change: Values): void =>
    void editTogether(
      scene,
      own ? [piece] : pieces,
      name,
      edited(() => change),
    );
  const show = (change: Values): void =>
    previewTogether(
      scene,
      own ? [piece] : pieces,
      edited(() => change),
    );
  const valueOf = (s: Step): unknown => (s as Values)[key] ?? schema.default;
  const differs = all.some((x) => valueOf(x.piece.steps![x.index]) !== value);
  const more = (by: number) => edited((s) => ({ [key]: clamped((valueOf(s) as number) + by, schema) }));
  const bounds = field.begins && scene.builds.get(piece.id)?.display?.bounds;
  const set = (v: unknown): void => {
    const change = { [key]: v };
    const size = bounds?.min.map((low, k) => bounds.max[k] - low) as Vec3 | undefined;
    put({ ...change, ...(size && field.begins?.({ ...step, ...change } as Step, size)) });
  };
  if (schema.scope)
    return (
      <>
        <ScopeFields
          label={field.label ?? 'Scope'}
          none={field.none}
          kept={Object.keys(piece.selections ?? {})}
          earlier={earlierSteps(piece, index, scenePieces)}
          value={value as Scope | undefined}
          onShow={(scope) => show({ [key]: scope })}
          onPut={(scope) => put({ [key]: scope })}
        />
        {isRims(value) && <RimFields piece={piece} step={index} field={key} scope={value} />}
      </>
    );
  if (field.as === 'cutters')
    return (
      <Suspense fallback={null}>
        <CutterList piece={piece} index={index} step={step as CutStep} />
      </Suspense>
    );
  if (field.as === 'edits') return <HandEdits piece={piece} index={index} step={step as HandStep} />;
  if (field.as === 'shading' || field.as === 'leads') {
    const Field = field.as === 'leads' ? LeadsField : ShadingField;
    return (
      <Suspense fallback={<div className="h-16" />}>
        <Field piece={piece} value={value} onChange={set} />
      </Suspense>
    );
  }
  if (field.as === 'about') return <AboutField piece={piece} value={value as AboutValue} onPut={put} />;
  if (schema.refersTo === 'pieces')
    return (
      <PieceField
        label={label}
        none={field.none ?? 'none'}
        piece={piece}
        value={value as string | undefined}
        onChange={set}
      />
    );
  if (schema.type === 'boolean')
    return (
      <CheckField checked={value === true} onChange={set}>
        {label[0].toLowerCase() + label.slice(1)}
      </CheckField>
    );
  if (schema.anyOf) {
    const choice = (
      <Segmented
        label={label}
        className={field.wide && 'wide'}
        value={value as string}
        options={schema.anyOf.map((o) => ({ value: o.const, label: o.const, hint: field.hints?.[o.const] }))}
        onChange={set}
      />
    );
    if (field.wide) return choice;
    return (
      <div className="field choice">
        <span className="lab">{label}</span>
        {choice}
      </div>
    );
  }
  if (schema.type === 'array' && Array.isArray(schema.items))
    return (
      <RowField
        label={label}
        unit={schema.unit}
        names={schema.items.map((i) => i.title ?? '')}
        values={value as number[]}
        schema={schema.items}
        measure={schema.unit}
        onPreview={(v) => show({ [key]: v })}
        onCommit={set}
      />
    );
  if (schema.type === 'array')
    return (
      <SeveralField label={label} options={optionsIn(schema)} value={value as string[]} onChange={set} />
    );
  return (
    <>
      <SchemaField
        schema={schema}
        label={label}
        value={value as number}
        {...(field.perPixel && { step: field.perPixel })}
        onPreview={(v) => show({ [key]: v })}
        onCommit={set}
        {...(differs && {
          differ: {
            onPreview: (by: number) => previewTogether(scene, pieces, more(by)),
            onCommit: (by: number) => editTogether(scene, pieces, name, more(by)),
          },
        })}
      />
      {field.captions && (
        <div className="flex justify-between px-3 pb-1 text-[11px] text-ash" aria-hidden>
          {field.captions.map((c) => (
            <span key={c}>{c}</span>
          ))}
        </div>
      )}
    </>
  );
}

const optionsIn = (schema: FieldSchema): string[] =>
  ((schema.items as FieldSchema).anyOf ?? []).map((o) => o.const);

interface SeveralProps {
  label: string;
  options: string[];
  value: string[];
  onChange: (v: string[]) => void;
}

/** Any of a few, at least one. */
function SeveralField({ label, options, value, onChange }: SeveralProps) {
  return (
    <div className="field choice">
      <span className="lab">{label}</span>
      <div className="seg" role="group" aria-label={label}>
        {options.map((o) => (
          <Toggle.Root
            key={o}
            pressed={value.includes(o)}
            onPressedChange={(on) => {
              const next = options.filter((x) => (x === o ? on : value.includes(x)));
              if (next.length) onChange(next);
            }}
          >
            {o}
          </Toggle.Root>
        ))}
      </div>
    </div>
  );
}

type AboutValue = 'piece' | 'world' | 'peg' | { piece: string };

/** The frame a step works about: the piece, the world, the peg as it stands now, or another piece. */
interface PieceFieldProps {
  label: string;
  /** The word for no other piece. */
  none: string;
  piece: Piece;
  value: string | undefined;
  onChange: (id: string | undefined) => void;
}

/** Another piece the step works with. */
function PieceField({ label, none, piece, value = '', onChange }: PieceFieldProps) {
  const pieces = useApp((s) => s.document.pieces);
  const others = pieces.filter((p) => p.id !== piece.id && !('group' in p.base) && p.parent !== piece.id);
  return (
    <ListField
      label={label}
      value={value}
      options={['', ...others.map((p) => p.id)]}
      names={{ '': none, ...Object.fromEntries(others.map((p) => [p.id, p.name ?? p.id])) }}
      onChange={(id) => onChange(id || undefined)}
    />
  );
}

function AboutField({
  piece,
  value,
  onPut,
}: {
  piece: Piece;
  value: AboutValue;
  onPut: (change: Values) => void;
}) {
  const peg = useApp((s) => s.view.peg);
  const pieces = useApp((s) => s.document.pieces);
  const others = pieces.filter((p) => p.id !== piece.id);
  const at = typeof value === 'object' ? `piece ${value.piece}` : value;
  const options = [
    'piece',
    'world',
    ...(peg || value === 'peg' ? ['peg'] : []),
    ...others.map((p) => `piece ${p.id}`),
  ];
  const names: Record<string, string> = { piece: 'its own origin', world: 'the world', peg: 'the peg' };
  for (const p of others) names[`piece ${p.id}`] = p.name ?? p.id;
  return (
    <ListField
      label="About"
      value={at}
      options={options}
      names={names}
      onChange={(v) => {
        if (v.startsWith('piece ')) return onPut({ about: { piece: v.slice(6) }, peg: undefined });
        if (v !== 'peg' || !peg) return onPut({ about: v, peg: undefined });
        const { move, turn } = transformOf(peg);
        onPut({ about: 'peg', peg: { move, turn } });
      }}
    />
  );
}

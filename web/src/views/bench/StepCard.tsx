/** One step of a build: its mode, its cutters, its scope, its numbers. */
import { Eye, EyeOff, Trash2 } from 'lucide-react';
import type { Piece } from '@urnsmith/core/document/schema';
import {
  BevelStepSchema,
  NormalsStepSchema,
  SmoothStepSchema,
  STEP_TITLES,
  type BevelStep,
  type CutStep,
  type NormalsStep,
  type SmoothStep,
  type Step,
} from '@urnsmith/core/steps/kinds';
import type { Scope } from '@urnsmith/core/steps/scope';
import { editStep, preview, removeStep } from '../../state/actions';
import { bench } from '../../state/benchSlice';
import { useAct, useApp } from '../../state/store';
import { CheckField, SchemaField, type FieldSchema } from '../../ui/fields';
import { NumberField } from '../../ui/NumberField';
import { Segmented } from '../../ui/Segmented';
import { stepTitle } from './BuildStrip';

interface StepProps<S extends Step> {
  piece: Piece;
  index: number;
  step: S;
}

export function StepCard({ piece, index, step }: StepProps<Step>) {
  const pieces = useApp((s) => s.document.pieces);
  const title = stepTitle(step, pieces);
  return (
    <section aria-label={`Step ${title}`}>
      <div className="head">
        <b>{title}</b>
        <span className={`tag ${step.kind}`}>{STEP_TITLES[step.kind]}</span>
      </div>
      {step.kind === 'cut' && <CutFields piece={piece} index={index} step={step} />}
      {step.kind === 'bevel' && <BevelFields piece={piece} index={index} step={step} />}
      {step.kind === 'smooth' && <SmoothFields piece={piece} index={index} step={step} />}
      {step.kind === 'normals' && <NormalsFields piece={piece} index={index} step={step} />}
      <div className="row2">
        <CheckField
          checked={!step.off}
          onChange={(on) =>
            editStep(piece.id, index, `Switch ${title} ${on ? 'on' : 'off'}`, (s) => ({ ...s, off: !on }))
          }
        >
          in use
        </CheckField>
        <button className="quiet" onClick={() => removeStep(piece.id, index, `Remove ${title}`)}>
          <Trash2 size={13} aria-hidden /> Remove step
        </button>
      </div>
    </section>
  );
}

const withStep = (piece: Piece, index: number, step: Step): Piece => ({
  ...piece,
  steps: piece.steps!.map((s, i) => (i === index ? step : s)),
});

const MODES: Array<{ value: CutStep['mode']; label: string }> = [
  { value: 'subtract', label: 'subtract' },
  { value: 'union', label: 'union' },
  { value: 'intersect', label: 'intersect' },
];

function CutFields({ piece, index, step }: StepProps<CutStep>) {
  const act = useAct();
  const pieces = useApp((s) => s.document.pieces);
  const edit = (label: string, make: (s: CutStep) => CutStep): boolean =>
    editStep(piece.id, index, label, (s) => make(s as CutStep));
  return (
    <>
      <Segmented
        label="Mode"
        className="wide"
        value={step.mode}
        options={MODES}
        onChange={(mode) => edit(`Change the cut to ${mode}`, (s) => ({ ...s, mode }))}
      />
      <ul className="cutters" aria-label="Cutters">
        {step.cutters.map((id) => {
          const name = pieces.find((p) => p.id === id)?.name ?? id;
          const rests = step.resting?.includes(id) ?? false;
          return (
            <li key={id} className={rests ? 'rests' : ''}>
              <button
                className="link"
                title="Select this cutter to edit it"
                onMouseEnter={() => act(bench.hovered(id))}
                onMouseLeave={() => act(bench.hovered(null))}
                onClick={() => act(bench.selected({ ids: [id] }))}
              >
                <i className="ico ghost" /> {name}
              </button>
              <button
                className="flag set"
                aria-pressed={!rests}
                aria-label={`${rests ? 'Switch on' : 'Switch off'} ${name}`}
                onClick={() =>
                  edit(`Switch ${name} ${rests ? 'on' : 'off'}`, (s) => ({
                    ...s,
                    resting: rests ? s.resting!.filter((c) => c !== id) : [...(s.resting ?? []), id],
                  }))
                }
              >
                {rests ? <EyeOff size={12} aria-hidden /> : <Eye size={12} aria-hidden />}
              </button>
              <button
                className="flag"
                aria-label={`Take ${name} out of the cut`}
                disabled={step.cutters.length === 1}
                onClick={() =>
                  edit(`Take ${name} out of the cut`, (s) => ({
                    ...s,
                    cutters: s.cutters.filter((c) => c !== id),
                    resting: s.resting?.filter((c) => c !== id),
                  }))
                }
              >
                ✕
              </button>
            </li>
          );
        })}
      </ul>
      <CheckField
        checked={step.join ?? true}
        onChange={(join) =>
          edit(`Flat neighbours ${join ? 'joined' : 'kept apart'}`, (s) => ({ ...s, join }))
        }
      >
        join flat neighbours
      </CheckField>
    </>
  );
}

function BevelFields({ piece, index, step }: StepProps<BevelStep>) {
  const f = BevelStepSchema.properties;
  const scope: Scope = step.scope ?? { rule: 'sharp', angle: 30 };
  const edit = (label: string, change: Partial<BevelStep>): void => {
    editStep(piece.id, index, label, (s) => ({ ...(s as BevelStep), ...change }));
  };
  const show = (change: Partial<BevelStep>): void =>
    preview({ [piece.id]: withStep(piece, index, { ...step, ...change }) });
  return (
    <>
      <Segmented
        label="Scope"
        className="wide"
        value={scope.rule}
        options={[
          { value: 'rims', label: 'rims', hint: 'Edges made by cuts' },
          { value: 'sharp', label: 'sharp', hint: 'Edges sharper than an angle' },
          { value: 'all', label: 'all', hint: 'Every edge' },
        ]}
        onChange={(rule) =>
          edit(`Round ${rule} edges`, { scope: rule === 'sharp' ? { rule, angle: 30 } : { rule } })
        }
      />
      {scope.rule === 'sharp' && (
        <NumberField
          label="Sharper than"
          value={scope.angle}
          unit="°"
          minimum={0}
          maximum={180}
          onPreview={(angle) => show({ scope: { rule: 'sharp', angle } })}
          onCommit={(angle) => edit('Change the angle', { scope: { rule: 'sharp', angle } })}
        />
      )}
      <SchemaField
        schema={f.width}
        value={step.width}
        step={0.1}
        onPreview={(width) => show({ width })}
        onCommit={(width) => edit('Bevel width', { width })}
      />
      <SchemaField
        schema={f.segments}
        value={step.segments ?? 3}
        onPreview={(segments) => show({ segments })}
        onCommit={(segments) => edit('Bevel segments', { segments })}
      />
      <SchemaField
        schema={f.profile}
        value={step.profile ?? 1}
        step={0.02}
        onPreview={(profile) => show({ profile })}
        onCommit={(profile) => edit('Bevel profile', { profile })}
      />
      <div className="axisNames" aria-hidden>
        <span>−1 scoop</span>
        <span>0 flat</span>
        <span>1 round</span>
        <span>2 square</span>
      </div>
      <CheckField checked={step.clamp ?? true} onChange={(clamp) => edit('Bevel clamp', { clamp })}>
        stop where strips meet
      </CheckField>
    </>
  );
}

function SmoothFields({ piece, index, step }: StepProps<SmoothStep>) {
  const f = SmoothStepSchema.properties;
  const edit = (label: string, change: Partial<SmoothStep>): void => {
    editStep(piece.id, index, label, (s) => ({ ...(s as SmoothStep), ...change }));
  };
  const field = (key: 'levels' | 'exportLevels', initial: number) => (
    <SchemaField
      schema={f[key]}
      value={step[key] ?? initial}
      step={0.05}
      onPreview={(v) => preview({ [piece.id]: withStep(piece, index, { ...step, [key]: v }) })}
      onCommit={(v) => edit((f[key] as FieldSchema).title!, { [key]: v })}
    />
  );
  return (
    <>
      {field('levels', 2)}
      {field('exportLevels', 3)}
      <CheckField
        checked={step.limit ?? false}
        onChange={(limit) => edit(`Limit surface ${limit ? 'on' : 'off'}`, { limit })}
      >
        on the limit surface
      </CheckField>
    </>
  );
}

function NormalsFields({ piece, index, step }: StepProps<NormalsStep>) {
  const f = NormalsStepSchema.properties;
  const edit = (label: string, change: Partial<NormalsStep>): void => {
    editStep(piece.id, index, label, (s) => ({ ...(s as NormalsStep), ...change }));
  };
  const show = (change: Partial<NormalsStep>): void =>
    preview({ [piece.id]: withStep(piece, index, { ...step, ...change }) });
  return (
    <>
      <Segmented
        label="Weight by"
        className="wide"
        value={step.weight ?? 'area'}
        options={[
          { value: 'angle', label: 'angle', hint: 'Corner angle' },
          { value: 'area', label: 'area', hint: 'Face area' },
          { value: 'both', label: 'both', hint: 'Angle times area' },
        ]}
        onChange={(weight) => edit(`Weight normals by ${weight}`, { weight })}
      />
      <SchemaField
        schema={f.hardAngle}
        value={step.hardAngle ?? 40}
        onPreview={(hardAngle) => show({ hardAngle })}
        onCommit={(hardAngle) => edit('Hard angle', { hardAngle })}
      />
      <SchemaField
        schema={f.cutOff}
        value={step.cutOff ?? 0}
        onPreview={(cutOff) => show({ cutOff })}
        onCommit={(cutOff) => edit('Normals cut-off', { cutOff })}
      />
      <CheckField checked={step.rank ?? true} onChange={(rank) => edit('Normals rank', { rank })}>
        large faces lead, strips follow
      </CheckField>
    </>
  );
}

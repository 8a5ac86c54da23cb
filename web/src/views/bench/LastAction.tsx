/** The last action: its numbers stay adjustable until the next one. */
import { clsx } from 'clsx';
import type { Action } from '@urnsmith/core/document/actions';
import type { Piece } from '@urnsmith/core/document/schema';
import { OPERATIONS } from '@urnsmith/core/ops/index';
import { paramsOf, previewActions, retune } from '../../state/elements';
import { useBuilt } from '../../workers/builds';
import { NumberField } from '../../ui/NumberField';
import { Segmented } from '../../ui/Segmented';

interface FieldSchema {
  type?: string;
  title?: string;
  unit?: string;
  minimum?: number;
  maximum?: number;
  items?: { anyOf?: Array<{ const: string }> };
  anyOf?: Array<{ const: string }>;
}

/** Parameters a person does not type: lines drawn, frames taken from the view. */
const HIDDEN = new Set(['lines', 'points', 'eye', 'view', 'frame', 'point', 'surface']);

/** A number shows only while it counts. */
function isShown(key: string, op: string, values: Record<string, unknown>): boolean {
  if (HIDDEN.has(key)) return key === 'point' && op !== 'transform';
  if (key === 'axis') return values.along === 'axis';
  if (op === 'transform' && key === 'lay') return values.surface !== undefined;
  if (op === 'transform' && key === 'direction')
    return values.surface !== undefined && values.lay === 'along';
  if (op === 'transform' && key === 'weld') return values.weld !== 0;
  if (key === 'direction') return values.onto === 'direction';
  if (op === 'transform' && (key === 'falloff' || key === 'along')) return values.reach !== 0;
  if (op === 'slide') return key === 'by' || key === values.by;
  if (op === 'weld' && key === 'distance') return values.to === 'near';
  if (op === 'fill' && key !== 'with') return values.with === 'grid';
  return true;
}

export function LastAction({ piece }: { piece: Piece }) {
  const built = useBuilt(piece.id);
  const action = piece.actions?.at(-1);
  if (!action) return null;
  const operation = OPERATIONS[action.op];
  const said = built?.actions.at(-1);
  const values = paramsOf(action);
  const fields = Object.entries(operation.params.properties as Record<string, FieldSchema>).filter(([k]) =>
    isShown(k, action.op, values),
  );
  return (
    <section className="lastAction" aria-label="Last action">
      <div className="head">
        <b>{operation.title}</b>
        <span className="tag">last action</span>
      </div>
      {fields.map(([key, f]) => (
        <ActionField key={key} piece={piece} action={action} name={key} field={f} />
      ))}
      {said?.report && (
        <p className="dim pad" role="status">
          {said.report} {said.warning}
        </p>
      )}
    </section>
  );
}

interface ActionFieldProps {
  piece: Piece;
  action: Action;
  name: string;
  field: FieldSchema;
}

function ActionField({ piece, action, name, field }: ActionFieldProps) {
  const value = paramsOf(action)[name];
  const title = field.title ?? name;
  const show = (v: unknown): void =>
    previewActions(piece, [...piece.actions!.slice(0, -1), { ...action, [name]: v }]);
  if (field.anyOf && field.anyOf.length > 3)
    return (
      <div className="field">
        <span className="lab">{title}</span>
        <select
          aria-label={title}
          value={value as string}
          onChange={(e) => retune({ [name]: e.currentTarget.value })}
        >
          {field.anyOf.map((o) => (
            <option key={o.const}>{o.const}</option>
          ))}
        </select>
      </div>
    );
  if (field.anyOf)
    return (
      <div className="field">
        <span className="lab">{title}</span>
        <Segmented
          label={title}
          value={value as string}
          options={field.anyOf.map((o) => ({ value: o.const, label: o.const }))}
          onChange={(v) => retune({ [name]: v })}
        />
      </div>
    );
  if (field.type === 'boolean')
    return (
      <label className="check">
        <input
          type="checkbox"
          checked={value as boolean}
          onChange={() => retune({ [name]: !(value as boolean) })}
        />{' '}
        {title}
      </label>
    );
  if (field.items?.anyOf) {
    const chosen = value as string[];
    return (
      <div className="field">
        <span className="lab">{title}</span>
        <div className="seg" role="group" aria-label={title}>
          {field.items.anyOf.map(({ const: m }) => (
            <button
              key={m}
              aria-pressed={chosen.includes(m)}
              className={clsx(chosen.includes(m) && 'on')}
              onClick={() => {
                const next = chosen.includes(m) ? chosen.filter((x) => x !== m) : [...chosen, m];
                // At least one stays.
                if (next.length) retune({ [name]: next });
              }}
            >
              {m}
            </button>
          ))}
        </div>
      </div>
    );
  }
  if (field.type === 'array') {
    const list = value as number[];
    const put = (k: number, x: number): number[] => list.map((y, i) => (i === k ? x : y));
    return (
      <div className="triple" role="group" aria-label={title}>
        <span className="lab">{title}</span>
        {['X', 'Y', 'Z'].map((axis, k) => (
          <NumberField
            key={axis}
            compact
            label={axis}
            value={list[k]}
            quantity={field.unit === 'mm' ? 'length' : field.unit === '°' ? 'angle' : 'number'}
            onPreview={(x) => show(put(k, x))}
            onCommit={(x) => retune({ [name]: put(k, x) })}
          />
        ))}
      </div>
    );
  }
  return (
    <NumberField
      label={title}
      value={value as number}
      quantity={field.unit === 'mm' ? 'length' : field.unit === '°' ? 'angle' : 'number'}
      unit={field.unit || undefined}
      minimum={field.minimum}
      maximum={field.maximum}
      integer={field.type === 'integer'}
      step={field.type === 'integer' ? 0.1 : field.unit === '' ? 0.01 : undefined}
      onPreview={show}
      onCommit={(v) => retune({ [name]: v })}
    />
  );
}

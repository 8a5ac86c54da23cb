/** The numbers of an action as fields: those that count, made from its operation. */
import { memo } from 'react';
import { clsx } from 'clsx';
import type { Action } from '@urnsmith/core/actions/actions';
import { OPERATIONS } from '@urnsmith/core/ops/index';
import type { AnyOperation } from '@urnsmith/core/ops/operation';
import type { Select } from '@urnsmith/core/select/rules';
import { KIND_OF, type ElementKind, type Kinds } from '@urnsmith/core/select/selection';
import { paramsOf } from '../../state/elements';
import {
  CheckField,
  ChoiceField,
  ListField,
  optionsOf,
  RowField,
  SchemaField,
  type FieldSchema,
} from '../../ui/fields';

/** More choices than this do not stand side by side on the Card. */
const MANY = 4;

/** A number shows only while it counts. */
function isShown(key: string, op: AnyOperation, values: Record<string, unknown>): boolean {
  const rule = op.shows?.[key];
  return typeof rule === 'function' ? rule(values as never, kindOf(values.select as Select)) : rule !== false;
}

/** The element kind of an action, as far as its selection tells. */
const kindOf = (s: Select): ElementKind => {
  const word = 'rule' in s ? ('of' in s && s.of) || 'edges' : (Object.keys(s)[0] as Kinds);
  return KIND_OF[word];
};

interface ActionFieldsProps {
  action: Action;
  /** While a hand is at a number. */
  onShow: (change: Record<string, unknown>) => void;
  onPut: (change: Record<string, unknown>) => void;
}

export function ActionFields({ action, ...on }: ActionFieldsProps) {
  const operation = OPERATIONS[action.op];
  const values = paramsOf(action);
  return Object.entries(operation.params.properties as Record<string, FieldSchema>)
    .filter(([k]) => isShown(k, operation, values))
    .map(([key, f]) => (
      <ActionField key={`${action.op}/${key}`} name={key} field={f} value={values[key]} {...on} />
    ));
}

interface ActionFieldProps {
  name: string;
  field: FieldSchema;
  value: unknown;
  onShow: (change: Record<string, unknown>) => void;
  onPut: (change: Record<string, unknown>) => void;
}

/** While an action is dragged, only the numbers that change are laid out again. */
const sameField = (a: ActionFieldProps, b: ActionFieldProps): boolean =>
  a.name === b.name &&
  a.field === b.field &&
  a.onShow === b.onShow &&
  a.onPut === b.onPut &&
  JSON.stringify(a.value) === JSON.stringify(b.value);

const ActionField = memo(function ActionField({ name, field, value, onShow, onPut }: ActionFieldProps) {
  const title = field.title ?? name;
  const show = (v: unknown): void => onShow({ [name]: v });
  const retuned = (v: unknown): void => onPut({ [name]: v });
  if (field.anyOf && optionsOf(field).length > MANY)
    return <ListField label={title} value={value as string} options={optionsOf(field)} onChange={retuned} />;
  if (field.anyOf)
    return (
      <ChoiceField label={title} value={value as string} options={optionsOf(field)} onChange={retuned} />
    );
  if (field.type === 'boolean')
    return (
      <CheckField checked={value as boolean} onChange={retuned}>
        {title}
      </CheckField>
    );
  if (field.type === 'array' && !Array.isArray(field.items) && field.items?.anyOf)
    return (
      <SetField label={title} value={value as string[]} options={optionsOf(field.items)} onChange={retuned} />
    );
  const on = { onPreview: show, onCommit: retuned };
  if (field.type === 'array')
    return (
      <RowField
        label={title}
        names={['X', 'Y', 'Z']}
        values={value as number[]}
        schema={field.items!}
        measure={field.unit}
        {...on}
      />
    );
  return <SchemaField schema={field} label={title} value={value as number} {...on} />;
}, sameField);

interface SetFieldProps {
  label: string;
  value: string[];
  options: string[];
  onChange: (v: string[]) => void;
}

/** Any of a few, at least one. */
function SetField({ label, value, options, onChange }: SetFieldProps) {
  return (
    <div className="field choice">
      <span className="lab">{label}</span>
      <div className="seg" role="group" aria-label={label}>
        {options.map((m) => (
          <button
            key={m}
            aria-pressed={value.includes(m)}
            className={clsx(value.includes(m) && 'on')}
            onClick={() => {
              const next = value.includes(m) ? value.filter((x) => x !== m) : [...value, m];
              if (next.length) onChange(next);
            }}
          >
            {m}
          </button>
        ))}
      </div>
    </div>
  );
}

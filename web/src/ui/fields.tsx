/** Fields of the Card: a choice, a tick, a number or several as a schema describes them. */
import { useId, useState, type ReactNode } from 'react';
import { NumberField, type NumberFieldProps } from './NumberField';
import { Segmented } from './Segmented';

/** The part of a parameter's schema that a field uses. */
export interface FieldSchema {
  type?: string;
  title?: string;
  unit?: string;
  minimum?: number;
  maximum?: number;
  default?: unknown;
  maxLength?: number;
  /** Of a list: one schema for all, or one for each. */
  items?: FieldSchema | FieldSchema[];
  anyOf?: Array<{ const: string }>;
  /** Drawn or read from a file; has no field. */
  drawn?: true;
}

export const optionsOf = (schema: FieldSchema): string[] => schema.anyOf!.map((o) => o.const);

interface ChoiceFieldProps<T extends string> {
  label: string;
  value: T;
  options: ReadonlyArray<T>;
  /** Words for the options, where they are others than their names. */
  names?: Partial<Record<T, string>>;
  onChange: (v: T) => void;
}

/** A choice: as joined buttons for a few options, as a list for many. */
export function ChoiceField<T extends string>({
  label,
  value,
  options,
  names,
  onChange,
}: ChoiceFieldProps<T>) {
  if (options.length > MOST_BUTTONS || names)
    return <ListField {...{ label, value, options, names, onChange }} />;
  return (
    <div className="field choice">
      <span className="lab">{label}</span>
      <Segmented
        label={label}
        value={value}
        options={options.map((o) => ({ value: o, label: WRITTEN[o] ?? o }))}
        onChange={onChange}
      />
    </div>
  );
}
const MOST_BUTTONS = 5;
/** Options that are written in another way than they are stored. */
const WRITTEN: Readonly<Record<string, string>> = { ngon: 'n-gon' };

export function ListField<T extends string>({ label, value, options, names, onChange }: ChoiceFieldProps<T>) {
  return (
    <div className="field">
      <span className="lab">{label}</span>
      <select aria-label={label} value={value} onChange={(e) => onChange(e.currentTarget.value as T)}>
        {options.map((o) => (
          <option key={o} value={o}>
            {names?.[o] ?? WRITTEN[o] ?? o}
          </option>
        ))}
      </select>
    </div>
  );
}

interface CheckFieldProps {
  checked: boolean;
  onChange: (checked: boolean) => void;
  children: ReactNode;
}

export function CheckField({ checked, onChange, children }: CheckFieldProps) {
  return (
    <label className="check">
      <input type="checkbox" checked={checked} onChange={(e) => onChange(e.currentTarget.checked)} />{' '}
      {children}
    </label>
  );
}

interface SchemaFieldProps extends Omit<NumberFieldProps, 'label'> {
  schema: unknown;
  label?: string;
}

/** A number within the limits, in the unit and under the title of its schema. */
export function SchemaField({ schema, label, ...props }: SchemaFieldProps) {
  const { title, unit, minimum, maximum, type } = schema as FieldSchema;
  const integer = type === 'integer';
  return (
    <NumberField
      label={label ?? title ?? ''}
      unit={unit || undefined}
      minimum={minimum}
      maximum={maximum}
      integer={integer}
      step={integer ? 0.1 : unit === '' ? 0.01 : undefined}
      {...props}
    />
  );
}

interface RowFieldProps {
  label: string;
  /** Shown beside the label. */
  unit?: string;
  names: ReadonlyArray<string>;
  values: ReadonlyArray<number>;
  /** One for all, or one for each. */
  schema: FieldSchema | FieldSchema[];
  /** The unit, when the schema of the single number does not name one. */
  measure?: string;
  step?: number;
  refuse?: NumberFieldProps['refuse'];
  /** @param k the one that was changed */
  onPreview: (values: number[], k: number) => void;
  onCommit: (values: number[], k: number) => void;
  /** Handlers for each number that stands for different values. */
  differ?: ReadonlyArray<NumberFieldProps['differ']>;
}

/** Two or three numbers that belong together, in one row. */
export function RowField({
  label,
  unit,
  names,
  values,
  schema,
  measure,
  step,
  refuse,
  differ,
  ...on
}: RowFieldProps) {
  const id = useId();
  // The fault of each number, if any.
  const [faults, setFaults] = useState<Record<number, string | null>>({});
  const fault = Object.values(faults).find(Boolean);
  const put = (k: number, x: number): number[] => values.map((y, i) => (i === k ? x : y));
  return (
    <div
      className="grid grid-cols-[61px_repeat(auto-fit,minmax(48px,1fr))] items-center gap-1 px-3 py-0.5 text-mist"
      role="group"
      aria-label={label}
    >
      <span className="lab whitespace-nowrap">
        {label} {unit && <u className="text-[11px] text-ash no-underline">{unit}</u>}
      </span>
      {values.map((v, k) => {
        const { minimum, maximum, type } = Array.isArray(schema) ? schema[k] : schema;
        return (
          <NumberField
            key={names[k]}
            compact
            label={names[k]}
            value={v}
            measure={measure}
            refuse={refuse}
            differ={differ?.[k]}
            fault={{
              id,
              tell: (text) => setFaults((f) => ((f[k] ?? null) === text ? f : { ...f, [k]: text })),
            }}
            minimum={minimum}
            maximum={maximum}
            integer={type === 'integer'}
            step={step ?? (type === 'integer' ? 0.1 : undefined)}
            onPreview={(x) => on.onPreview(put(k, x), k)}
            onCommit={(x) => on.onCommit(put(k, x), k)}
          />
        );
      })}
      {fault && (
        <p id={id} className="fault col-span-full" role="alert">
          {fault}
        </p>
      )}
    </div>
  );
}

interface TextFieldProps {
  label: string;
  value: string;
  maxLength?: number;
  onPreview: (v: string) => void;
  onCommit: (v: string) => void;
}

/** Words, in one line or several: Enter takes them, Shift with it begins a new line. */
export function TextField({ label, value, maxLength, onPreview, onCommit }: TextFieldProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const id = useId();
  const finish = (v: string | null): void => {
    setTyped(null);
    onCommit(v || value);
  };
  return (
    <div className="field">
      <label className="lab" htmlFor={id}>
        {label}
      </label>
      <textarea
        id={id}
        className="min-w-0 flex-1 resize-none rounded-[6px] bg-ink-2 px-2 py-1 text-porcelain"
        rows={Math.min(6, (typed ?? value).split('\n').length)}
        maxLength={maxLength}
        value={typed ?? value}
        onChange={(e) => {
          setTyped(e.currentTarget.value);
          if (e.currentTarget.value) onPreview(e.currentTarget.value);
        }}
        onBlur={() => typed !== null && finish(typed)}
        onKeyDown={(e) => {
          if (e.key === 'Escape') finish(null);
          if (e.key !== 'Enter' || e.shiftKey) return;
          e.preventDefault();
          finish(typed);
        }}
      />
    </div>
  );
}

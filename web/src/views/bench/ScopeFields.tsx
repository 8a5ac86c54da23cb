/** The scope of a step: a rule, with its own number, mark or name. */
import { LASTING_RULES, type Scope } from '@urnsmith/core/select/rules';
import { ListField, SchemaField, type FieldSchema } from '../../ui/fields';
import { Segmented } from '../../ui/Segmented';

interface ScopeProps {
  label: string;
  /** The word for no scope at all, where that can be. */
  none?: string;
  value: Scope | undefined;
  /** Names of the piece's kept selections. */
  kept: string[];
  /** Titles of the steps before this one, by their names in the piece. */
  earlier: Record<string, string>;
  onShow: (scope: Scope | undefined) => void;
  onPut: (scope: Scope | undefined) => void;
}

/** Rules the Card offers, with their first values; the one in force is shown whatever it is. */
function offered({ kept, earlier }: Pick<ScopeProps, 'kept' | 'earlier'>, now: Scope | null): Scope[] {
  const first = Object.values(LASTING_RULES).flatMap((r): Scope[] => (r.first ? [r.first] : []));
  if (kept.length) first.push({ rule: 'kept', name: kept[0] });
  const last = Object.keys(earlier).at(-1);
  if (last) first.push({ rule: 'made', step: last });
  return now && !first.some((r) => r.rule === now.rule) ? [...first, now] : first;
}

export function ScopeFields({ label, none, value, kept, earlier, onShow, onPut }: ScopeProps) {
  const scope: Scope | null = value ?? (none ? null : { rule: 'sharp', angle: 30 });
  const rules = offered({ kept, earlier }, scope);
  const options = rules.map(({ rule }) => ({
    value: rule as string,
    label: LASTING_RULES[rule].label ?? rule,
    hint: LASTING_RULES[rule].title,
  }));
  const choice = (
    <Segmented
      label={label}
      className="wide"
      value={scope?.rule ?? 'none'}
      options={none ? [{ value: 'none', label: none, hint: 'No edge' }, ...options] : options}
      onChange={(rule) => onPut(rules.find((r) => r.rule === rule))}
    />
  );
  return (
    <>
      {none && <p className="px-3 pt-1">{label}</p>}
      {choice}
      {scope && <p className="dim px-3 pb-1 text-[11.5px]">{LASTING_RULES[scope.rule].title}</p>}
      {scope && <RuleFields scope={scope} kept={kept} earlier={earlier} onShow={onShow} onPut={onPut} />}
    </>
  );
}

const ANY = '';

/** The rule's keys that a person sets here: those with a title. */
function RuleFields({
  scope,
  kept,
  earlier,
  onShow,
  onPut,
}: Pick<ScopeProps, 'kept' | 'earlier' | 'onShow' | 'onPut'> & { scope: Scope }) {
  const keys = Object.entries(LASTING_RULES[scope.rule].schema.properties as Record<string, FieldSchema>);
  const values = scope as unknown as Record<string, unknown>;
  return keys.map(([key, schema]) => {
    if (!schema.title) return null;
    const now = (v: unknown): Scope => {
      const { [key]: _, ...rest } = values;
      return (v === undefined ? rest : { ...rest, [key]: v }) as unknown as Scope;
    };
    const lists: Partial<Record<Scope['rule'], string[]>> = { kept, made: Object.keys(earlier) };
    const options = schema.anyOf?.map((o) => o.const) ?? lists[scope.rule];
    if (options) {
      // A key that may be left out, and has no value then.
      const free = schema.anyOf && !('default' in schema) ? [ANY] : [];
      return (
        <ListField
          key={key}
          label={schema.title}
          value={(values[key] as string | undefined) ?? free[0]}
          options={[...free, ...options]}
          names={scope.rule === 'made' ? earlier : { [ANY]: 'anything' }}
          onChange={(v) => onPut(now(v === ANY ? undefined : v))}
        />
      );
    }
    return (
      <SchemaField
        key={key}
        schema={schema}
        label={schema.title}
        value={(values[key] ?? schema.default) as number}
        onPreview={(v) => onShow(now(v))}
        onCommit={(v) => onPut(now(v))}
      />
    );
  });
}

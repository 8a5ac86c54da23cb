/** The base of a piece: a primitive's dimensions and segment counts. */
import { useScene } from '../../scene/useScene';
import type { Piece } from '@urnsmith/core/document/schema';
import { OPERATIONS } from '@urnsmith/core/ops/index';
import {
  completePrimitive,
  PRIMITIVES,
  primitiveFault,
  type Primitive,
} from '@urnsmith/core/primitives/index';
import { editPiece, preview } from '../../state/actions';
import { bench } from '../../state/benchSlice';
import { roleOf } from '../../state/selectors';
import { ChoiceField, optionsOf, RowField, SchemaField, type FieldSchema } from '../../ui/fields';
import { Segmented } from '../../ui/Segmented';

export function BaseCard({ piece }: { piece: Piece }) {
  const { base } = piece;
  const role = roleOf(piece);
  const title = 'primitive' in base ? PRIMITIVES[base.primitive].title : 'group' in base ? 'Group' : 'Mesh';
  return (
    <>
      <div className="head">
        <b>{piece.name ?? piece.id}</b>
        <span className={`tag ${role}`}>{role === 'solid' ? title : `${title} · ${role}`}</span>
      </div>
      {piece.actions?.length ? (
        <Edited piece={piece} />
      ) : (
        'primitive' in base && <PrimitiveFields piece={piece} base={base as Primitive} />
      )}
      {role !== 'group' && <RoleChoice piece={piece} />}
    </>
  );
}

/** An edited base is a mesh; its actions are told, and can be taken back to the primitive it was. */
function Edited({ piece }: { piece: Piece }) {
  const scene = useScene();
  const actions = piece.actions!;
  return (
    <p className="dim pad">
      Edited by hand in {actions.length} {actions.length === 1 ? 'action' : 'actions'}, the last{' '}
      {OPERATIONS[actions[actions.length - 1].op].title.toLowerCase()}.{' '}
      <button
        className="link"
        onClick={() =>
          editPiece(scene, piece.id, `Undo all edits of ${piece.name}`, ({ actions: _, ...p }) => p)
        }
      >
        Back to the unedited base
      </button>
    </p>
  );
}

function RoleChoice({ piece }: { piece: Piece }) {
  const scene = useScene();
  return (
    <Segmented
      label="Role"
      className="wide"
      value={piece.role ?? 'solid'}
      options={[
        { value: 'solid', label: 'solid' },
        { value: 'cutter', label: 'cutter' },
        { value: 'guide', label: 'guide' },
      ]}
      onChange={(role) => editPiece(scene, piece.id, `Make ${piece.name} a ${role}`, (p) => ({ ...p, role }))}
    />
  );
}

function PrimitiveFields({ piece, base }: { piece: Piece; base: Primitive }) {
  const scene = useScene();
  const full = completePrimitive(base) as Record<string, unknown>;
  const fields = PRIMITIVES[base.primitive].schema.properties as Record<string, FieldSchema>;
  const withKey = (key: string, value: unknown): Piece => ({
    ...piece,
    base: { ...full, [key]: value } as Primitive,
  });
  const commit = (key: string, title: string, value: unknown): void => {
    const next = withKey(key, value);
    const fault = primitiveFault(next.base as Primitive);
    if (fault) {
      preview(scene, null);
      scene.store.dispatch(bench.noticed({ text: fault, tone: 'problem' }));
      return;
    }
    editPiece(scene, piece.id, `${title} of ${piece.name}`, () => next);
  };
  const show = (key: string, value: unknown): void => {
    const next = withKey(key, value);
    if (!primitiveFault(next.base as Primitive)) preview(scene, { [piece.id]: next });
  };
  return (
    <>
      {Object.entries(fields).map(([key, f]) => {
        if (key === 'primitive' || f.drawn) return null;
        const title = f.title ?? key;
        const value = full[key];
        const on = {
          onPreview: (v: unknown) => show(key, v),
          onCommit: (v: unknown) => commit(key, title, v),
        };
        if (f.anyOf)
          return (
            <ChoiceField
              key={key}
              label={title}
              value={value as string}
              options={optionsOf(f)}
              onChange={on.onCommit}
            />
          );
        if (f.type === 'array') {
          const values = value as number[];
          const names = values.length === 3 ? ['X', 'Y', 'Z'] : ['X', 'Z'];
          return <RowField key={key} label={title} names={names} values={values} schema={f.items!} {...on} />;
        }
        return (
          <SchemaField
            key={key}
            schema={f}
            label={title}
            value={value as number}
            step={f.type === 'integer' ? 1 : 0.5}
            {...on}
          />
        );
      })}
    </>
  );
}

/** The base of a piece: a primitive's dimensions and segment counts. */
import { lazy, Suspense } from 'react';
import { useBuilt, useScene } from '../../state/useScene';
import { TakenBaseSchema, type TakenBase } from '@urnsmith/core/primitives/base';
import type { Base, Piece } from '@urnsmith/core/document/schema';
import { originalOf, twinsOf } from '@urnsmith/core/document/twins';
import { formatNumber } from '@urnsmith/core/document/expression';
import { counted } from '@urnsmith/core/ops/operation';
import {
  completePrimitive,
  PRIMITIVES,
  primitiveFault,
  type Primitive,
} from '@urnsmith/core/primitives/index';
import { editPiece, preview } from '../../state/actions';
import { handActions } from '../../state/handSlice';
import { piecesById, roleOf } from '../../state/selectors';
import { useAct, useApp } from '../../state/store';
import { editTogether, previewTogether, sameBase, useSelectedWith } from '../../state/together';
import { cutOf, editHere, makeOwn, selectTwins } from '../../state/twins';
import { ChoiceField, optionsOf, RowField, SchemaField, TextField, type FieldSchema } from '../../ui/fields';
import { Segmented } from '../../ui/Segmented';

const HostChoice = lazy(async () => ({ default: (await import('./HostChoice')).HostChoice }));
const EditList = lazy(async () => ({ default: (await import('./EditList')).EditList }));

export function BaseCard({ piece }: { piece: Piece }) {
  const { base } = piece;
  const role = roleOf(piece);
  return (
    <>
      <div className="head">
        <b>{piece.name ?? piece.id}</b>
        <span className={`tag ${role}`}>
          {role === 'solid' || role === 'group' ? titleOf(base) : `${titleOf(base)} · ${role}`}
        </span>
      </div>
      {'twin' in base && <TwinOf piece={piece} />}
      {'taken' in base && <TakenOutOf piece={piece} base={base} />}
      {piece.actions?.length ? (
        <Edited piece={piece} />
      ) : (
        'primitive' in base && <PrimitiveFields piece={piece} base={base as Primitive} />
      )}
      {role !== 'group' && <RoleChoice piece={piece} />}
      {role === 'cutter' && (
        <Suspense>
          <HostChoice piece={piece} />
        </Suspense>
      )}
    </>
  );
}

function titleOf(base: Base): string {
  if ('primitive' in base) return PRIMITIVES[base.primitive].title;
  if ('group' in base) return 'Group';
  if ('twin' in base) return 'Twin';
  return 'taken' in base ? 'Taken out' : 'Mesh';
}

function TwinOf({ piece }: { piece: Piece }) {
  const scene = useScene();
  const byId = useApp(piecesById);
  const pieces = useApp((s) => s.document.pieces);
  const original = originalOf(byId, piece);
  const others = twinsOf(pieces, piece).length;
  return (
    <>
      <p className="dim pad">
        Shares base and build with {original.name ?? original.id}
        {others > 1 && ` and ${others - 1} other ${others === 2 ? 'twin' : 'twins'}`}. What is edited at one
        of them changes all.
      </p>
      <div className="tools" role="group" aria-label="Twin">
        <button onClick={() => editHere(scene, piece.id)}>Edit here</button>
        <button onClick={() => makeOwn(scene)}>Make its own</button>
        <button onClick={() => selectTwins(scene)}>Select all</button>
      </div>
    </>
  );
}

function TakenOutOf({ piece, base }: { piece: Piece; base: TakenBase }) {
  const scene = useScene();
  const act = useAct();
  const byId = useApp(piecesById);
  const cut = cutOf(byId, base);
  const cutter = base.cutter === undefined ? undefined : byId.get(base.cutter);
  const host = byId.get(base.taken);
  const withClearance = (clearance: number): Piece => ({ ...piece, base: { ...base, clearance } });
  return (
    <>
      <p className="dim pad">
        What {cutter ? (cutter.name ?? cutter.id) : 'a cut'} takes out of {host?.name ?? base.taken}. It
        follows both.{' '}
        {cut && (
          <button
            className="inline px-0.5 py-0 underline"
            onClick={() => {
              act(handActions.selected({ ids: [cut.host.id] }));
              act(handActions.stepChosen(cut.index));
            }}
          >
            Open the cut
          </button>
        )}
      </p>
      <SchemaField
        schema={TakenBaseSchema.properties.clearance as FieldSchema}
        label="Clearance"
        value={base.clearance ?? 0}
        step={0.02}
        onPreview={(v) => preview(scene, { [piece.id]: withClearance(v as number) })}
        onCommit={(v) =>
          editPiece(scene, piece.id, `Clearance of ${piece.name}`, () => withClearance(v as number))
        }
      />
    </>
  );
}

/** An edited base is a mesh; its edits are a list, and can all be taken back to the primitive it was. */
function Edited({ piece }: { piece: Piece }) {
  const scene = useScene();
  const reports = useBuilt(piece.id)?.actions;
  return (
    <>
      <p className="dim pad">
        {counted(piece.actions!.length, 'edit')} by hand.{' '}
        <button
          className="inline px-0.5 py-0 underline"
          onClick={() =>
            editPiece(scene, piece.id, `Undo all edits of ${piece.name}`, ({ actions: _, ...p }) => p)
          }
        >
          Back to the unedited base
        </button>
      </p>
      <Suspense>
        <EditList piece={piece} step={null} reports={reports} />
      </Suspense>
    </>
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

type Values = Record<string, unknown>;
const valuesOf = (p: Piece): Values => completePrimitive(p.base as Primitive) as Values;
const faultOf = (p: Piece): string | null => primitiveFault(p.base as Primitive);

/** The fields of a primitive, for all of its kind that are selected. */
function PrimitiveFields({ piece, base }: { piece: Piece; base: Primitive }) {
  const scene = useScene();
  const all = sameBase(useSelectedWith(piece));
  const fields = PRIMITIVES[base.primitive].schema.properties as Record<string, FieldSchema>;
  const edits = (key: string, title: string, make: (before: unknown) => unknown) => {
    const change = (p: Piece): Piece => {
      const full = valuesOf(p);
      return { ...p, base: { ...full, [key]: make(full[key]) } as Primitive };
    };
    return {
      show: () => previewTogether(scene, all, change, (p) => beyond(fields[key], p, key) ?? faultOf(p)),
      put: () =>
        editTogether(
          scene,
          all,
          `${title} of ${piece.name}`,
          change,
          (p) => beyond(fields[key], p, key) ?? faultOf(p),
        ),
    };
  };
  return (
    <>
      {all.length > 1 && (
        <p className="dim pad">
          {all.length} of a kind: what is typed is for all of them; a drag changes each by as much.
        </p>
      )}
      {Object.entries(fields).map(([key, f]) => {
        if (key === 'primitive' || f.drawn || (key === 'origin' && !PRIMITIVES[base.primitive].foot))
          return null;
        const title = f.title ?? key;
        const value = valuesOf(piece)[key];
        const on = {
          onPreview: (v: unknown) => edits(key, title, () => v).show(),
          onCommit: (v: unknown) => edits(key, title, () => v).put(),
        };
        if (f.type === 'string')
          return (
            <TextField key={key} label={title} value={value as string} maxLength={f.maxLength} {...on} />
          );
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
        const differs = all.some((p) => valuesOf(p)[key] !== value);
        const more = (by: number) => edits(key, title, (v) => Number(((v as number) + by).toFixed(6)));
        return (
          <SchemaField
            key={key}
            schema={f}
            label={title}
            value={value as number}
            step={f.type === 'integer' ? 1 : 0.5}
            {...(differs && {
              differ: {
                onPreview: (by: number) => more(by).show(),
                onCommit: (by: number) => more(by).put(),
              },
            })}
            {...on}
          />
        );
      })}
    </>
  );
}

/** A number that an even change has brought past its limits. */
function beyond(
  { title, unit, minimum = -Infinity, maximum = Infinity }: FieldSchema,
  p: Piece,
  key: string,
): string | null {
  const v = valuesOf(p)[key];
  if (typeof v !== 'number' || (v >= minimum && v <= maximum)) return null;
  return `${title ?? key} would be ${formatNumber(v)}; it is at ${v < minimum ? `least ${formatNumber(minimum)}` : `most ${formatNumber(maximum)}`}${unit ? ` ${unit}` : ''}.`;
}

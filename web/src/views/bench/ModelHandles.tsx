/** Draggable numbers on the model, each with its value beside it: a primitive's dimensions, or those of the step at hand. */
import { lazy, Suspense } from 'react';
import { worldMatrix } from '@urnsmith/core/document/placement';
import type { Piece } from '@urnsmith/core/document/schema';
import type { ModelHandle as Spec } from '@urnsmith/core/handle';
import {
  completePrimitive,
  PRIMITIVES,
  primitiveFault,
  type Primitive,
} from '@urnsmith/core/primitives/index';
import { deeper, depthOf, entryOf } from '@urnsmith/core/document/drawnDepth';
import { IDENTITY } from '@urnsmith/core/mesh/transform';
import { addScaled } from '@urnsmith/core/mesh/vec3';
import type { Pull } from '@urnsmith/core/ops/pulls';
import type { Anchor } from '@urnsmith/core/select/anchor';
import { frameOfStep } from '@urnsmith/core/build/ofPiece';
import { STEPS, type Step } from '@urnsmith/core/steps/index';
import { useBuilt, useScene } from '../../state/useScene';
import { editPiece, preview } from '../../state/actions';
import { activePiece, piecesById } from '../../state/selectors';
import { useApp } from '../../state/store';
import type { Stage } from '../../viewport/Stage';
import { ModelHandle } from '../../hands/ModelHandle';

const FaceHandles = lazy(async () => ({ default: (await import('./FaceHandles')).FaceHandles }));

/** The values handles show, and the piece with other values; null where that is not possible. */
interface Target {
  values: Readonly<Record<string, unknown>>;
  properties: Readonly<Record<string, unknown>>;
  handles: ReadonlyArray<Spec>;
  changed(change: Record<string, unknown>): Piece | null;
}

export function ModelHandles({ stage }: { stage: Stage }) {
  const piece = useApp(activePiece);
  const shown = useApp((s) => s.hand.tool === 'select' && s.hand.selected.length === 1);
  const step = useApp((s) => s.hand.step);
  const byId = useApp(piecesById);
  const built = useBuilt(piece?.id ?? null);
  if (!shown || !piece || piece.locked) return null;
  const report = built?.display?.steps.find((r) => r.index === step);
  const target = step === null ? primitiveOf(piece) : stepOf(byId, piece, step, report?.pulls ?? []);
  return (
    <>
      {target?.handles.map((handle) => (
        <OfTarget key={`${step} ${handle.key} ${handle.label}`} {...{ stage, piece, target, handle }} />
      ))}
      {step === null && piece.role === 'cutter' && (
        <Suspense>
          <FaceHandles stage={stage} piece={piece} />
        </Suspense>
      )}
    </>
  );
}

function primitiveOf(piece: Piece): Target | null {
  if (piece.actions?.length || !('primitive' in piece.base)) return null;
  const base = completePrimitive(piece.base as Primitive);
  const kind = PRIMITIVES[base.primitive];
  const entry = entryOf(piece);
  const reached = entry && depthOf(piece, entry);
  const depth =
    entry && reached !== null && 'height' in base && !piece.reach
      ? depthHandle(piece, entry, base, reached)
      : null;
  return {
    values: { ...base },
    properties: kind.schema.properties,
    handles: kind
      .handles(base)
      .flatMap((h) => (h.key !== 'height' ? [h] : depth ? [depth.handle] : piece.reach ? [] : [h])),
    changed(change) {
      if (depth && 'height' in change) return depth.changed(change.height as number);
      const next = { ...base, ...change } as Primitive;
      return primitiveFault(next) ? null : { ...piece, base: next };
    },
  };
}

/** The depth of a cutter under its face, pulled at its lower end, in place of its whole height. */
function depthHandle(
  piece: Piece,
  entry: Anchor,
  { height, origin }: { height: number; origin: string },
  depth: number,
): { handle: Spec; changed(height: number): Piece | null } {
  const stretch = Math.abs(piece.transform?.size?.[1] ?? 1);
  return {
    handle: {
      key: 'height',
      label: 'deep',
      at: [0, origin === 'foot' ? 0 : -height / 2, 0],
      along: [0, -1, 0],
      rate: stretch,
      derived: { value: depth, put: (v) => ({ height: height + (v - depth) / stretch }) },
    },
    changed: (next) => deeper(piece, entry, (next - height) * stretch),
  };
}

/** @param pulls of the step where it was last built */
function stepOf(
  byId: ReadonlyMap<string, Piece>,
  piece: Piece,
  index: number,
  pulls: ReadonlyArray<Pull>,
): Target | null {
  const step = piece.steps?.[index];
  const kind = step && STEPS[step.kind];
  if (!step || step.off || !kind) return null;
  const values: Readonly<Record<string, unknown>> = { ...step };
  const properties = kind.schema.properties as Readonly<Record<string, NumberSchema>>;
  const pulled = pulls.map(({ key, zero, along, rate }): Spec => {
    const value = (values[key] ?? properties[key].default ?? 0) as number;
    const label = (properties[key].title ?? key).toLowerCase();
    return { key, label, along, rate, at: rate ? addScaled(zero, along, value / rate) : zero };
  });
  return {
    values,
    properties,
    handles: [
      ...(kind.handles?.(step as never, frameOfStep(byId, piece.id, step) ?? IDENTITY) ?? []),
      ...pulled,
    ],
    changed: (change) => ({
      ...piece,
      steps: piece.steps!.map((s, i) => (i === index ? ({ ...s, ...change } as Step) : s)),
    }),
  };
}

/** The part of a number's schema that a handle goes by. */
export interface NumberSchema {
  title?: string;
  type?: string;
  unit?: string;
  minimum?: number;
  maximum?: number;
  default?: number;
}

function OfTarget(p: { stage: Stage; piece: Piece; target: Target; handle: Spec }) {
  const scene = useScene();
  const { stage, piece, target, handle } = p;
  const { at, along, rate, label, derived } = handle;
  const schema = target.properties[handle.key] as NumberSchema;
  const title = `${label} of ${piece.name}`;
  const name = title.replace(/^./, (c) => c.toUpperCase());
  const changed = (v: number): Piece | null => target.changed(derived?.put(v) ?? { [handle.key]: v });
  return (
    <ModelHandle
      {...{ stage, label, title, at, along, rate }}
      piece={piece.id}
      frame={() => worldMatrix(piecesById(scene.store.getState()), piece.id)}
      value={derived?.value ?? (target.values[handle.key] as number | undefined) ?? schema.default ?? 0}
      unit={derived ? 'mm' : schema.unit}
      minimum={derived ? 0.001 : (schema.minimum ?? 0.001)}
      maximum={derived ? undefined : schema.maximum}
      whole={schema.type === 'integer'}
      onShow={(v) => {
        const next = changed(v);
        if (next) preview(scene, { [piece.id]: next });
        return next !== null;
      }}
      onPut={(v) => {
        const next = v === null ? null : changed(v);
        if (next) editPiece(scene, piece.id, name, () => next);
        else preview(scene, null);
      }}
    />
  );
}

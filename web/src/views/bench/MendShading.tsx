/** The move that mends a piece's shading, with what it comes to. */
import { useEffect, useState } from 'react';
import type { Piece } from '@urnsmith/core/document/schema';
import { counted } from '@urnsmith/core/ops/operation';
import type { Display } from '@urnsmith/core/build/display';
import type { Measured, Repair } from '@urnsmith/core/build/repair';
import { leans, percent } from '@urnsmith/core/build/verdict';
import { addStep, editStep } from '../../state/actions';
import { useScene } from '../../state/useScene';
import { useLookedAt } from '../../ui/useLookedAt';

/** The move that mends it, tried out and measured on what is built. */
export function MendShading({ piece, display }: { piece: Piece; display: Display }) {
  const scene = useScene();
  const [tried, setTried] = useState<{ on: Display; repair: Repair | null } | null>(null);
  const [place, lookedAt] = useLookedAt<HTMLParagraphElement>(display);
  useEffect(() => {
    if (!lookedAt) return;
    let gone = false;
    void scene.builds
      .askAside(piece.id, { kind: 'repair' }, () => !gone)
      .then((reply) => {
        if (reply) setTried({ on: display, repair: 'repair' in reply ? reply.repair : null });
      });
    return () => {
      gone = true;
    };
    // Tried anew for every result that is looked at.
  }, [scene, piece.id, display, lookedAt]);
  if (tried?.on !== display)
    return (
      <p className="dim pad" ref={place}>
        Looking for a repair…
      </p>
    );
  const { repair } = tried;
  if (!repair) return <p className="dim pad">No step improves it: {whatHelps(piece)}.</p>;
  const { before, after, step, instead } = repair;
  const label = `Repair the shading of ${piece.name}`;
  return (
    <div className="row2">
      <span className="dim">
        {titleOf(step)}: {left(before)} → {after.verdict.clean ? 'nothing' : left(after)}
      </span>
      <button
        className="btn"
        onClick={() =>
          instead === null
            ? addStep(scene, piece.id, step, label)
            : void editStep(scene, piece.id, instead, label, (s) => ({ ...s, ...step }))
        }
      >
        Repair
      </button>
    </div>
  );
}

/** Advice for shading that no step improves. */
const whatHelps = (piece: Piece): string =>
  piece.steps?.some((s) => s.kind === 'bevel')
    ? 'more segments on its roundings or more sides on its base would'
    : 'more sides on its base would';

const titleOf = (step: Repair['step']): string =>
  step.kind === 'cast' ? 'Cast' : step.weight === 'built' ? 'As built' : `Hard over ${step.hardAngle}°`;

/** A short summary of the faults. */
const left = (m: Measured): string => {
  const faults = m.faults.reduce((n, f) => n + f.count, 0);
  return (
    [
      ...(leans(m) ? [`${percent(m.over2)} over 2°`] : []),
      ...(faults ? [counted(faults, 'fault')] : []),
    ].join(', ') || 'nothing'
  );
};

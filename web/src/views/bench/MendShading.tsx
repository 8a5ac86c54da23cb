/** The move that mends a piece's shading, with what it comes to. */
import { useEffect, useState } from 'react';
import type { Piece } from '@urnsmith/core/document/schema';
import { counted } from '@urnsmith/core/ops/operation';
import type { StepOfKind } from '@urnsmith/core/steps/index';
import type { Display } from '@urnsmith/core/build/display';
import type { Help, Measured, Repair } from '@urnsmith/core/build/repair';
import { leans, percent } from '@urnsmith/core/build/verdict';
import { addStep, editStep } from '../../state/actions';
import { useScene } from '../../state/useScene';
import { useLookedAt } from '../../ui/useLookedAt';

/** The move that mends it, tried out and measured on what is built. */
export function MendShading({ piece, display }: { piece: Piece; display: Display }) {
  const scene = useScene();
  const [tried, setTried] = useState<{ on: Display; repair: Repair | null; helps: Help } | null>(null);
  const [place, lookedAt] = useLookedAt<HTMLParagraphElement>(display);
  useEffect(() => {
    if (!lookedAt) return;
    let gone = false;
    void scene.builds
      .askAside(piece.id, { kind: 'repair' }, () => !gone)
      .then((reply) => {
        if (!reply) return;
        const { repair, helps } = 'repair' in reply ? reply : { repair: null, helps: null };
        setTried({ on: display, repair, helps: helps ?? 'marks' });
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
  if (!repair) return <p className="dim pad">{HELP[tried.helps]}</p>;
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
const HELP: Record<Help, string> = {
  segments: 'No shading step improves it. Its roundings need more segments.',
  sides: 'No shading step improves it. Its base or its cutters need more sides.',
  marks:
    'No shading step improves it. Mark the edges between its surfaces hard, or hold the normals of the faces that are lit.',
};

const titleOf = (step: Repair['step']): string => {
  if (step.kind === 'cast') return 'Cast';
  if (step.kind === 'marks') return `${counted(picksIn(step.scope), 'edge')} marked hard`;
  if (step.weight !== 'built') return `Hard over ${step.hardAngle}°`;
  return step.held === 'replace' ? 'As built, held normals let go' : 'As built';
};

const picksIn = (scope: StepOfKind<'marks'>['scope']): number =>
  scope && 'picks' in scope ? scope.picks.length : 0;

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

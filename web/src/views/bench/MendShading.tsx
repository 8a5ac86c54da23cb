/** The move that mends a piece's shading, with what it comes to. */
import { useEffect, useState } from 'react';
import type { Piece } from '@urnsmith/core/document/schema';
import { counted } from '@urnsmith/core/ops/operation';
import type { Display } from '@urnsmith/core/build/display';
import { faultsIn, type Repair } from '@urnsmith/core/build/repair';
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
  if (!repair) return <p className="dim pad">No step improves it.</p>;
  const { before, after, step } = repair;
  const old = piece.steps?.findIndex((s) => s.kind === step.kind && !s.off) ?? -1;
  return (
    <div className="row2">
      <span className="dim">
        {before.faces > 0
          ? `${counted(before.faces, 'face')} wrong → ${after.faces || 'none'}`
          : `${counted(faultsIn(before), 'fault')} → ${faultsIn(after) || 'none'}`}
      </span>
      <button
        className="btn"
        onClick={() =>
          old < 0
            ? addStep(scene, piece.id, step, `Repair the shading of ${piece.name}`)
            : void editStep(scene, piece.id, old, `Repair the shading of ${piece.name}`, (s) => ({
                ...s,
                ...step,
              }))
        }
      >
        Repair
      </button>
    </div>
  );
}

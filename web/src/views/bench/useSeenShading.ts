/** Loads the shading faults of a piece once its place on the Card is in view. */
import { useEffect, useState, type RefObject } from 'react';
import type { Piece } from '@urnsmith/core/document/schema';
import type { Display } from '@urnsmith/core/build/display';
import { hintActions } from '../../state/hintSlice';
import { knownShading, seeShading } from '../../state/seenShading';
import { useScene } from '../../state/useScene';
import { useLookedAt } from '../../ui/useLookedAt';
import type { SeenShading } from '../../workers/questions/aside/shading';

/** @returns what must be in view for it, and what is seen of this result */
export function useSeenShading<E extends Element>(
  piece: Piece,
  display: Display,
): [RefObject<E | null>, SeenShading | null] {
  const scene = useScene();
  const [seen, setSeen] = useState<{ on: Display; is: SeenShading | null } | null>(null);
  const [place, lookedAt] = useLookedAt<E>(display);
  useEffect(() => {
    if (!lookedAt) return;
    let gone = false;
    void seeShading(scene, piece.id, display, () => !gone).then((is) => {
      if (!gone) setSeen({ on: display, is });
    });
    return () => {
      gone = true;
      scene.store.dispatch(hintActions.faultPointed(null));
    };
  }, [scene, piece.id, display, lookedAt]);
  return [place, seen?.on === display ? seen.is : (knownShading(display) ?? null)];
}

/** How a cutter stands on the face it goes in by, with what runs around that face. */
import { useMemo } from 'react';
import type { Piece } from '@urnsmith/core/document/schema';
import { standingOf, type Standing } from '../../hands/standsOn';
import { hostOf } from '../../state/anchors';
import { useFaceSides } from '../../state/faceSides';
import { piecesById } from '../../state/selectors';
import { useApp } from '../../state/store';
import { useBuilt } from '../../state/useScene';

export function useStanding(piece: Piece | null): Standing | null {
  const byId = useApp(piecesById);
  const sides = useFaceSides(piece);
  const positions = useBuilt(piece?.id ?? null)?.display?.positions;
  return useMemo(() => {
    const host = piece && hostOf(byId, piece);
    return host && sides && positions ? standingOf(byId, piece, host, sides, positions) : null;
  }, [byId, piece, sides, positions]);
}

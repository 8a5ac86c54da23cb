/** The sides of the face that a cutter holds to, as the host is before the cut; asked once per state of the host. */
import { useEffect, useState } from 'react';
import { entryOf } from '@urnsmith/core/document/drawnDepth';
import type { Piece } from '@urnsmith/core/document/schema';
import type { FaceSides } from '@urnsmith/core/select/faceSides';
import { inLaneOrder, STEPS } from '@urnsmith/core/steps/index';
import { hostOf } from './anchors';
import { piecesById } from './selectors';
import { useApp } from './store';
import { useBuilt, useScene } from './useScene';

/** @returns null while it is not known, and where the piece holds to no face it goes in by */
export function useFaceSides(piece: Piece | null): FaceSides | null {
  const scene = useScene();
  const byId = useApp(piecesById);
  const host = piece && hostOf(byId, piece);
  const display = useBuilt(host?.id ?? null)?.display;
  const target = piece ? entryOf(piece)?.to[0] : undefined;
  const asked = host && target && display ? JSON.stringify([host.id, piece.id, target.picks]) : null;
  const [found, setFound] = useState<{ asked: string; sides: FaceSides | null } | null>(null);
  useEffect(() => {
    if (!asked || !host || !target) return;
    const upTo = inLaneOrder(host.steps ?? []).findIndex((s) =>
      STEPS[s.kind].operands?.(s as never).includes(piece.id),
    );
    if (upTo < 0) return;
    let wanted = true;
    void scene.builds.ask(host.id, { kind: 'sides', upTo, on: { target } }).then((reply) => {
      if (wanted && reply && 'sides' in reply) setFound({ asked, sides: reply.sides });
    });
    return () => {
      wanted = false;
    };
    // `asked` names the host, the cutter and the face; `display` changes with the host.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [asked, display, scene]);
  return found && found.asked === asked ? found.sides : null;
}

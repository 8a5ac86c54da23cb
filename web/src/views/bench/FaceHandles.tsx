/** The distances of a cutter to the sides of the face it goes in by, on the model. */
import type { Piece } from '@urnsmith/core/document/schema';
import { SideHandles } from '../../hands/SideHandles';
import { shiftedOnFace } from '../../hands/standsOn';
import { editPiece } from '../../state/actions';
import { piecesById } from '../../state/selectors';
import { useApp } from '../../state/store';
import { useScene } from '../../state/useScene';
import type { Stage } from '../../viewport/Stage';
import { useStanding } from './useStanding';

export function FaceHandles({ stage, piece }: { stage: Stage; piece: Piece }) {
  const scene = useScene();
  const byId = useApp(piecesById);
  const standing = useStanding(piece);
  if (!standing) return null;
  const { frame, distances } = standing;
  const name = piece.name ?? piece.id;
  return (
    <SideHandles
      {...{ stage, frame, distances }}
      piece={piece.id}
      of={name}
      onShift={(axis, by, side) =>
        editPiece(scene, piece.id, `Distance of ${name} from the ${side}`, () =>
          shiftedOnFace(byId, piece, frame, axis, by),
        )
      }
    />
  );
}

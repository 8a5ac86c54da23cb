/** The Card while a piece is placed again: how it is turned, and how many were set down. */
import { useScene } from '../state/useScene';
import { sideDistances } from '../hands/cutState';
import { FaceFields } from '../hands/FaceFields';
import { endPlaceAgain, radiusOf, setRadius, setTurn, shiftPlaced } from '../hands/placeAgain';
import { piecesById } from '../state/selectors';
import type { ModeOf } from '../state/mode';
import { useApp } from '../state/store';
import { NumberField } from '../ui/NumberField';

export function PlaceCard({ mode: placing }: { mode: ModeOf<'place'> }) {
  const scene = useScene();
  const name = useApp((s) =>
    placing.piece === null ? 'Hole' : (piecesById(s).get(placing.piece)?.name ?? placing.piece),
  );
  return (
    <section aria-label="Place again">
      <div className="head">
        <b>{name}</b>
        <span className="tag">
          {placing.piece === null ? 'place' : placing.moves ? 'seat' : 'place again'}
        </span>
      </div>
      <p className="dim pad" role="status">
        Click a face to set it down. {placing.placed ? `${placing.placed} set down.` : ''}
      </p>
      {placing.piece === null && (
        <NumberField
          label="Radius"
          value={placing.radius ?? Number(radiusOf(placing).toFixed(4))}
          unit="mm"
          minimum={0.001}
          maximum={100000}
          onCommit={(radius) => setRadius(scene, radius)}
        />
      )}
      <NumberField
        label="Turn"
        value={placing.turn}
        unit="°"
        minimum={0}
        maximum={360}
        step={1}
        onCommit={(turn) => setTurn(scene, turn)}
      />
      {placing.at && placing.face?.sides && (
        <FaceFields
          title="On the face"
          frame={placing.at.frame}
          sides={placing.face.sides}
          middle={placing.at.place}
          distances={sideDistances(placing.face.sides, placing.at.place, [0, 0])}
          onShift={(axis, by) => shiftPlaced(scene, axis, by)}
        />
      )}
      <div className="row2">
        <button onClick={() => endPlaceAgain(scene)}>Done</button>
      </div>
    </section>
  );
}

/** The rims a scope takes: of all cuts, or of listed cutters, which are added and removed by clicks on the model. */
import { clsx } from 'clsx';
import { X } from 'lucide-react';
import type { Piece } from '@urnsmith/core/document/schema';
import type { Scope } from '@urnsmith/core/select/rules';
import { endRims, takeRims, toggleRimsOf } from '../../state/rims';
import { hintActions } from '../../state/hintSlice';
import { piecesById } from '../../state/selectors';
import { useAct, useApp } from '../../state/store';
import { useScene } from '../../state/useScene';
import { PieceIcon } from './PieceIcon';
import { modeIn } from '../../state/mode';

/** With more cutters than this, the list scrolls. */
const MANY = 6;

interface RimFieldsProps {
  piece: Piece;
  step: number;
  field: string;
  scope: Extract<Scope, { rule: 'rims' }>;
}

export function RimFields({ piece, step, field, scope }: RimFieldsProps) {
  const scene = useScene();
  const act = useAct();
  const byId = useApp(piecesById);
  const choosing = useApp((s) => modeIn(s, 'rims')?.key === field);
  const cutters = scope.cutters ?? [];
  const of = { piece: piece.id, step, key: field };
  const nameOf = (id: string): string => byId.get(id)?.name ?? id;
  return (
    <div className="px-3 pt-0.5 pb-1" data-rims={cutters.length}>
      <p className="dim">
        {cutters.length ? 'Of these cutters only:' : 'Of all cuts.'}{' '}
        <button
          className="inline px-0.5 py-0 underline"
          onClick={() => (choosing ? endRims(scene) : takeRims(scene, of))}
        >
          {choosing ? 'Done' : 'Choose on the model'}
        </button>
      </p>
      {choosing && (
        <p className="dim" role="status">
          Click a rim or its wall; again to leave it out.
        </p>
      )}
      {cutters.length > 0 && (
        <ul className={clsx(cutters.length > MANY && 'max-h-44 overflow-y-auto')} aria-label="Rims of">
          {cutters.map((id) => (
            <li
              key={id}
              className="mb-0.75 flex items-center gap-1.5 rounded-[6px] bg-ink-2 px-2 py-0.5"
              onMouseEnter={() => act(hintActions.hovered(id))}
              onMouseLeave={() => act(hintActions.hovered(null))}
            >
              <PieceIcon role="cutter" />
              <span className="min-w-0 flex-1 truncate">{nameOf(id)}</span>
              <button
                className="quiet"
                aria-label={`Leave out the rims of ${nameOf(id)}`}
                onClick={() => toggleRimsOf(scene, of, id, nameOf(id))}
              >
                <X size={13} aria-hidden />
              </button>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

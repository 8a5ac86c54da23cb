/** Lists the faults of shading and UVs in a piece, with their count, size and place. */
import { useState } from 'react';
import { ChevronLeft, ChevronRight, TriangleAlert } from 'lucide-react';
import type { Piece } from '@urnsmith/core/document/schema';
import { degrees, faultWords } from '@urnsmith/core/build/verdict';
import { counted } from '@urnsmith/core/ops/operation';
import { hintActions } from '../../state/hintSlice';
import { useAct } from '../../state/store';
import { useScene } from '../../state/useScene';
import type { SeenShading } from '../../workers/questions/aside/shading';
import { bringIntoView } from './bringIntoView';

export function ShadingFaults({ piece, seen }: { piece: Piece; seen: SeenShading }) {
  const scene = useScene();
  const act = useAct();
  return (
    <>
      {seen.places.length > 0 && <Places piece={piece} seen={seen} />}
      {seen.faults.length > 0 && (
        <ul className="m-0 list-none px-1.5 py-0.5" aria-label="Faults of shading">
          {seen.faults.map((f) => (
            <li key={f.kind} data-fault-kind={f.kind}>
              <button
                className="quiet flex w-full items-start gap-1.5 px-1.5 py-1 text-left text-[12px] leading-[1.35] whitespace-normal"
                onPointerEnter={() => act(hintActions.faultPointed(f.kind))}
                onPointerLeave={() => act(hintActions.faultPointed(null))}
                onFocus={() => act(hintActions.faultPointed(f.kind))}
                onBlur={() => act(hintActions.faultPointed(null))}
                onClick={() => bringIntoView(scene, piece, f.lines)}
              >
                <TriangleAlert className="mt-0.5 flex-none text-ember" size={12} aria-hidden />
                {faultWords(f)}
              </button>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

/** Places where the shading leans, walked one by one. */
function Places({ piece, seen: { places } }: { piece: Piece; seen: SeenShading }) {
  const scene = useScene();
  const act = useAct();
  const [at, setAt] = useState<number | null>(null);
  const here = at === null ? null : places[Math.min(at, places.length - 1)];
  const go = (by: number): void => {
    const next = at === null ? (by > 0 ? 0 : places.length - 1) : (at + by + places.length) % places.length;
    setAt(next);
    act(hintActions.faultPointed(next));
    bringIntoView(scene, piece, places[next].lines);
  };
  return (
    <div className="row2" role="group" aria-label="Places where the shading leans">
      <button className="quiet" aria-label="The place before" onClick={() => go(-1)}>
        <ChevronLeft size={14} aria-hidden />
      </button>
      <span className="dim" aria-live="polite">
        {here
          ? `${at! + 1} of ${places.length}: ${counted(here.faces, 'face')}, ${degrees(here.worst)} at most`
          : counted(places.length, 'place')}
      </span>
      <button className="quiet" aria-label="The next place" onClick={() => go(1)}>
        <ChevronRight size={14} aria-hidden />
      </button>
    </div>
  );
}

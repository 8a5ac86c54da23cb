/** Other faults of shading and UVs than drift: how many of each, how far they are off, and where. */
import { useEffect, useState } from 'react';
import { TriangleAlert } from 'lucide-react';
import type { Piece } from '@urnsmith/core/document/schema';
import { formatNumber } from '@urnsmith/core/document/expression';
import { counted } from '@urnsmith/core/ops/operation';
import { MENDED } from '@urnsmith/core/build/repair';
import type { ShadingFaultKind } from '@urnsmith/core/shading/faults';
import type { Display } from '@urnsmith/core/build/display';
import { useScene } from '../../state/useScene';
import { useLookedAt } from '../../ui/useLookedAt';
import { hintActions } from '../../state/hintSlice';
import { findFaults } from '../../state/shadingFaults';
import { useAct } from '../../state/store';
import type { SeenFault } from '../../workers/questions/aside/shadingFaults';
import { bringIntoView } from './bringIntoView';
import { MendShading } from './MendShading';

const WORDS: Record<ShadingFaultKind, (n: number, off: string) => string> = {
  lie: (n, off) => `${counted(n, 'face')} shaded as if seen from behind: up to ${off} off`,
  break: (n, off) => `${counted(n, 'edge')} of one surface where the shading breaks, by up to ${off}`,
  ripple: (n, off) =>
    `${counted(n, 'face')} with a dent in the gloss that is not in the surface, up to ${off}`,
  leak: (n, off) => `${counted(n, 'face')} beside cuts and roundings shaded unlike before, by up to ${off}`,
  seam: (n) => `${counted(n, 'hard edge')} without a UV seam: a baked map bleeds there`,
  mirrored: (n) => `${counted(n, 'face')} with mirrored UVs`,
  flat: (n) => `${counted(n, 'face')} whose UVs have no area`,
};
const mendable = (kind: ShadingFaultKind): boolean =>
  (MENDED as ReadonlyArray<ShadingFaultKind>).includes(kind);

export function ShadingFaults({ piece, display }: { piece: Piece; display: Display }) {
  const scene = useScene();
  const act = useAct();
  const [seen, setSeen] = useState<{ on: Display; faults: SeenFault[] } | null>(null);
  const [place, lookedAt] = useLookedAt<HTMLDivElement>(display);
  useEffect(() => {
    if (!lookedAt) return;
    let gone = false;
    void findFaults(scene, piece.id, display, () => !gone).then((faults) => {
      if (!gone) setSeen({ on: display, faults });
    });
    return () => {
      gone = true;
      scene.store.dispatch(hintActions.faultPointed(null));
    };
  }, [scene, piece.id, display, lookedAt]);
  const faults = seen?.on === display ? seen.faults : [];
  if (!faults.length) return <div ref={place} className="h-px" />;
  const mends = display.shading?.facesOver === 0 && faults.some((f) => mendable(f.kind));
  return (
    <>
      <ul className="m-0 list-none px-1.5 py-0.5" aria-label="Faults of shading">
        {faults.map((f) => (
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
              {WORDS[f.kind](f.count, `${formatNumber(Number(f.worst.toFixed(1)))}°`)}
            </button>
          </li>
        ))}
      </ul>
      {mends && <MendShading piece={piece} display={display} />}
    </>
  );
}

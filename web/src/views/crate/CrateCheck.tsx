/** Faults left in the packed pieces, each with its remedy beside it. */
import { useEffect, useState } from 'react';
import type { Piece } from '@urnsmith/core/document/schema';
import { counted } from '@urnsmith/core/ops/operation';
import type { Display } from '@urnsmith/core/build/display';
import { stepTitle } from '../../state/beads';
import { MendShading } from '../bench/MendShading';
import { knownShading, knownUnsound, seeShading, seeUnsound } from '../../state/seenShading';
import type { SeenShading } from '../../workers/questions/aside/shading';
import type { Unsound } from '../../workers/questions/aside/soundness';
import { handActions } from '../../state/handSlice';
import { useAct, useApp } from '../../state/store';
import { useScene } from '../../state/useScene';

interface Left {
  key: string;
  piece: Piece;
  text: string;
  /** Of a step that is to be looked at. */
  step?: number;
  /** Its shading can be mended from here. */
  shading?: Display;
}

/** Most that are told at once. */
const MOST = 20;

function leftOf(
  piece: Piece,
  display: Display,
  seen: SeenShading | undefined,
  unsound: Unsound | undefined,
  pieces: Piece[],
): Left[] {
  const out: Left[] = [];
  for (const r of display.steps) {
    const step = piece.steps?.[r.index];
    if (!step || step.off) continue;
    const title = stepTitle(step, pieces);
    if (r.fault)
      out.push({ key: `${piece.id}/${r.index}`, piece, step: r.index, text: `${title} cannot act.` });
    else if (r.warnings?.length)
      out.push({
        key: `${piece.id}/${r.index}`,
        piece,
        step: r.index,
        text: `${title}: ${r.warnings[0].message}`,
      });
  }
  const { openEdges } = display.solid;
  if (openEdges > 0)
    out.push({
      key: `${piece.id}/open`,
      piece,
      text: `${counted(openEdges, 'open edge')}: it is not a closed solid.`,
    });
  for (const f of unsound ?? [])
    out.push({
      key: `${piece.id}/${f.code}`,
      piece,
      text: `${f.message[0].toUpperCase()}${f.message.slice(1)} (${f.count} ×). Undo or change what made it.`,
    });
  if (seen && !seen.verdict.clean)
    out.push({ key: `${piece.id}/shading`, piece, text: seen.verdict.says, shading: display });
  return out;
}

/** Has all that is built looked at, one piece after the other. @returns whether all of it was */
function useAllLookedAt(pieces: Piece[], displays: Array<Display | null | undefined>): boolean {
  const scene = useScene();
  const [, more] = useState(0);
  const open = pieces.findIndex(
    (_, i) => displays[i]?.shading && !(knownShading(displays[i]) && knownUnsound(displays[i])),
  );
  const id = pieces[open]?.id;
  const display = displays[open];
  useEffect(() => {
    let gone = false;
    if (display)
      void seeShading(scene, id, display, () => !gone)
        .then((seen) => seen && seeUnsound(scene, id, display, () => !gone))
        .then((known) => {
          if (!gone && known) more((n) => n + 1);
        });
    return () => {
      gone = true;
    };
  }, [scene, id, display]);
  return open < 0 && displays.every((d) => d);
}

export function CrateCheck({ pieces }: { pieces: Piece[] }) {
  const scene = useScene();
  const act = useAct();
  const all = useApp((s) => s.document.pieces);
  const id = useApp((s) => s.document.id);
  const displays = pieces.map((p) => scene.builds.get(p.id)?.display);
  const whole = useAllLookedAt(pieces, displays);
  const left = pieces.flatMap((p, i) => {
    const display = displays[i];
    return display ? leftOf(p, display, knownShading(display), knownUnsound(display), all) : [];
  });
  const open = (l: Left): void => {
    act(handActions.levelTaken('piece'));
    act(handActions.selected({ ids: [l.piece.id] }));
    act(handActions.stepChosen(l.step ?? null));
    scene.goTo(`/scene/${id}/bench`);
  };
  return (
    <>
      <div className="head sub">
        <b>Left to mend</b>
        {!whole && <span className="dim">being looked at…</span>}
        {whole && left.length === 0 && <span className="ok">✓ nothing</span>}
      </div>
      <ul className="grid gap-1.5">
        {left.slice(0, MOST).map((l) => (
          <li key={l.key} className="px-3" data-left={l.key}>
            <div className="flex items-baseline gap-2">
              <b className="min-w-0 truncate font-semibold">{l.piece.name ?? l.piece.id}</b>
              <button
                className="ml-auto flex-none px-1 py-0 underline"
                aria-label={`Open ${l.piece.name ?? l.piece.id} on the Bench`}
                onClick={() => open(l)}
              >
                Open
              </button>
            </div>
            <p className="text-mist">{l.text}</p>
            {l.shading && <MendShading piece={l.piece} display={l.shading} />}
          </li>
        ))}
      </ul>
      {left.length > MOST && <p className="dim pad">and {left.length - MOST} more</p>}
    </>
  );
}

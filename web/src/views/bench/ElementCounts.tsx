/** How many elements there are of which sort, and how many are picked; a click on a count picks those. */
import { lazy, Suspense } from 'react';
import type { Select } from '@urnsmith/core/select/rules';
import { counted } from '@urnsmith/core/ops/operation';
import { pick } from '../../state/elements';
import { idsInHand } from '../../state/inHand';
import { useApp } from '../../state/store';
import { useScene, useBuilt } from '../../state/useScene';
import { grouped } from '../../ui/grouped';

const PickMenu = lazy(async () => ({ default: (await import('./PickMenu')).PickMenu }));

const WORDS = { face: 'faces', edge: 'edges', point: 'points' } as const;

export function ElementCounts() {
  const scene = useScene();
  const active = useApp((s) => s.hand.active);
  const level = useApp((s) => s.hand.level);
  const counts = useBuilt(active)?.cage?.shape.counts;
  if (!counts || level === 'piece') return null;
  const sorts: Array<{ text: string; select: Select; what: string }> = [];
  if (level === 'face') {
    const big = counts.corners.filter(([c]) => c > 4).reduce((sum, [, k]) => sum + k, 0);
    for (const [c, k] of counts.corners)
      if (c <= 4)
        sorts.push({
          text: `${grouped(k)} ${c === 3 ? 'tri' : 'quad'}`,
          what: c === 3 ? 'triangles' : 'quads',
          select: { rule: 'corners', count: c },
        });
    if (big) sorts.push({ text: `${grouped(big)} n-gon`, what: 'n-gons', select: { rule: 'ngons' } });
    for (const [m, k] of counts.material)
      sorts.push({
        text: `${grouped(k)} mat ${m}`,
        what: `faces of material ${m}`,
        select: { rule: 'material', material: m },
      });
  } else if (level === 'edge') {
    if (counts.open)
      sorts.push({ text: `${grouped(counts.open)} open`, what: 'open edges', select: { rule: 'open' } });
    sorts.push({ text: 'sharp', what: 'edges sharper than 30°', select: { rule: 'sharp', angle: 30 } });
  } else
    for (const [v, k] of counts.valence.slice(0, 4))
      sorts.push({
        text: `${grouped(k)} of ${v} edges`,
        what: `points where ${v} edges meet`,
        select: { rule: 'valence', count: v },
      });
  const total = { face: counts.faces, edge: counts.edges, point: counts.points }[level];
  return (
    <div className="count pointer-events-none flex flex-wrap items-center self-start rounded-[9px] bg-ink-0/72 px-2.25 py-0.5 text-[11.5px] text-mist">
      <Picked total={total} word={WORDS[level]} />
      <Suspense fallback={null}>
        <PickMenu level={level} />
      </Suspense>
      {sorts.map((s) => (
        <button
          key={s.what}
          className="countPick pointer-events-auto ml-2 rounded-none border-0 border-b border-dotted border-b-rule px-0.5 py-0 text-mist hover:text-porcelain"
          title={`Pick all ${s.what}`}
          onClick={() => void pick(scene, 'rule', { select: s.select })}
        >
          {s.text}
        </button>
      ))}
    </div>
  );
}

function Picked({ total, word }: { total: number; word: string }) {
  const picked = useApp((s) => s.hand.picked.length);
  const pieces = useApp((s) => idsInHand(s).length);
  const beside = useApp((s) => Object.values(s.hand.beside).reduce((sum, p) => sum + p.length, 0));
  return (
    <b data-picked={picked} data-beside={beside} role="status">
      {grouped(picked)} of {grouped(total)} {word}
      {pieces > 1 && ` here, ${grouped(beside)} on ${counted(pieces - 1, 'other piece')}`}
    </b>
  );
}

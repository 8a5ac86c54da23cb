/** Faces of what is selected, those in a group too, or of all solids. */
import { livePieces, selectedMembers } from '../../state/selectors';
import { useApp } from '../../state/store';
import { useScene, useBuildsVersion } from '../../state/useScene';
import { grouped } from '../../ui/grouped';

export function PieceCounts() {
  const scene = useScene();
  useBuildsVersion();
  const selected = useApp((s) => s.hand.selected);
  const members = useApp(selectedMembers);
  const pieces = useApp(livePieces);
  const ids = selected.length
    ? members
    : pieces.filter((p) => (p.role ?? 'solid') === 'solid' && !p.hidden).map((p) => p.id);
  const sum = { faces: 0, tris: 0, quads: 0, ngons: 0 };
  for (const id of ids) {
    const c = scene.builds.get(id)?.display?.counts;
    if (!c) continue;
    sum.faces += c.faces;
    sum.tris += c.tris;
    sum.quads += c.quads;
    sum.ngons += c.ngons;
  }

  return (
    <div
      className="count pointer-events-none self-start rounded-[9px] bg-ink-0/72 px-2.25 py-0.5 text-[11.5px] text-mist"
      aria-live="off"
    >
      {selected.length > 0 && <b>{selected.length} selected · </b>}
      {grouped(sum.faces)} faces <span className="ml-1.5 @max-[460px]:hidden">{grouped(sum.tris)} tri</span>{' '}
      <span className="ml-1.5 @max-[460px]:hidden">{grouped(sum.quads)} quad</span>{' '}
      <span className="ml-1.5 @max-[460px]:hidden">{grouped(sum.ngons)} n-gon</span>
    </div>
  );
}

/** Hosts for a cutter that cuts nothing yet; those it touches come first. */
import type { Piece } from '@urnsmith/core/document/schema';
import { worldMatrix } from '@urnsmith/core/document/placement';
import { boundsIn, boundsMeet, type Bounds } from '@urnsmith/core/mesh/measure';
import { useBuildsVersion, useScene } from '../../state/useScene';
import { addCutting } from '../../state/actions';
import { hostsOfCutter, piecesById, roleOf } from '../../state/selectors';
import { useApp } from '../../state/store';
import { cutBy } from '@urnsmith/core/steps/index';

const MOST = 6;

export function HostChoice({ piece }: { piece: Piece }) {
  const scene = useScene();
  useBuildsVersion();
  const cuts = useApp((s) => hostsOfCutter(s).has(piece.id));
  const byId = useApp(piecesById);
  if (cuts) return null;
  const boxOf = (id: string): Bounds | null => {
    const bounds = scene.builds.get(id)?.display?.bounds;
    return bounds ? boundsIn(bounds, worldMatrix(byId, id)) : null;
  };
  const own = boxOf(piece.id);
  const touches = (id: string): boolean => {
    const box = boxOf(id);
    return own !== null && box !== null && boundsMeet(own, box);
  };
  const hosts = [...byId.values()]
    .filter((p) => p.id !== piece.id && roleOf(p) === 'solid' && !p.locked && !p.hidden)
    .map((p) => ({ p, near: touches(p.id) }))
    .sort((a, b) => Number(b.near) - Number(a.near))
    .slice(0, MOST);
  return (
    <>
      <p className="dim pad">
        {hosts.length
          ? 'It cuts nothing yet. What should it cut?'
          : 'It cuts nothing yet, and there is no piece to cut.'}
      </p>
      <div className="tools" role="group" aria-label="Cut">
        {hosts.map(({ p, near }) => (
          <button
            key={p.id}
            title={near ? undefined : 'It does not touch that piece where it is now'}
            onClick={() =>
              addCutting(
                scene,
                p.id,
                cutBy([piece.id]),
                [piece.id],
                `Subtract ${piece.name ?? piece.id} from ${p.name ?? p.id}`,
              )
            }
          >
            {p.name ?? p.id}
            {near ? '' : ' (apart)'}
          </button>
        ))}
      </div>
    </>
  );
}

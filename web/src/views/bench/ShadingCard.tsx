/** Shading and solidity of the piece in hand, measured. */
import type { Piece } from '@urnsmith/core/document/schema';
import { formatNumber } from '@urnsmith/core/document/expression';
import { DRIFT_LIMIT } from '@urnsmith/core/steps/display';
import { commandById } from '../../commands/commands';
import { useBuilt, useScene } from '../../scene/useScene';

export function ShadingCard({ piece }: { piece: Piece }) {
  const scene = useScene();
  const display = useBuilt(piece.id)?.display;
  if (!display) return null;
  const { histogram, facesOver, counted, leftOut } = display.shading;
  const most = Math.max(1, ...histogram.map((n) => Math.sqrt(n)));
  const hasNormals = piece.steps?.some((s) => s.kind === 'normals' && !s.off);
  const { solid } = display;
  return (
    <>
      <div className="head sub">
        <b>Shading</b>
        {facesOver > 0 ? (
          <span>
            <i className="dot warn">{facesOver}</i> faces over {DRIFT_LIMIT}°
          </span>
        ) : counted > 0 ? (
          <span className="ok">
            ✓ {counted} flat {counted === 1 ? 'face is' : 'faces are'} true
          </span>
        ) : (
          <span className="dim">no flat faces to judge</span>
        )}
      </div>
      {leftOut > 0 && (
        <p className="dim pad">
          {leftOut} {leftOut === 1 ? 'face counts' : 'faces count'} as curved and{' '}
          {leftOut === 1 ? 'is' : 'are'} not judged.
        </p>
      )}
      <div
        className="px-3 py-0.5 text-glaze"
        role="img"
        aria-label={`Corners by drift in degrees: ${histogram.join(', ')}`}
      >
        <svg viewBox="0 0 234 44" width="100%" height="44" preserveAspectRatio="none" aria-hidden>
          {histogram.map((n, i) => {
            const h = n ? Math.max(1.5, (42 * Math.sqrt(n)) / most) : 0;
            return (
              <rect
                key={i}
                x={i * 18}
                y={44 - h}
                width="14"
                height={h}
                className={i >= DRIFT_LIMIT ? 'fill-ember' : 'fill-glaze'}
              />
            );
          })}
        </svg>
        <div className="flex justify-between text-[11px] text-ash">
          <span>0°</span>
          <span>drift</span>
          <span>12°+</span>
        </div>
      </div>
      {facesOver > 0 && !hasNormals && (
        <div className="row2">
          <span className="dim">Let large faces lead their corners.</span>
          <button className="btn" onClick={() => commandById('normals').run(scene)}>
            Repair
          </button>
        </div>
      )}
      <div className="head sub">
        <b>{solid.closed ? 'Closed solid' : 'Open mesh'}</b>
        <span className={solid.closed ? 'ok' : 'bad'}>
          {solid.closed ? '✓ ' : ''}
          {solid.shells} {solid.shells === 1 ? 'shell' : 'shells'} · {solid.openEdges} open edges
        </span>
      </div>
      {solid.volume !== null && (
        <p className="dim pad">
          Volume{' '}
          {Number.isFinite(solid.volume)
            ? `${formatNumber(Number((solid.volume / 1000).toPrecision(6)))} cm³`
            : 'out of range'}
        </p>
      )}
    </>
  );
}

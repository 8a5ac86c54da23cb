/** Shading and solidity of the piece in hand, measured. */
import type { Piece } from '@urnsmith/core/document/schema';
import { formatNumber } from '@urnsmith/core/document/expression';
import { counted } from '@urnsmith/core/ops/operation';
import type { Display } from '@urnsmith/core/build/display';
import { DRIFT_LIMIT } from '@urnsmith/core/shading/figures';
import { useApp } from '../../state/store';
import { useBuilt } from '../../state/useScene';
import { MendShading } from './MendShading';
import { ShadingFaults } from './ShadingFaults';

export function ShadingCard({ piece }: { piece: Piece }) {
  const built = useBuilt(piece.id);
  const display = built?.display;
  // A stage that is looked at is mended by what comes after it.
  const early = useApp((s) => s.view.stage !== null);
  if (!display) return null;
  const { shading, solid } = display;
  return (
    <>
      {shading ? (
        <Figures shading={shading} />
      ) : (
        <div className="head sub" data-unjudged>
          <b>Shading</b>
          <span className="dim">draft: judged when you let go</span>
        </div>
      )}
      {shading && shading.facesOver > 0 && !early && <MendShading piece={piece} display={display} />}
      {shading && !early && <ShadingFaults piece={piece} display={display} />}
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

/** How far shading drifts, and over how much of the piece. */
function Figures({ shading }: { shading: NonNullable<Display['shading']> }) {
  const { histogram, share, facesOver, counted: flat, leftOut } = shading;
  const most = Math.max(1, ...histogram.map((n) => Math.sqrt(n)));
  return (
    <>
      <div className="head sub" data-wrong={share}>
        <b>Shading</b>
        {facesOver > 0 ? (
          <span>
            <i className="dot warn">{percent(share)}</i> of the area is wrong
          </span>
        ) : (
          <span className="ok">✓ nothing is shaded wrong</span>
        )}
      </div>
      <p className="dim pad">
        {facesOver > 0 && `${counted_(facesOver)} drift over ${DRIFT_LIMIT}° beyond what they should. `}
        {counted_(flat)} should look flat{leftOut > 0 && `, ${counted_(leftOut)} may turn with their surface`}
        . Drift is how far shading leans from the face it is on.
      </p>
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
    </>
  );
}

const counted_ = (n: number): string => counted(n, 'face');

/** A share in words: what is there is never told as nothing. */
const percent = (share: number): string =>
  share >= 0.0995
    ? `${Math.round(100 * share)}%`
    : share >= 0.001
      ? `${(100 * share).toFixed(1)}%`
      : '< 0.1%';

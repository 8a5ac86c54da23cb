/** Shading and solidity of the piece in hand, measured. */
import { lazy, Suspense } from 'react';
import type { Piece } from '@urnsmith/core/document/schema';
import { formatNumber } from '@urnsmith/core/document/expression';
import { counted } from '@urnsmith/core/ops/operation';
import type { Display } from '@urnsmith/core/build/display';
import { leaning, leans, MENDED } from '@urnsmith/core/build/verdict';
import { useApp } from '../../state/store';
import { useBuilt } from '../../state/useScene';
import { MendShading } from './MendShading';
import { ShadingFaults } from './ShadingFaults';
import { useSeenShading } from './useSeenShading';

const OffChart = lazy(async () => ({ default: (await import('./OffChart')).OffChart }));

export function ShadingCard({ piece }: { piece: Piece }) {
  const built = useBuilt(piece.id);
  const display = built?.display;
  if (!display) return null;
  const { shading, solid } = display;
  return (
    <>
      {shading ? (
        <Judged piece={piece} display={display} shading={shading} />
      ) : (
        <div className="head sub" data-unjudged>
          <b>Shading</b>
          <span className="dim">draft: judged when you let go</span>
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

interface JudgedProps {
  piece: Piece;
  display: Display;
  shading: NonNullable<Display['shading']>;
}

function Judged({ piece, display, shading }: JudgedProps) {
  // A stage that is looked at is mended by what comes after it.
  const early = useApp((s) => s.view.stage !== null);
  const [place, seen] = useSeenShading<HTMLDivElement>(piece, display);
  const lean = leans(shading);
  const faults = seen?.faults ?? [];
  const mends = !early && (lean || faults.some((f) => MENDED.includes(f.kind)));
  const wrong = faults.reduce((n, f) => n + f.count, 0);
  return (
    <>
      <div className="head sub" data-wrong={shading.over2} ref={place}>
        <b>Shading</b>
        {lean ? (
          <span>
            <i className="dot warn">{counted(shading.facesOver, 'face')}</i>{' '}
            {shading.facesOver === 1 ? 'leans' : 'lean'}
          </span>
        ) : wrong > 0 ? (
          <span>
            <i className="dot warn">{counted(wrong, 'fault')}</i>
          </span>
        ) : seen ? (
          <span className="ok">✓ as it is meant</span>
        ) : (
          <span className="dim">being looked at…</span>
        )}
      </div>
      {lean && <p className="pad">{leaning(shading)}.</p>}
      {mends && <MendShading piece={piece} display={display} />}
      {seen && !early && <ShadingFaults piece={piece} seen={seen} />}
      {shading.worst > 0.05 && (
        <Suspense fallback={<div className="h-24" />}>
          <OffChart areas={shading.areas} piece={piece} display={display} seen={seen} />
        </Suspense>
      )}
    </>
  );
}

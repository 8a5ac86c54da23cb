/** The Bench: the model fills the window, everything else sits on its edges. */
import { clsx } from 'clsx';
import { useApp } from '../../state/store';
import { BuildStrip } from './BuildStrip';
import { Card } from './Card';
import { Ledger } from './Ledger';
import { ViewportPane } from './ViewportPane';

export function BenchView() {
  const panels = useApp((s) => s.bench.panels);
  return (
    <div className={clsx('bench', !panels.ledger && 'noLedger', !panels.card && 'noCard')}>
      <BuildStrip />
      <Ledger />
      <ViewportPane />
      <Card />
    </div>
  );
}

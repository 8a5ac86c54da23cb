/** The Bench: the model fills the window, everything else sits on its edges, as wide as a person likes it. */
import { useEffect } from 'react';
import {
  Group,
  Panel,
  Separator,
  useDefaultLayout,
  usePanelRef,
  type PanelSize,
} from 'react-resizable-panels';
import { panelActions } from '../../state/panelSlice';
import { useAct, useApp } from '../../state/store';
import { interfaceNow } from '../../ui/interface';
import { remembered } from '../../ui/remembered';
import { useSmallWindow } from '../../ui/useSmallWindow';
import { BuildStrip } from './BuildStrip';
import { Card } from './Card';
import { Ledger } from './Ledger';
import { ViewportPane } from './ViewportPane';

const SIDES = ['ledger', 'middle', 'card'];
/** Width of a closed side, which only has the button that opens it; pixels. */
const CLOSED = 28;

const LINE =
  'sideLine w-px bg-line -outline-offset-1 hover:bg-glaze focus-visible:bg-glaze data-[separator=active]:bg-glaze';

export function BenchView() {
  const layout = useDefaultLayout({ id: 'urnsmith-sides', panelIds: SIDES, storage: remembered });
  // The stage keeps at least half of a small window; a side that has no room then closes.
  const small = useSmallWindow();
  return (
    <div className="grid min-h-0 grid-rows-[auto_minmax(0,1fr)]">
      <BuildStrip />
      <main className="min-h-0" aria-label="Bench">
        <Group id="sides" {...layout}>
          <Side name="ledger" width={216}>
            <Ledger />
          </Side>
          <Separator className={LINE} aria-label="Width of the Ledger" />
          <Panel id="middle" minSize={small ? '63%' : 280}>
            <ViewportPane />
          </Panel>
          <Separator className={LINE} aria-label="Width of the Card" />
          <Side name="card" width={272}>
            <Card />
          </Side>
        </Group>
      </main>
    </div>
  );
}

interface SideProps {
  name: 'ledger' | 'card';
  /** At first, pixels. */
  width: number;
  children: React.ReactNode;
}

/** A side that is dragged wider and narrower, and closes by its button or when it is dragged shut. */
function Side({ name, width, children }: SideProps) {
  const act = useAct();
  const open = useApp((s) => s.panels.open[name]);
  const panel = usePanelRef();
  useEffect(() => {
    const p = panel.current;
    if (!p || p.isCollapsed() !== open) return;
    if (open) p.expand();
    else p.collapse();
  }, [panel, open]);
  const resized = ({ inPixels }: PanelSize): void => {
    if (inPixels > CLOSED + 1 !== open) act(panelActions.panelToggled(name));
  };
  return (
    <Panel
      id={name}
      panelRef={panel}
      collapsible
      collapsedSize={CLOSED}
      defaultSize={(width * interfaceNow().scale) / 100}
      minSize={180}
      maxSize={480}
      groupResizeBehavior="preserve-pixel-size"
      onResize={resized}
    >
      {children}
    </Panel>
  );
}

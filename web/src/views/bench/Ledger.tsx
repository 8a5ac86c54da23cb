/** The Ledger: all pieces as a tree, cutters under their hosts. */
import { useCallback, useMemo, useRef, useState } from 'react';
import {
  DndContext,
  DragOverlay,
  useDroppable,
  type CollisionDetection,
  type DragEndEvent,
  type KeyboardCoordinateGetter,
} from '@dnd-kit/core';
import { clsx } from 'clsx';
import { DropdownMenu } from 'radix-ui';
import { defaultRangeExtractor, useVirtualizer } from '@tanstack/react-virtual';
import { PanelLeftClose, PanelLeftOpen, Plus } from 'lucide-react';
import type { Piece } from '@urnsmith/core/document/schema';
import { PRIMITIVE_KINDS, PRIMITIVES } from '@urnsmith/core/primitives/index';
import { commandById } from '../../commands/commands';
import { useKeyLabel } from '../../commands/keys';
import { groupPieces, nest } from '../../state/actions';
import { panelActions, type LedgerFilter } from '../../state/panelSlice';
import { hostsOfCutter, roleOf } from '../../state/selectors';
import { useAct, useApp } from '../../state/store';
import { announcing, HOW_TO_DRAG, underHand, useListSensors } from '../../ui/dragging';
import { useScene } from '../../state/useScene';
import { LedgerRowView, ROW_PX } from './LedgerRow';
import { ledgerRows, type LedgerRow } from './ledgerRows';
import { useTreeKeys } from './treeKeys';

const FILTERS: LedgerFilter[] = ['all', 'solids', 'cutters', 'guides', 'hidden'];

export function Ledger() {
  const act = useAct();
  const pieces = useApp((s) => s.document.pieces);
  const ledgerFilter = useApp((s) => s.panels.ledgerFilter);
  const ledgerSearch = useApp((s) => s.panels.ledgerSearch);
  const collapsed = useApp((s) => s.panels.collapsed);
  const open = useApp((s) => s.panels.open.ledger);
  const hosts = useApp(hostsOfCutter);
  const rows = useMemo(
    () => ledgerRows(pieces, hosts, { filter: ledgerFilter, search: ledgerSearch, collapsed }),
    [pieces, hosts, ledgerFilter, ledgerSearch, collapsed],
  );
  const counts = useMemo(() => filterCounts(pieces), [pieces]);
  if (!open)
    return (
      <button
        className="size-full items-start rounded-none bg-ink-1 px-1.5 py-2.5 text-ash"
        aria-label="Open the Ledger"
        onClick={() => act(panelActions.panelToggled('ledger'))}
      >
        <PanelLeftOpen size={15} aria-hidden />
      </button>
    );
  return (
    <aside className="ledger scaled flex h-full min-h-0 flex-col bg-ink-1" aria-label="Ledger">
      <div className="head">
        <b>Ledger</b>
        <span className="dim">
          {pieces.length} {pieces.length === 1 ? 'piece' : 'pieces'}
        </span>
        <button
          className="quiet"
          aria-label="Close the Ledger"
          onClick={() => act(panelActions.panelToggled('ledger'))}
        >
          <PanelLeftClose size={14} aria-hidden />
        </button>
      </div>
      <input
        className="mx-2.5 mb-2 rounded-[6px] border-b-2 border-b-ink-3 bg-ink-2 px-2.25 py-1"
        type="search"
        placeholder="Find a piece"
        aria-label="Find a piece"
        value={ledgerSearch}
        onChange={(e) => act(panelActions.ledgerSearched(e.currentTarget.value))}
      />
      <div className="flex flex-wrap gap-1 px-2.5 pb-2" role="group" aria-label="Show">
        {FILTERS.filter((f) => f === 'all' || counts[f] > 0 || f === ledgerFilter).map((f) => (
          <button
            key={f}
            className={clsx('chip', f === ledgerFilter && 'on')}
            aria-pressed={f === ledgerFilter}
            onClick={() => act(panelActions.ledgerFiltered(f))}
          >
            {f} {f !== 'all' && counts[f]}
          </button>
        ))}
      </div>
      <Rows rows={rows} />
      <div className="foot flex gap-1.5 border-t border-t-line px-2.5 py-2">
        <AddMenu />
        <GroupButton />
      </div>
    </aside>
  );
}

function filterCounts(pieces: Piece[]): Record<LedgerFilter, number> {
  const n = { all: pieces.length, solids: 0, cutters: 0, guides: 0, hidden: 0 };
  for (const p of pieces) {
    const role = roleOf(p);
    if (role !== 'group') n[`${role}s`]++;
    if (p.hidden) n.hidden++;
  }
  return n;
}

/** Everything beside the rows: what is dropped there is nested in nothing. */
const ROOT = 'root';

const upAndDown: KeyboardCoordinateGetter = (e, { currentCoordinates: { x, y } }) => {
  const by = { ArrowDown: ROW_PX, ArrowUp: -ROW_PX }[e.code];
  if (by === undefined) return undefined;
  e.preventDefault();
  return { x, y: y + by };
};

function Rows({ rows }: { rows: LedgerRow[] }) {
  const scene = useScene();
  const byKey = useMemo(() => new Map(rows.map((r) => [r.key, r.piece])), [rows]);
  const [held, setHeld] = useState<string | null>(null);
  const nameOf = (key: string): string => byKey.get(key)?.name ?? 'the top';
  const dropped = ({ active, over }: DragEndEvent): void => {
    setHeld(null);
    const [piece, into] = [byKey.get(String(active.id)), over && byKey.get(String(over.id))];
    if (piece && over && piece !== into) nest(scene, piece.id, into?.id ?? null);
  };
  return (
    <DndContext
      sensors={useListSensors(upAndDown)}
      collisionDetection={overRows}
      accessibility={{
        announcements: announcing(nameOf, 'Into'),
        screenReaderInstructions: HOW_TO_DRAG,
      }}
      onDragStart={({ active }) => setHeld(String(active.id))}
      onDragCancel={() => setHeld(null)}
      onDragEnd={dropped}
    >
      <Scroller rows={rows} />
      <DragOverlay dropAnimation={null}>
        {held && (
          <div className="held w-max rounded-ui border border-glaze bg-ink-3 px-2.5 py-1">{nameOf(held)}</div>
        )}
      </DragOverlay>
    </DndContext>
  );
}

/** A row counts before the space that holds all of them. */
const overRows: CollisionDetection = (args) => {
  const found = underHand(args);
  const row = found.filter((c) => c.id !== ROOT);
  return row.length ? row : found;
};

function Scroller({ rows }: { rows: LedgerRow[] }) {
  const scroller = useRef<HTMLDivElement | null>(null);
  const { setNodeRef } = useDroppable({ id: ROOT });
  const keys = useTreeKeys(rows);
  // Its functions are used where they are made, never kept.
  // eslint-disable-next-line react-hooks/incompatible-library
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PX,
    overscan: 12,
    // The row that Tab leads to is always there.
    rangeExtractor: (range) =>
      [...new Set([...defaultRangeExtractor(range), keys.home])].sort((a, b) => a - b),
  });
  const ref = useCallback(
    (node: HTMLDivElement | null): void => {
      scroller.current = node;
      setNodeRef(node);
    },
    [setNodeRef],
  );
  return (
    <div
      className="rows min-h-10 flex-1 overflow-auto [scrollbar-width:thin]"
      ref={ref}
      role="tree"
      aria-label="Pieces"
      aria-multiselectable
      {...keys.handlers}
    >
      <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
        {virtual.getVirtualItems().map((v) => (
          <LedgerRowView
            key={rows[v.index].key}
            row={rows[v.index]}
            top={v.start}
            home={v.index === keys.home}
            reached={v.index === keys.home ? keys.reached : 0}
          />
        ))}
      </div>
    </div>
  );
}

function AddMenu() {
  const scene = useScene();
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="chip">
        <Plus size={11} aria-hidden /> piece
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className="menu" side="top" align="start">
          {PRIMITIVE_KINDS.map((k) => (
            <DropdownMenu.Item key={k} onSelect={() => commandById(`add-${k}`).run(scene)}>
              {PRIMITIVES[k].title}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

function GroupButton() {
  const scene = useScene();
  const selected = useApp((s) => s.hand.selected);
  return (
    <button
      className="chip"
      disabled={!selected.length}
      title={useKeyLabel('group')}
      onClick={() => groupPieces(scene, selected)}
    >
      group
    </button>
  );
}

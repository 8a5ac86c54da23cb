/** The Ledger: all pieces as a tree, cutters under their hosts. */
import type { OpenScene } from '../../scene/OpenScene';
import { memo, useCallback, useMemo, useRef, useState } from 'react';
import {
  DndContext,
  DragOverlay,
  useDraggable,
  useDroppable,
  type CollisionDetection,
  type DragEndEvent,
  type KeyboardCoordinateGetter,
} from '@dnd-kit/core';
import { clsx } from 'clsx';
import { ContextMenu, DropdownMenu } from 'radix-ui';
import { useVirtualizer } from '@tanstack/react-virtual';
import {
  ChevronDown,
  ChevronRight,
  Eye,
  EyeOff,
  Ghost,
  Lock,
  PanelLeftClose,
  PanelLeftOpen,
  Plus,
} from 'lucide-react';
import type { Piece } from '@urnsmith/core/document/schema';
import { PRIMITIVE_KINDS, PRIMITIVES } from '@urnsmith/core/primitives/index';
import { commandById } from '../../commands/commands';
import { useKeyLabel } from '../../commands/keys';
import { deletePieces, duplicatePieces, editPiece, flagPieces, groupPieces, nest } from '../../state/actions';
import { bench, type LedgerFilter } from '../../state/benchSlice';
import { hostsOfCutter, roleOf } from '../../state/selectors';
import { useAct, useApp } from '../../state/store';
import { announcing, HOW_TO_DRAG, picksUp, underHand, useListSensors } from '../../ui/dragging';
import { isTwin } from '../../state/twins';
import { PieceIcon } from './PieceIcon';
import { NameField } from '../../ui/NameField';
import { useScene, useBuilt } from '../../scene/useScene';
import { ledgerRows, type LedgerRow } from './ledgerRows';

const FILTERS: LedgerFilter[] = ['all', 'solids', 'cutters', 'guides', 'hidden'];

export function Ledger() {
  const act = useAct();
  const pieces = useApp((s) => s.document.pieces);
  const ledgerFilter = useApp((s) => s.bench.ledgerFilter);
  const ledgerSearch = useApp((s) => s.bench.ledgerSearch);
  const collapsed = useApp((s) => s.bench.collapsed);
  const open = useApp((s) => s.bench.panels.ledger);
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
        onClick={() => act(bench.panelToggled('ledger'))}
      >
        <PanelLeftOpen size={15} aria-hidden />
      </button>
    );
  return (
    <aside className="ledger flex h-full min-h-0 flex-col bg-ink-1" aria-label="Ledger">
      <div className="head">
        <b>Ledger</b>
        <span className="dim">
          {pieces.length} {pieces.length === 1 ? 'piece' : 'pieces'}
        </span>
        <button
          className="quiet"
          aria-label="Close the Ledger"
          onClick={() => act(bench.panelToggled('ledger'))}
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
        onChange={(e) => act(bench.ledgerSearched(e.currentTarget.value))}
      />
      <div className="flex flex-wrap gap-1 px-2.5 pb-2" role="group" aria-label="Show">
        {FILTERS.filter((f) => f === 'all' || counts[f] > 0 || f === ledgerFilter).map((f) => (
          <button
            key={f}
            className={clsx('chip', f === ledgerFilter && 'on')}
            aria-pressed={f === ledgerFilter}
            onClick={() => act(bench.ledgerFiltered(f))}
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

const ROW_PX = 27;
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
  // Its functions are used where they are made, never kept.
  // eslint-disable-next-line react-hooks/incompatible-library
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PX,
    overscan: 12,
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
    >
      <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
        {virtual.getVirtualItems().map((v) => (
          <Row key={rows[v.index].key} row={rows[v.index]} top={v.start} />
        ))}
      </div>
    </div>
  );
}

interface RowProps {
  row: LedgerRow;
  top: number;
}

/** Rows are laid out anew with every change; one is drawn again only when it is another. */
const sameRow = (a: RowProps, b: RowProps): boolean =>
  a.top === b.top && (Object.keys(a.row) as Array<keyof LedgerRow>).every((k) => a.row[k] === b.row[k]);

const Row = memo(function Row({ row, top }: RowProps) {
  const scene = useScene();
  const act = useAct();
  const { piece } = row;
  const role = roleOf(piece);
  const selected = useApp((s) => s.bench.selected.includes(piece.id));
  const active = useApp((s) => s.bench.active === piece.id);
  const hovered = useApp((s) => s.bench.hovered === piece.id);
  const [editing, setEditing] = useState(false);
  const { setNodeRef, listeners, attributes, isDragging } = useDraggable({
    id: row.key,
    disabled: editing || row.link,
  });
  const { setNodeRef: setTarget, isOver } = useDroppable({ id: row.key });
  const name = piece.name ?? piece.id;
  const targets = (): string[] => (selected ? selectedNow(scene) : [piece.id]);
  return (
    <ContextMenu.Root>
      <ContextMenu.Trigger asChild>
        <div
          role="treeitem"
          aria-level={row.depth + 1}
          aria-selected={selected}
          aria-expanded={row.hasChildren ? row.open : undefined}
          data-name={name}
          tabIndex={active || (!selected && top === 0) ? 0 : -1}
          data-piece={piece.id}
          className={clsx(
            'row group/row absolute inset-x-0 flex h-6.75 cursor-default select-none items-center gap-1.5 pr-2.5 whitespace-nowrap',
            'focus-visible:-outline-offset-2',
            active
              ? 'bg-glaze font-semibold text-glaze-ink focus-visible:outline-porcelain'
              : clsx(
                  selected ? 'bg-row-picked' : hovered && 'bg-ink-2',
                  piece.hidden ? 'text-[#7f938e]' : role === 'cutter' && 'text-mist',
                  role === 'group' && 'font-semibold',
                ),
            isOver && !isDragging && 'shadow-[inset_0_0_0_2px_var(--color-cream)]',
          )}
          style={{ top, paddingLeft: 8 + row.depth * 15 }}
          ref={(node) => {
            setNodeRef(node);
            setTarget(node);
          }}
          aria-describedby={attributes['aria-describedby']}
          onPointerDown={listeners?.onPointerDown as React.PointerEventHandler}
          onMouseEnter={() => act(bench.hovered(piece.id))}
          onMouseLeave={() => act(bench.hovered(null))}
          onClick={(e) =>
            act(
              bench.selected({
                ids: [piece.id],
                mode: e.ctrlKey || e.metaKey || e.shiftKey ? 'toggle' : 'set',
              }),
            )
          }
          onDoubleClick={() => setEditing(true)}
          onKeyDown={(e) => {
            if (!editing && picksUp(e)) listeners?.onKeyDown(e);
            // The arrows move what is held.
            if (isDragging || e.defaultPrevented) return;
            if (e.key === 'F2') setEditing(true);
            if (e.key === 'Enter') act(bench.selected({ ids: [piece.id] }));
            if (e.key === 'ArrowDown' || e.key === 'ArrowUp') {
              e.preventDefault();
              const all = [...document.querySelectorAll<HTMLElement>('.rows .row')];
              const at = all.indexOf(e.currentTarget);
              const next = all[at + (e.key === 'ArrowDown' ? 1 : -1)];
              next?.focus();
              if (next?.dataset.piece) act(bench.selected({ ids: [next.dataset.piece] }));
            }
          }}
        >
          {row.hasChildren ? (
            <button
              className={TWIST}
              aria-label={row.open ? `Fold ${name}` : `Unfold ${name}`}
              tabIndex={-1}
              onClick={(e) => {
                e.stopPropagation();
                act(bench.collapseToggled(piece.id));
              }}
            >
              {row.open ? <ChevronDown size={12} aria-hidden /> : <ChevronRight size={12} aria-hidden />}
            </button>
          ) : (
            <i className={TWIST} />
          )}
          {role !== 'group' && <PieceIcon role={role} onActive={active} twin={isTwin(piece)} />}
          <NameField
            value={name}
            label={`Name of ${name}`}
            editing={editing}
            onDone={(next) => {
              setEditing(false);
              if (next) editPiece(scene, piece.id, `Rename ${name}`, (p) => ({ ...p, name: next }));
            }}
          />
          <Flags piece={piece} onActive={active} />
          <FaceCount piece={piece} link={row.link} onActive={active} />
        </div>
      </ContextMenu.Trigger>
      <ContextMenu.Portal>
        <ContextMenu.Content className="menu">
          <ContextMenu.Item onSelect={() => setTimeout(() => setEditing(true), 50)}>Rename</ContextMenu.Item>
          <ContextMenu.Item onSelect={() => duplicatePieces(scene, targets())}>Duplicate</ContextMenu.Item>
          <ContextMenu.Item onSelect={() => flagPieces(scene, targets(), 'hidden')}>
            {piece.hidden ? 'Show' : 'Hide'}
          </ContextMenu.Item>
          <ContextMenu.Item onSelect={() => flagPieces(scene, targets(), 'faint')}>
            {piece.faint ? 'Solid' : 'Faint'}
          </ContextMenu.Item>
          <ContextMenu.Item onSelect={() => flagPieces(scene, targets(), 'locked')}>
            {piece.locked ? 'Unlock' : 'Lock'}
          </ContextMenu.Item>
          {piece.parent && (
            <ContextMenu.Item onSelect={() => nest(scene, piece.id, null)}>
              Take out of its parent
            </ContextMenu.Item>
          )}
          <ContextMenu.Separator />
          <ContextMenu.Item onSelect={() => deletePieces(scene, targets())}>Delete</ContextMenu.Item>
        </ContextMenu.Content>
      </ContextMenu.Portal>
    </ContextMenu.Root>
  );
}, sameRow);

const TWIST = 'grid w-3.5 flex-none place-items-center p-0';

const selectedNow = (scene: OpenScene): string[] => scene.store.getState().bench.selected;

const isFlagged = (p: Piece): boolean => Boolean(p.locked || p.faint || p.hidden);

function Flags({ piece, onActive }: { piece: Piece; onActive: boolean }) {
  const scene = useScene();
  const flag = (
    name: 'hidden' | 'faint' | 'locked',
    label: string,
    icon: React.ReactNode,
  ): React.ReactNode => (
    <button
      className={clsx(
        'rounded-[4px] p-0.75',
        piece[name] ? 'text-cream' : 'hidden group-focus-within/row:inline-flex group-hover/row:inline-flex',
        !piece[name] && (onActive ? 'text-glaze-ink' : 'text-ash'),
      )}
      aria-label={`${label} ${piece.name ?? piece.id}`}
      aria-pressed={piece[name] ?? false}
      title={label}
      tabIndex={-1}
      onClick={(e) => {
        e.stopPropagation();
        flagPieces(scene, [piece.id], name);
      }}
    >
      {icon}
    </button>
  );
  return (
    <span
      className={clsx(
        'ml-auto group-focus-within/row:flex group-hover/row:flex',
        // A click meant for the row must not meet a flag that has just come under the pointer.
        'group-focus-within/row:animate-flags-wait group-hover/row:animate-flags-wait',
        isFlagged(piece) ? 'flex' : 'hidden',
      )}
    >
      {flag('locked', piece.locked ? 'Unlock' : 'Lock', <Lock size={11} aria-hidden />)}
      {flag('faint', piece.faint ? 'Make solid' : 'Make faint', <Ghost size={11} aria-hidden />)}
      {flag(
        'hidden',
        piece.hidden ? 'Show' : 'Hide',
        piece.hidden ? <EyeOff size={11} aria-hidden /> : <Eye size={11} aria-hidden />,
      )}
    </span>
  );
}

function FaceCount({ piece, link, onActive }: { piece: Piece; link: boolean; onActive: boolean }) {
  const n = useBuilt(piece.id)?.display?.counts.faces;
  const cuts = link || roleOf(piece) === 'cutter';
  if (!cuts && 'group' in piece.base) return null;
  return (
    <em
      className={clsx(
        'pl-1 text-[11.5px] not-italic group-focus-within/row:ml-0 group-hover/row:ml-0',
        !isFlagged(piece) && 'ml-auto',
        !onActive && 'text-ash',
      )}
    >
      {cuts ? 'cuts' : n === undefined ? '…' : n.toLocaleString('en').replace(/,/g, ' ')}
    </em>
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
  const selected = useApp((s) => s.bench.selected);
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

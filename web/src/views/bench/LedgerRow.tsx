/** A row of the Ledger: a piece, its place in the tree, and what can be done with it there. */
import { memo, useEffect, useRef, useState, type ReactNode } from 'react';
import { useDraggable, useDroppable } from '@dnd-kit/core';
import { clsx } from 'clsx';
import { ContextMenu } from 'radix-ui';
import { ChevronDown, ChevronRight, Eye, EyeOff, Ghost, Lock } from 'lucide-react';
import type { IdleCutter } from '@urnsmith/core/cutting/idle';
import type { Piece } from '@urnsmith/core/document/schema';
import type { CutStep } from '@urnsmith/core/steps/index';
import type { OpenScene } from '../../state/OpenScene';
import { deletePieces, duplicatePieces, editPiece, flagPieces, nest } from '../../state/actions';
import { handActions } from '../../state/handSlice';
import { hintActions } from '../../state/hintSlice';
import { panelActions } from '../../state/panelSlice';
import { hostsOfCutter, membersOf, modeOfCutter, roleOf } from '../../state/selectors';
import { useAct, useApp } from '../../state/store';
import { isTwin } from '../../state/twins';
import { useScene, useBuilt, useBuildsVersion } from '../../state/useScene';
import { NameField } from '../../ui/NameField';
import { picksUp } from '../../ui/dragging';
import { PieceIcon } from './PieceIcon';
import { idleWord } from './idleWords';
import type { LedgerRow } from './ledgerRows';
import { grouped } from '../../ui/grouped';

export const ROW_PX = 27;

interface RowProps {
  row: LedgerRow;
  /** Pixels from the top of the list. */
  top: number;
  /** Tab leads to it. */
  home: boolean;
  /** Counts up when the keys come to it; 0 while they are elsewhere. */
  reached: number;
}

/** Rows are laid out anew with every change; one is drawn again only when it is another. */
const sameRow = (a: RowProps, b: RowProps): boolean =>
  a.top === b.top &&
  a.home === b.home &&
  a.reached === b.reached &&
  (Object.keys(a.row) as Array<keyof LedgerRow>).every((k) => a.row[k] === b.row[k]);

export const LedgerRowView = memo(function LedgerRowView({ row, top, home, reached }: RowProps) {
  const scene = useScene();
  const act = useAct();
  const { piece } = row;
  const role = roleOf(piece);
  const selected = useApp((s) => s.hand.selected.includes(piece.id));
  const active = useApp((s) => s.hand.active === piece.id);
  const hovered = useApp((s) => s.hints.hovered === piece.id);
  const several = useApp((s) => s.hand.level === 'piece' && s.hand.selected.length > 1);
  const [editing, setEditing] = useState(false);
  const node = useRef<HTMLDivElement | null>(null);
  useEffect(() => {
    if (reached) node.current?.focus();
  }, [reached]);
  const { setNodeRef, listeners, attributes, isDragging } = useDraggable({
    id: row.key,
    disabled: editing,
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
          tabIndex={home ? 0 : -1}
          data-key={row.key}
          className={clsx(
            'row group/row absolute inset-x-0 flex h-6.75 cursor-default select-none items-center gap-1.5 pr-2.5 whitespace-nowrap',
            'focus-visible:-outline-offset-2',
            active
              ? 'bg-glaze font-semibold text-glaze-ink focus-visible:outline-porcelain'
              : clsx(
                  selected ? 'bg-row-picked' : hovered && 'bg-ink-2',
                  piece.hidden ? 'text-ash' : role === 'cutter' && 'text-mist',
                  role === 'group' && 'font-semibold',
                ),
            isOver && !isDragging && 'shadow-[inset_0_0_0_2px_var(--color-cream)]',
          )}
          style={{ top, paddingLeft: 8 + row.depth * 15 }}
          ref={(element) => {
            node.current = element;
            setNodeRef(element);
            setTarget(element);
          }}
          aria-describedby={attributes['aria-describedby']}
          onPointerDown={listeners?.onPointerDown as React.PointerEventHandler}
          onMouseEnter={() => act(hintActions.hovered(piece.id))}
          onMouseLeave={() => act(hintActions.hovered(null))}
          onClick={(e) =>
            act(
              handActions.selected({
                ids: [piece.id],
                mode: e.ctrlKey || e.metaKey || e.shiftKey ? 'toggle' : 'set',
              }),
            )
          }
          onDoubleClick={() => setEditing(true)}
          onKeyDown={(e) => {
            if (!editing && picksUp(e)) listeners?.onKeyDown(e);
            if (e.key === 'F2') setEditing(true);
          }}
        >
          {row.hasChildren ? (
            <button
              className={TWIST}
              aria-label={row.open ? `Fold ${name}` : `Unfold ${name}`}
              tabIndex={-1}
              onClick={(e) => {
                e.stopPropagation();
                act(panelActions.collapseToggled(piece.id));
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
          {active && several && <HostTag />}
          <Flags piece={piece} onActive={active} />
          {role === 'group' ? (
            <MemberFaces group={piece} onActive={active} />
          ) : (
            <FaceCount piece={piece} onActive={active} />
          )}
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

/** The selected piece that the next command acts on. */
const HostTag = () => (
  <span
    className="rounded-[4px] border border-current px-1 text-[10.5px] leading-[1.3]"
    title="The last one selected: cuts go into it. Enter on another selected row makes that the host."
  >
    host
  </span>
);

const TWIST = 'grid w-3.5 flex-none place-items-center p-0';

const selectedNow = (scene: OpenScene): string[] => scene.store.getState().hand.selected;

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
        piece[name] ? 'text-cream' : 'hidden group-hover/row:inline-flex',
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
        'ml-auto group-hover/row:flex',
        // A click meant for the row must not meet a flag that has just come under the pointer.
        'group-hover/row:animate-flags-wait',
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

/** How a cutter does nothing in a host, or leaves a hollow there; null where it cuts. */
const idleIn = (host: ReturnType<typeof useBuilt>, cutter: string): IdleCutter | null =>
  host?.display?.steps.flatMap((s) => s.idle ?? []).find((i) => i.operand === cutter) ?? null;

/** Words for the work of a cutter, by the mode of its cut. */
const WORK: Record<CutStep['mode'] | 'off', string> = {
  off: 'off',
  subtract: 'cuts',
  union: 'joined',
  intersect: 'keeps',
  split: 'splits',
  recess: 'recess',
  raise: 'raised',
  sleeve: 'sleeve',
  imprint: 'imprint',
};

/** The number of faces of all pieces a group stands for. */
function MemberFaces({ group, onActive }: { group: Piece; onActive: boolean }) {
  const { builds } = useScene();
  useBuildsVersion();
  const members = useApp((s) => membersOf(s, group.id), sameList);
  const faces = members.reduce((n, id) => n + (builds.get(id)?.display?.counts.faces ?? 0), 0);
  return (
    <Told piece={group} onActive={onActive}>
      {members.length ? grouped(faces) : 'empty'}
    </Told>
  );
}

const sameList = (a: ReadonlyArray<string>, b: ReadonlyArray<string>): boolean => String(a) === String(b);

/** Text at the end of a row. */
function Told({ piece, onActive, children }: { piece: Piece; onActive: boolean; children: ReactNode }) {
  return (
    <em
      className={clsx(
        'pl-1 text-[11.5px] not-italic group-hover/row:ml-0',
        !isFlagged(piece) && 'ml-auto',
        !onActive && 'text-ash',
      )}
    >
      {children}
    </em>
  );
}

/** Shows the number of faces of a piece, or the work of a cutter. */
function FaceCount({ piece, onActive }: { piece: Piece; onActive: boolean }) {
  const n = useBuilt(piece.id)?.display?.counts.faces;
  const isCutter = roleOf(piece) === 'cutter';
  const host = useApp((s) => (isCutter ? hostsOfCutter(s).get(piece.id)?.[0] : undefined));
  const mode = useApp((s) => (isCutter ? modeOfCutter(s).get(piece.id) : undefined));
  const idle = idleIn(useBuilt(host ?? ''), piece.id);
  const told = isCutter
    ? mode
      ? WORK[mode]
      : host
        ? 'in use'
        : 'cuts nothing'
    : n === undefined
      ? '…'
      : grouped(n);
  return (
    <Told piece={piece} onActive={onActive}>
      {idle || (isCutter && !host) ? <i className="dot warn">{idle ? idleWord(idle) : told}</i> : told}
    </Told>
  );
}

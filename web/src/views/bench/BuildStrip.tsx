/** The Build strip: the chosen piece's lanes as a string, a bead for each step. */
import { memo } from 'react';
import { clsx } from 'clsx';
import {
  closestCenter,
  DndContext,
  pointerWithin,
  useDroppable,
  type CollisionDetection,
  type DragEndEvent,
} from '@dnd-kit/core';
import {
  horizontalListSortingStrategy,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { announcing, HOW_TO_DRAG, picksUp, useListSensors } from '../../ui/dragging';
import { Plus, TriangleAlert, CircleX } from 'lucide-react';
import type { Piece } from '@urnsmith/core/document/schema';
import { originalOf } from '@urnsmith/core/document/twins';
import { completePrimitive, PRIMITIVES, type Primitive } from '@urnsmith/core/primitives/index';
import { formatNumber } from '@urnsmith/core/document/expression';
import { LANES, laneOf, STEPS, type Lane, type Step } from '@urnsmith/core/steps/index';
import type { StepReport } from '@urnsmith/core/build/report';
import { beadOf, stepTitle } from '../../state/beads';
import { commandById } from '../../commands/commands';
import { addsId } from '../../commands/stepCommands';
import { moveStep, moveToLane, shiftStep } from '../../state/actions';
import { handActions } from '../../state/handSlice';
import { hintActions } from '../../state/hintSlice';
import { viewActions } from '../../state/viewSlice';
import { activeWherever, piecesById } from '../../state/selectors';
import { editHere, isTwin } from '../../state/twins';
import { useAct, useApp } from '../../state/store';
import { useScene, useBuilt, useProgress } from '../../state/useScene';

export function BuildStrip() {
  const piece = useApp(activeWherever);
  const built = useBuilt(piece?.id ?? null);
  const steps = piece && !('group' in piece.base) && !isTwin(piece);
  return (
    <section
      className={clsx(
        'strip scaled relative flex h-18.5 short:h-10 overflow-x-auto overflow-y-hidden border-b border-b-line bg-ink-0 px-2.5 [scrollbar-width:thin]',
        steps && LANE_LINE,
      )}
      aria-label={piece ? `Build of ${piece.name}` : 'Build'}
    >
      <Who piece={piece} ms={built?.display?.ms} />
      {steps ? (
        <Lanes piece={piece} reports={built?.display?.steps ?? NO_REPORTS} />
      ) : (
        <p className="relative -mt-0.75 self-center bg-ink-0 px-3.5 text-ash">
          {isTwin(piece) ? (
            <SharedBuild piece={piece!} />
          ) : piece ? (
            'A group only holds pieces together.'
          ) : (
            'Select a piece to see how it is built.'
          )}
        </p>
      )}
    </section>
  );
}

/** Lanes that hold something, in order; the others as what would fill them, after those. */
function Lanes({ piece, reports }: { piece: Piece; reports: StepReport[] }) {
  const scene = useScene();
  const used = new Set<Lane>(['Form', ...(piece.steps ?? []).map(laneOf)]);
  const sensors = useListSensors(sortableKeyboardCoordinates);
  const nameOf = (id: string): string =>
    (LANES as ReadonlyArray<string>).includes(id)
      ? `the ${id} lane`
      : stepTitle(piece.steps![Number(id)], scene.store.getState().document.pieces);
  const dropped = ({ active, over }: DragEndEvent): void => {
    if (!over) return;
    const lane = LANES.find((l) => l === over.id);
    if (lane) moveToLane(scene, piece.id, Number(active.id), lane);
    else moveStep(scene, piece.id, Number(active.id), Number(over.id));
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={beadOrLane}
      accessibility={{
        announcements: announcing(nameOf, 'To the place of'),
        screenReaderInstructions: HOW_TO_DRAG,
      }}
      onDragEnd={dropped}
    >
      {LANES.filter((lane) => used.has(lane)).map((lane) => (
        <LaneView key={lane} lane={lane} piece={piece} reports={reports} />
      ))}
      <div className="relative grid flex-1 auto-cols-max grid-flow-col grid-rows-[auto_auto] short:grid-rows-[auto] content-center gap-x-1 gap-y-1.5 border-l border-l-ink-3 bg-ink-0 px-2.5">
        {LANES.filter((lane) => !used.has(lane) && offerOf(lane, true)).map((lane) => (
          <EmptyLane key={lane} lane={lane} />
        ))}
      </div>
    </DndContext>
  );
}

/** A lane that holds nothing: what would fill it, and a place to put a bead into. */
function EmptyLane({ lane }: { lane: Lane }) {
  const { setNodeRef, isOver } = useDroppable({ id: lane });
  return (
    <div ref={setNodeRef} className={clsx(isOver && 'rounded-[9px] bg-cream/20')} data-lane={lane}>
      <Add lane={lane} named />
    </div>
  );
}

/** With the pointer, the item under it, a bead before its lane; with the keyboard, the nearest bead. */
const beadOrLane: CollisionDetection = (args) => {
  if (!args.pointerCoordinates) return closestCenter(args);
  const under = pointerWithin(args);
  const bead = under.find(({ id }) => !(LANES as ReadonlyArray<string>).includes(String(id)));
  return bead ? [bead] : under;
};

function SharedBuild({ piece }: { piece: Piece }) {
  const scene = useScene();
  const original = originalOf(useApp(piecesById), piece);
  return (
    <>
      Built as {original.name ?? original.id}, whose twin it is.{' '}
      <button className="px-1 py-0 underline" onClick={() => editHere(scene, piece.id)}>
        Edit the build here
      </button>
    </>
  );
}

/** The line the lanes hang on. */
const LANE_LINE =
  "before:absolute before:top-6 short:before:top-5 before:right-0 before:left-30.5 before:h-0.5 before:bg-ink-3 before:content-['']";

const NO_REPORTS: StepReport[] = [];

function Who({ piece, ms }: { piece: Piece | null; ms?: number }) {
  const scene = useScene();
  const p = useProgress();
  return (
    <div className="who flex w-27.5 flex-none flex-col justify-center leading-[1.3]">
      <b className="overflow-hidden text-[14px] text-ellipsis whitespace-nowrap" title={piece?.name}>
        {piece?.name ?? 'Build'}
      </b>
      {p ? (
        <span
          className="working overflow-hidden text-[11.5px] text-ellipsis whitespace-nowrap text-cobalt"
          role="status"
        >
          {Math.floor(p.done) + 1}/{p.total} {p.label}
          <button className="px-1 py-0 underline" onClick={() => scene.builds.cancel()}>
            stop
          </button>
          <progress
            className="block h-0.75 w-full appearance-none border-0 bg-line [&::-webkit-progress-bar]:bg-line [&::-webkit-progress-value]:bg-cobalt"
            value={p.done}
            max={p.total}
            aria-label="How far"
          />
        </span>
      ) : (
        piece &&
        !('group' in piece.base) && (
          <span className="ms short:hidden text-[11.5px] text-ash">
            {ms === undefined ? '…' : `build ${milliseconds(ms)}`}
          </span>
        )
      )}
    </div>
  );
}

const milliseconds = (ms: number): string => (ms < 1 ? '< 1 ms' : `${Math.round(ms)} ms`);

/** The command a lane offers: the first that any kind of it has; a hole in hand where that needs pieces to cut with. */
const offerOf = (lane: Lane, alone: boolean): string | null => {
  const kind = Object.values(STEPS).find((k) => k.lane === lane && k.adds);
  if (!kind) return null;
  const [first] = kind.adds!;
  return first.consumes && alone ? 'place-hole' : addsId(kind.kind, first);
};

interface LaneProps {
  lane: Lane;
  piece: Piece;
  reports: StepReport[];
}

const LaneView = memo(function LaneView({ lane, piece, reports }: LaneProps) {
  const act = useAct();
  const stage = useApp((s) => s.view.stage);
  const steps = (piece.steps ?? [])
    .map((step, index) => ({ step, index }))
    .filter(({ step }) => laneOf(step) === lane);
  const { setNodeRef, isOver } = useDroppable({ id: lane });
  return (
    <div
      className={clsx(
        'lane relative flex flex-none gap-1.5 border-l border-l-ink-3 px-2.5 pt-4.75 short:items-center short:pt-0',
        (stage === lane || isOver) && 'bg-cream/14',
      )}
      ref={setNodeRef}
      data-lane={lane}
    >
      <button
        className="absolute top-0.5 left-1.5 short:hidden rounded-[4px] px-1 py-0 text-[10.5px] font-semibold text-ash"
        title={`Hold to see the piece before ${lane}`}
        onPointerDown={() => act(viewActions.stageShown(lane))}
        onPointerUp={() => act(viewActions.stageShown(null))}
        onPointerLeave={() => stage === lane && act(viewActions.stageShown(null))}
      >
        {lane}
      </button>
      {lane === 'Form' && <BaseBead piece={piece} />}
      <SortableContext
        items={steps.map(({ index }) => String(index))}
        strategy={horizontalListSortingStrategy}
      >
        {steps.map(({ step, index }) => (
          <Bead
            pieceId={piece.id}
            key={step.id ?? index}
            step={step}
            index={index}
            report={reports.find((r) => r.index === index)}
          />
        ))}
      </SortableContext>
      <Add lane={lane} />
    </div>
  );
});

/** Steps that a lane offers to add. @param named with the lane's name, where nothing else tells it */
function Add({ lane, named }: { lane: Lane; named?: boolean }) {
  const scene = useScene();
  const alone = useApp((s) => s.hand.selected.length < 2);
  const offer = lane === 'Form' ? null : offerOf(lane, alone);
  if (!offer) return null;
  return (
    <button
      className={clsx(
        'add border border-dashed border-rule bg-ink-0 text-ash',
        named
          ? 'rounded-[9px] px-1.75 py-0 text-[11px]'
          : 'grid size-4.5 flex-none place-items-center self-center rounded-full p-0',
      )}
      aria-label={named ? `${lane}: ${commandById(offer).title}` : commandById(offer).title}
      title={commandById(offer).title}
      onClick={() => commandById(offer).run(scene)}
    >
      <Plus size={11} aria-hidden /> {named && lane}
    </button>
  );
}

/** While a bead is pointed at, what it made is lit; while a face is, the beads that led to it are. */
function useMaking(bead: string) {
  const act = useAct();
  const told = useApp((s) => s.hints.story.some((by) => by === bead || by.startsWith(`${bead}#`)));
  const point = (): void => void act(hintActions.beadPointed(bead));
  const leave = (): void => void act(hintActions.beadPointed(null));
  return { told, point: { onPointerEnter: point, onPointerLeave: leave, onFocus: point, onBlur: leave } };
}

const BEAD =
  'relative block h-11 short:h-8 max-w-37.5 min-w-23 overflow-hidden rounded-[6px_6px_14px_14px] border border-t-3 px-2.25 py-0.75 text-left leading-[1.3] whitespace-nowrap';
const BEAD_NAME = 'flex items-center gap-1.25 overflow-hidden font-semibold text-ellipsis';
const BEAD_NUMBER = 'block short:hidden overflow-hidden text-[11.5px] text-ash not-italic text-ellipsis';
const CHOSEN = 'on border-cobalt bg-bead-chosen';
/** This bead made the face under the pointer. */
const TOLD = 'told shadow-[inset_0_-2px_0_var(--color-cream)]';

function BaseBead({ piece }: { piece: Piece }) {
  const act = useAct();
  const chosen = useApp((s) => s.hand.step === null);
  const making = useMaking(piece.id);
  return (
    <button
      className={clsx(
        'bead base',
        BEAD,
        making.told && TOLD,
        chosen ? CHOSEN : 'border-line border-t-porcelain bg-ink-2',
      )}
      {...making.point}
      onClick={() => act(handActions.stepChosen(null))}
    >
      <b className={BEAD_NAME}>{baseTitle(piece)}</b>
      <i className={BEAD_NUMBER}>{baseKey(piece)}</i>
    </button>
  );
}

interface BeadProps {
  pieceId: string;
  step: Step;
  index: number;
  report?: StepReport;
}

function Bead({ pieceId, step, index, report }: BeadProps) {
  const scene = useScene();
  const act = useAct();
  const chosen = useApp((s) => s.hand.step === index);
  const byId = useApp((s) => s.document.pieces);
  const warned = warningOf(report);
  const problem = report?.fault?.message ?? warned;
  const making = useMaking(beadOf(pieceId, step, index));
  const { setNodeRef, attributes, listeners, transform, transition } = useSortable({ id: String(index) });
  return (
    <button
      className={clsx(
        'bead',
        BEAD,
        making.told && TOLD,
        step.off && 'border-dashed',
        chosen ? 'on bg-bead-chosen' : 'bg-ink-2',
        report?.fault
          ? 'broken border-ember'
          : clsx(
              chosen ? 'border-cobalt' : 'border-line',
              warned ? 'warn border-t-ember' : chosen || 'border-t-ash',
            ),
        report?.fault ? 'text-fault' : step.off && 'text-ash',
      )}
      title={problem}
      {...making.point}
      aria-pressed={chosen}
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      aria-describedby={attributes['aria-describedby']}
      onPointerDown={listeners?.onPointerDown as React.PointerEventHandler}
      onKeyDown={(e) => {
        if (picksUp(e)) listeners?.onKeyDown(e);
        // Alt with an arrow moves the bead along its lane.
        if (!e.altKey || (e.key !== 'ArrowLeft' && e.key !== 'ArrowRight')) return;
        e.preventDefault();
        shiftStep(scene, pieceId, index, e.key === 'ArrowLeft' ? -1 : 1);
      }}
      onClick={() => act(handActions.stepChosen(index))}
    >
      <b className={BEAD_NAME}>
        {stepTitle(step, byId)}
        {report?.fault ? (
          <CircleX className="flex-none" size={11} aria-label="fault" />
        ) : warned ? (
          <TriangleAlert className="flex-none text-ember" size={11} aria-label="warning" />
        ) : null}
      </b>
      <i className={BEAD_NUMBER}>{step.off ? 'off' : report ? beadKey(report) : '…'}</i>
    </button>
  );
}

/** Warnings, in sentences. */
const warningOf = (r: StepReport | undefined): string => (r?.warnings ?? []).map((w) => w.message).join(' ');

const beadKey = (r: StepReport): string =>
  r.fault ? 'cannot act' : r.ms >= 0.5 ? `${r.key} · ${milliseconds(r.ms)}` : r.key;

function baseTitle({ base, actions }: Piece): string {
  if (actions?.length) return 'Mesh';
  if ('taken' in base) return 'Taken out';
  return 'primitive' in base ? PRIMITIVES[base.primitive].title : 'Mesh';
}

function baseKey({ base, actions }: Piece): string {
  if (actions?.length) return `${actions.length} ${actions.length === 1 ? 'edit' : 'edits'}`;
  if ('taken' in base) return base.clearance ? `−${formatNumber(base.clearance)} mm` : 'no clearance';
  if (!('primitive' in base)) return 'stored';
  const p = completePrimitive(base as Primitive);
  return PRIMITIVES[p.primitive].key(p, formatNumber);
}

/** A sortable list of the kinds of faces in a piece: the first one leads where normals differ. */
import { useEffect } from 'react';
import { clsx } from 'clsx';
import { closestCenter, DndContext, type DragEndEvent } from '@dnd-kit/core';
import {
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { GripVertical } from 'lucide-react';
import { FACE_LEADS, type FaceLead } from '@urnsmith/core/shading/leads';
import { announcing, HOW_TO_DRAG, useListSensors } from '../../ui/dragging';
import { hintActions } from '../../state/hintSlice';
import { seeLeads } from '../../state/seenShading';
import { useAct } from '../../state/store';
import { useBuilt, useScene } from '../../state/useScene';
import type { StepProps } from './stepProps';

const NAMES: Record<FaceLead, string> = {
  flat: 'Flat faces',
  wall: 'Curved walls',
  rounding: 'Roundings',
  corner: 'Corners of roundings',
};

interface Props extends Pick<StepProps, 'piece'> {
  value: unknown;
  onChange: (v: unknown) => void;
}

export function LeadsField({ piece, value, onChange }: Props) {
  const scene = useScene();
  const act = useAct();
  const display = useBuilt(piece.id)?.display;
  useEffect(() => {
    let gone = false;
    if (display) void seeLeads(scene, piece.id, display, () => !gone);
    return () => {
      gone = true;
      scene.store.dispatch(hintActions.leadPointed(null));
    };
  }, [scene, piece.id, display]);
  const sensors = useListSensors(sortableKeyboardCoordinates);
  const given = value as FaceLead[];
  const order = [...given, ...FACE_LEADS.filter((x) => !given.includes(x))];
  const counts = display?.shading?.kinds;
  const shown = order.filter((x) => !counts || counts[x] > 0);
  const marked = display?.shading?.marked ?? 0;
  const dropped = ({ active, over }: DragEndEvent): void => {
    const [from, to] = [active.id, over?.id].map((x) => order.indexOf(x as FaceLead));
    if (from >= 0 && to >= 0 && from !== to) onChange(arrayMove(order, from, to));
  };
  return (
    <div className="px-3 py-1" role="group" aria-label="Who leads">
      <p className="lab pb-0.5">Who leads where two surfaces meet</p>
      {marked > 0 && (
        <div className="flex items-center gap-2 py-0.5 pl-6 text-mist">
          Faces marked to lead <span className="dim ml-auto">{marked}</span>
        </div>
      )}
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragEnd={dropped}
        accessibility={{
          announcements: announcing((id) => NAMES[id as FaceLead], 'Before'),
          screenReaderInstructions: HOW_TO_DRAG,
        }}
      >
        <SortableContext items={shown} strategy={verticalListSortingStrategy}>
          {shown.map((x) => (
            <Row
              key={x}
              lead={x}
              count={counts?.[x]}
              onPointed={(on) => act(hintActions.leadPointed(on ? x : null))}
            />
          ))}
        </SortableContext>
      </DndContext>
    </div>
  );
}

function Row({
  lead,
  count,
  onPointed,
}: {
  lead: FaceLead;
  count?: number;
  onPointed: (on: boolean) => void;
}) {
  const { setNodeRef, listeners, attributes, transform, transition, isDragging } = useSortable({ id: lead });
  return (
    <div
      ref={setNodeRef}
      {...attributes}
      {...listeners}
      data-lead={lead}
      className={clsx(
        'flex cursor-grab items-center gap-2 rounded-[7px] py-0.5 hover:bg-ink-2',
        isDragging && 'bg-ink-2',
      )}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      onPointerEnter={() => onPointed(true)}
      onPointerLeave={() => onPointed(false)}
    >
      <GripVertical size={13} className="flex-none text-ash" aria-hidden />
      {NAMES[lead]}
      <span className="dim ml-auto">{count}</span>
    </div>
  );
}

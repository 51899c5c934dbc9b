'use client';

import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type Announcements,
  type DragEndEvent,
} from '@dnd-kit/core';
import {
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { GripVertical } from 'lucide-react';
import { useId, useState, type ReactNode } from 'react';

interface Item {
  id: number;
  name: string;
}

interface SortableProps<T extends Item> {
  items: readonly T[];
  /** What is put into order, for whoever cannot see it. */
  label: string;
  render: (item: T, handle: ReactNode) => ReactNode;
  /** Keeps the new order; false puts the old one back. */
  onOrder: (ids: number[]) => Promise<boolean>;
  /** What stands behind the last item. */
  children?: ReactNode;
}

const HOW = 'Press space to lift it, the arrow keys to move it, space to put it down, escape to leave it.';

/** A list put into order by dragging, or by keyboard: space lifts, arrows move, space puts down. */
export function Sortable<T extends Item>({ items, label, render, onOrder, children }: SortableProps<T>) {
  const id = useId();
  const [moved, setMoved] = useState<number[] | null>(null);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const order = moved ?? items.map((item) => item.id);
  const places = new Map(order.map((one, i) => [one, i]));
  // What has come since it was put into order stands behind.
  const place = (item: T) => places.get(item.id) ?? order.length;
  const shown = [...items].sort((a, b) => place(a) - place(b));
  const nameOf = (one: number | string) => items.find((item) => item.id === one)?.name ?? '';
  const placeOf = (one: number | string) => shown.findIndex((item) => item.id === one) + 1;
  const announcements: Announcements = {
    onDragStart: ({ active }) => `Lifted ${nameOf(active.id)}.`,
    onDragOver: ({ active, over }) => {
      if (!over) return undefined;
      const place = `place ${placeOf(over.id)} of ${shown.length}`;
      return active.id === over.id
        ? `${nameOf(active.id)} is lifted from ${place}.`
        : `${nameOf(active.id)} is over ${place}.`;
    },
    onDragEnd: ({ active, over }) =>
      over ? `${nameOf(active.id)} put down at place ${placeOf(over.id)} of ${shown.length}.` : undefined,
    onDragCancel: ({ active }) => `${nameOf(active.id)} stays where it was.`,
  };
  const drop = async ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    const ids = shown.map((item) => item.id);
    const next = arrayMove(ids, ids.indexOf(Number(active.id)), ids.indexOf(Number(over.id)));
    setMoved(next);
    if (!(await onOrder(next))) setMoved(null);
  };
  return (
    <DndContext
      id={id}
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={(event) => void drop(event)}
      accessibility={{ announcements, screenReaderInstructions: { draggable: HOW } }}
    >
      <SortableContext items={shown.map((item) => item.id)} strategy={verticalListSortingStrategy}>
        <ul aria-label={label}>
          {shown.map((item) => (
            <Row key={item.id} item={item} render={render} />
          ))}
          {children}
        </ul>
      </SortableContext>
    </DndContext>
  );
}

function Row<T extends Item>({ item, render }: { item: T; render: SortableProps<T>['render'] }) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } =
    useSortable({ id: item.id });
  const handle = (
    <button
      type="button"
      ref={setActivatorNodeRef}
      {...attributes}
      {...listeners}
      className="text-muted hover:text-ink grid size-7 shrink-0 cursor-grab touch-none place-items-center rounded"
      aria-label={`Move ${item.name}`}
    >
      <GripVertical size={16} aria-hidden />
    </button>
  );
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition: transition ?? undefined }}
      className={isDragging ? 'bg-quiet relative z-10 rounded-lg opacity-90 shadow' : ''}
    >
      {render(item, handle)}
    </li>
  );
}

// Dragging things of a list by a handle. What can be dragged can be moved by keys as well, where it is used.
import {
  closestCenter,
  DndContext,
  PointerSensor,
  pointerWithin,
  useDroppable,
  useSensor,
  useSensors,
  type CollisionDetection,
  type DragEndEvent,
} from '@dnd-kit/core';
import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import type { CSSProperties, ReactNode } from 'react';
import classes from './Sortable.module.css';

/** The innermost thing under the pointer, or else the nearest. */
const innermost: CollisionDetection = (args) => {
  const under = pointerWithin(args);
  if (under.length === 0) return closestCenter(args);
  return [...under].sort((a, b) => height(args, a.id) - height(args, b.id));
};
const height = (args: Parameters<CollisionDetection>[0], id: string | number): number =>
  args.droppableRects.get(id)?.height ?? Infinity;

export function Dragging({
  onMove,
  children,
}: {
  readonly onMove: (from: string, to: string) => void;
  readonly children: ReactNode;
}) {
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }));
  const end = ({ active, over }: DragEndEvent): void => {
    if (over && over.id !== active.id) onMove(String(active.id), String(over.id));
  };
  return (
    <DndContext sensors={sensors} collisionDetection={innermost} onDragEnd={end}>
      {children}
    </DndContext>
  );
}

export function SortableItems({
  ids,
  children,
}: {
  readonly ids: readonly string[];
  readonly children: ReactNode;
}) {
  return (
    <SortableContext items={[...ids]} strategy={verticalListSortingStrategy}>
      {children}
    </SortableContext>
  );
}

export interface Drag {
  readonly hold: (node: HTMLElement | null) => void;
  readonly style: CSSProperties;
  readonly isDragging: boolean;
  /** To be put where the thing is taken hold of; for the pointer only. */
  readonly handle: ReactNode;
}

export function useDrag(id: string, disabled: boolean): Drag {
  const { setNodeRef, setActivatorNodeRef, listeners, transform, transition, isDragging } =
    useSortable({ id, disabled });
  return {
    hold: setNodeRef,
    isDragging,
    style: {
      transform: CSS.Translate.toString(transform),
      transition,
      ...(isDragging ? { zIndex: 5, opacity: 0.7 } : {}),
    },
    handle: disabled ? null : (
      <span
        ref={setActivatorNodeRef}
        className={classes.handle}
        aria-hidden
        title="drag to move"
        {...listeners}
      />
    ),
  };
}

/** A place to drop into that may be empty. */
export function DropPlace({ id, children }: { readonly id: string; readonly children: ReactNode }) {
  const { setNodeRef, isOver } = useDroppable({ id });
  return (
    <div ref={setNodeRef} className={isOver ? classes.here : undefined}>
      {children}
    </div>
  );
}

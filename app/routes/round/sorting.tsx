import {
  type Announcements,
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { useEffect, useLayoutEffect } from "react";
import { words } from "../../words";
import { type Props, rowId, type Sorted } from "./call-row";

// The same objects at every drawing: with new ones every row would be bound, and tell of it, without an end.
const BY_POINTER = { activationConstraint: { distance: 6 } };
const BY_KEYS = { coordinateGetter: sortableKeyboardCoordinates };

/**
 * Lets the calls that are drawn be put in another order. It comes behind the first page, and binds itself to the
 * rows that stand there: a list drawn anew would take a button from under a finger, and what was typed with it.
 */
export default function Sorting({
  rows,
  moved,
  tell,
}: {
  rows: readonly Props[];
  moved: (id: string, to: string) => void;
  tell: (id: string, sorted: Sorted) => void;
}) {
  const sensors = useSensors(useSensor(PointerSensor, BY_POINTER), useSensor(KeyboardSensor, BY_KEYS));
  const drop = ({ active, over }: DragEndEvent) => {
    if (over && active.id !== over.id) moved(`${active.id}`, `${over.id}`);
  };
  const ids = rows.map(({ call }) => call.basin.id);
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={drop}
      accessibility={{
        announcements: announcementsOf(rows),
        screenReaderInstructions: { draggable: words.round.sorting.how },
      }}
      id="round"
    >
      <SortableContext items={ids} strategy={verticalListSortingStrategy}>
        {ids.map((id) => (
          <Bound key={id} id={id} tell={tell} />
        ))}
      </SortableContext>
    </DndContext>
  );
}

/** What is told of a call while it moves, to whoever does not see it. */
function announcementsOf(rows: readonly Props[]): Announcements {
  const said = words.round.sorting;
  const name = (id: string | number) => rows.find(({ call }) => call.basin.id === id)?.call.basin.name ?? "";
  const place = (id: string | number) => rows.findIndex(({ call }) => call.basin.id === id) + 1;
  return {
    onDragStart: ({ active }) =>
      said.picked({ name: name(active.id), place: place(active.id), of: rows.length }),
    onDragOver: ({ active, over }) =>
      over ? said.over({ name: name(active.id), place: place(over.id), of: rows.length }) : undefined,
    onDragEnd: ({ active, over }) =>
      said.dropped({ name: name(active.id), place: place((over ?? active).id), of: rows.length }),
    onDragCancel: ({ active }) => said.canceled({ name: name(active.id), place: place(active.id) }),
  };
}

/** Binds one row, by pointer and by keys, and tells it where it is while it moves. */
function Bound({ id, tell }: { id: string; tell: (id: string, sorted: Sorted) => void }) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } =
    useSortable({ id });
  useLayoutEffect(() => {
    const row = document.getElementById(rowId(id));
    setNodeRef(row);
    setActivatorNodeRef(row?.querySelector<HTMLElement>("[data-grip]") ?? null);
  });
  const translate = CSS.Translate.toString(transform);
  useEffect(
    () =>
      tell(id, {
        isDragging,
        style: { transform: translate, transition },
        grip: { ...attributes, ...listeners },
      }),
    [id, tell, isDragging, translate, transition, attributes, listeners],
  );
  return null;
}

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
import { words } from "../../words";
import { CallRow, type Props } from "./call-row";

/** The calls as they can be put in another order; what drags comes behind the first page. */
export default function SortableCalls({
  rows,
  moved,
}: {
  rows: Props[];
  moved: (id: string, to: string) => void;
}) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const drop = ({ active, over }: DragEndEvent) => {
    if (over && active.id !== over.id) moved(`${active.id}`, `${over.id}`);
  };
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
      <SortableContext items={rows.map(({ call }) => call.basin.id)} strategy={verticalListSortingStrategy}>
        <ol className="grid gap-3">
          {rows.map((row) => (
            <SortableCall key={row.call.basin.id} {...row} />
          ))}
        </ol>
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

/** A call that can be dragged to another place, by pointer or by keys. */
function SortableCall(props: Props) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } =
    useSortable({
      id: props.call.basin.id,
    });
  return (
    <CallRow
      {...props}
      dragging={isDragging}
      row={{ ref: setNodeRef, style: { transform: CSS.Translate.toString(transform), transition } }}
      grip={{ ref: setActivatorNodeRef, ...attributes, ...listeners }}
    />
  );
}

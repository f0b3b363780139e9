import {
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
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop} id="round">
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

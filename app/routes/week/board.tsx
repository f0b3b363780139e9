import {
  type Announcements,
  type CollisionDetection,
  closestCenter,
  DndContext,
  type DragEndEvent,
  type DragStartEvent,
  KeyboardCode,
  type KeyboardCoordinateGetter,
  KeyboardSensor,
  PointerSensor,
  pointerWithin,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { CSS } from "@dnd-kit/utilities";
import { GripVertical } from "lucide-react";
import { type RefObject, useRef, useState } from "react";
import { Link } from "react-router";
import { weekdayOf } from "#core";
import type { WorkersWeek } from "../../pages/week.server";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { Refused } from "../../ui/refused";
import { useClientId } from "../../ui/use-client-id";
import { useCommand } from "../../ui/use-command";
import { useFresh } from "../../ui/use-fresh";
import { durationText, onDay, ruleTexts, words } from "../../words";
import { namesOf } from "./names";

type Call = WorkersWeek["calls"][number];
type Move = (call: Call, to: { day: string; memberId: string | null } | null) => void;

const BY_POINTER = { activationConstraint: { distance: 6 } };
const ANYBODY = "anybody";
const cellId = (day: string, memberId: string | null) => `${day} ${memberId ?? ANYBODY}`;
interface CellPlace {
  day: string;
  memberId: string | null;
}
const cellOf = (id: string): CellPlace => {
  const [day = "", member = ANYBODY] = id.split(" ");
  return { day, memberId: member === ANYBODY ? null : member };
};
const cardId = ({ day, basinId }: Call) => `${day} ${basinId}`;

/** Days beside people: each stop a card that is dragged, by pointer or keys, or moved by its form. */
export function Board({ week }: { week: WorkersWeek }) {
  const said = words.week;
  const names = namesOf(week);
  const { dispatch, answer } = useCommand<"move-calls">("/week");
  const idFor = useClientId(answer);
  useFresh(answer);
  const [shown, show] = useState(week.days[0] ?? "");
  const day = week.days.includes(shown) ? shown : (week.days[0] ?? "");
  const rows = [...week.members.map(({ id }) => id), null].filter(
    (id) => id !== null || week.calls.some(({ memberId }) => memberId === null),
  );
  const move: Move = ({ basinId, day: from, memberId }, to) => {
    if (to && to.day === from && to.memberId === memberId) return;
    const move = { basinId, from, to: to?.day ?? null, memberId: to ? to.memberId : memberId };
    const versions = versionsOf(week, [from, to?.day]);
    void dispatch("move-calls", { id: idFor([move, versions]), versions, moves: [move], orders: [] });
  };
  const byKeys = useRef<CellPlace | null>(null);
  const sensors = useSensors(
    useSensor(PointerSensor, BY_POINTER),
    useSensor(KeyboardSensor, { coordinateGetter: fromCellToCell(week.days, rows, byKeys) }),
  );
  const pickUp = ({ active, activatorEvent }: DragStartEvent) => {
    const call = week.calls.find((one) => cardId(one) === active.id);
    byKeys.current = call && activatorEvent instanceof KeyboardEvent ? call : null;
  };
  const drop = ({ active, over }: DragEndEvent) => {
    const call = week.calls.find((one) => cardId(one) === active.id);
    if (call && over) move(call, cellOf(`${over.id}`));
  };
  return (
    <section aria-label={said.title} className="grid gap-3">
      <Refused answer={answer} />
      <div className="wide:hidden">
        <Field label={said.day}>
          <select value={day} onChange={(event) => show(event.target.value)}>
            {week.days.map((one) => (
              <option key={one} value={one}>
                {onDay(one)}
              </option>
            ))}
          </select>
        </Field>
      </div>
      <DndContext
        id="week"
        sensors={sensors}
        collisionDetection={cellUnder(byKeys)}
        onDragStart={pickUp}
        onDragEnd={drop}
        accessibility={{
          announcements: announcementsOf(week),
          screenReaderInstructions: { draggable: said.drag.how },
        }}
      >
        <div className="overflow-x-auto">
          <table className="w-full border-collapse wide:min-w-[62rem] wide:table-fixed">
            <thead>
              <tr>
                <th className="p-1 text-left text-sm font-normal text-soft wide:w-20">{said.who}</th>
                {week.days.map((one) => (
                  <th
                    key={one}
                    scope="col"
                    className={`p-1 text-left text-sm font-semibold ${one === day ? "" : "max-wide:hidden"}`}
                  >
                    {one === week.today ? (
                      <Link to="/" className="link">
                        {onDay(one)}
                      </Link>
                    ) : (
                      <Link to={`/?day=${one}`} className="link">
                        {onDay(one)}
                      </Link>
                    )}
                    {week.closed.includes(one) ? (
                      <span className="block font-normal text-soft">{said.closed}</span>
                    ) : null}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {rows.map((memberId) => (
                <tr key={memberId ?? ANYBODY} className="border-t border-rule align-top">
                  <th scope="row" className="p-1 text-left text-sm font-semibold">
                    {names.who(memberId ?? "")}
                  </th>
                  {week.days.map((one) => (
                    <Cell
                      key={one}
                      day={one}
                      memberId={memberId}
                      week={week}
                      move={move}
                      className={one === day ? "" : "max-wide:hidden"}
                    />
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      </DndContext>
      {week.broken.length > 0 ? (
        <section className="sheet grid gap-1 border-l-4 !border-l-below p-4">
          <h2 className="text-xl font-semibold">{said.broken}</h2>
          <ul className="grid gap-1">
            {ruleTexts(week.broken, names).map((text) => (
              <li key={text}>{text}</li>
            ))}
          </ul>
        </section>
      ) : null}
    </section>
  );
}

/** The versions in which some days of the week were seen. */
export const versionsOf = (
  { versions }: Pick<WorkersWeek, "versions">,
  days: readonly (string | null | undefined)[],
): Record<string, number> =>
  Object.fromEntries(days.flatMap((day) => (day ? [[day, versions[day] ?? 0] as const] : [])));

interface CellProps {
  day: string;
  memberId: string | null;
  week: WorkersWeek;
  move: Move;
  className: string;
}

function Cell({ day, memberId, week, move, className }: CellProps) {
  const said = words.week;
  const { setNodeRef, isOver } = useDroppable({ id: cellId(day, memberId) });
  const calls = week.calls.filter((call) => call.day === day && call.memberId === memberId);
  const member = week.members.find(({ id }) => id === memberId);
  const hours = member ? (member.week.hours[weekdayOf(day) - 1] ?? 0) : null;
  const isOff = member !== undefined && (hours === 0 || member.week.off.includes(day));
  const minutes = calls.reduce((sum, call) => sum + call.minutes + (call.way ?? 0), 0);
  return (
    <td ref={setNodeRef} className={`p-1 ${isOver ? "bg-band" : ""} ${className}`}>
      <div className="grid min-h-[3rem] content-start gap-1.5">
        <p className="text-xs text-soft">
          {calls.length === 0 ? (
            isOff ? (
              said.off
            ) : (
              <span className="sr-only">{said.free}</span>
            )
          ) : hours ? (
            said.used({ used: durationText(minutes * 60), hours: durationText(hours * 60) })
          ) : (
            said.usedOnly({ used: durationText(minutes * 60) })
          )}
        </p>
        {calls.map((call) => (
          <Card key={cardId(call)} call={call} week={week} move={move} />
        ))}
      </div>
    </td>
  );
}

function Card({ call, week, move }: { call: Call; week: WorkersWeek; move: Move }) {
  const said = words.week;
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, isDragging } = useDraggable({
    id: cardId(call),
    disabled: call.done,
  });
  const [isOpen, open] = useState(false);
  const basin = week.basins.find(({ id }) => id === call.basinId);
  const name = `${basin?.site ?? ""}, ${basin?.name ?? ""}`;
  return (
    <div
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform) }}
      className={`sheet grid gap-0.5 p-1.5 text-sm leading-snug ${isDragging ? "relative z-10 shadow-lg" : ""} ${call.done ? "text-soft" : ""}`}
      data-card={call.basinId}
    >
      <div className="grid grid-cols-[1fr_auto] items-start gap-1">
        <p>
          <span className="block font-semibold">{basin?.name}</span>
          <span className="block text-soft">{basin?.site}</span>
        </p>
        {call.done ? null : (
          <button
            type="button"
            ref={setActivatorNodeRef}
            {...attributes}
            {...listeners}
            aria-label={said.grip({ name })}
            className="no-print -mr-1 -mt-1 grid min-h-[44px] w-11 cursor-grab touch-none place-items-center text-soft"
          >
            <GripVertical size={18} aria-hidden="true" />
          </button>
        )}
      </div>
      <p className="text-xs text-soft">
        {!call.way
          ? said.minutes({ count: call.minutes })
          : (call.isEstimated ? said.withWayNew : said.withWay)({ count: call.minutes, way: call.way })}
      </p>
      {call.done ? <p className="text-xs">{said.done}</p> : null}
      {!call.done && call.lasts !== null && call.lasts < UNLIKELY ? (
        <p className="text-xs font-semibold text-below">
          {said.lasts({ percent: Math.round(100 * call.lasts) })}
        </p>
      ) : null}
      {call.calledOn ? (
        <p className="text-xs font-semibold">{said.moved.calledAt({ day: onDay(call.calledOn) })}</p>
      ) : null}
      {call.because === "event" ? <p className="text-xs">{said.event({ name: call.event ?? "" })}</p> : null}
      {call.because === "job" ? <p className="text-xs">{said.job}</p> : null}
      {call.done ? null : (
        <button
          type="button"
          className="no-print link min-h-[44px] min-w-[44px] cursor-pointer justify-self-start text-left text-xs"
          aria-expanded={isOpen}
          onClick={() => open(!isOpen)}
        >
          {said.move}
          <span className="sr-only">: {name}</span>
        </button>
      )}
      {isOpen ? <MoveForm call={call} week={week} move={move} close={() => open(false)} /> : null}
    </div>
  );
}

/** Under this chance a water is told as one that will not last. */
const UNLIKELY = 0.7;

function MoveForm({
  call,
  week,
  move,
  close,
}: {
  call: Call;
  week: WorkersWeek;
  move: Move;
  close: () => void;
}) {
  const said = words.week;
  const [day, setDay] = useState(call.day);
  const [memberId, setMember] = useState(call.memberId ?? "");
  return (
    <form
      className="no-print grid gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        close();
        move(call, { day, memberId: memberId || null });
      }}
    >
      <Field label={said.moveTo}>
        <input type="date" min={week.today} value={day} onChange={(event) => setDay(event.target.value)} />
      </Field>
      <Field label={said.who}>
        <select value={memberId} onChange={(event) => setMember(event.target.value)}>
          <option value="">{said.anybody}</option>
          {week.members.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      </Field>
      <Button disabled={day === ""}>{said.moveSave}</Button>
      <button
        type="button"
        className="link min-h-[44px] cursor-pointer justify-self-start"
        onClick={() => {
          close();
          move(call, null);
        }}
      >
        {said.moveOut}
      </button>
    </form>
  );
}

/** An arrow key leads to the next day or the next person. @param at the cell that keys have led to so far */
const fromCellToCell =
  (
    days: readonly string[],
    rows: readonly (string | null)[],
    at: RefObject<CellPlace | null>,
  ): KeyboardCoordinateGetter =>
  (event, { context: { droppableRects, collisionRect } }) => {
    const step = STEPS[event.code];
    const here = at.current;
    if (!step || !here) return undefined;
    event.preventDefault();
    const [day, memberId] = [
      days[days.indexOf(here.day) + step.days],
      rows[rows.indexOf(here.memberId) + step.rows],
    ];
    if (day === undefined || memberId === undefined) return undefined;
    const rect = droppableRects.get(cellId(day, memberId));
    if (!rect || !collisionRect) return undefined;
    at.current = { day, memberId };
    return { x: rect.left + (rect.width - collisionRect.width) / 2, y: rect.top };
  };

/** Where a card lies: by keys in the cell that they led to, by hand under the finger. */
const cellUnder =
  (at: RefObject<CellPlace | null>): CollisionDetection =>
  (args) => {
    if (at.current) {
      const id = cellId(at.current.day, at.current.memberId);
      const droppableContainer = args.droppableContainers.find((one) => one.id === id);
      return droppableContainer ? [{ id, data: { droppableContainer, value: 1 } }] : [];
    }
    const within = pointerWithin(args);
    return within.length > 0 ? within : closestCenter(args);
  };

const STEPS: Partial<Record<string, { days: number; rows: number }>> = {
  [KeyboardCode.Left]: { days: -1, rows: 0 },
  [KeyboardCode.Right]: { days: 1, rows: 0 },
  [KeyboardCode.Up]: { days: 0, rows: -1 },
  [KeyboardCode.Down]: { days: 0, rows: 1 },
};

/** What is told of a stop while it moves, to whoever does not see it. */
function announcementsOf(week: WorkersWeek): Announcements {
  const said = words.week.drag;
  const names = namesOf(week);
  const call = (id: string | number) => week.calls.find((one) => cardId(one) === id);
  const at = (id: string | number | undefined, card: string | number) => {
    const of = call(card);
    const cell = id === undefined ? of : cellOf(`${id}`);
    return {
      name: names.basin(of?.basinId ?? ""),
      day: cell?.day ? onDay(cell.day) : "",
      who: names.who(cell?.memberId ?? ""),
    };
  };
  return {
    onDragStart: ({ active }) => said.picked(at(undefined, active.id)),
    onDragOver: ({ active, over }) => (over ? said.over(at(over.id, active.id)) : undefined),
    onDragEnd: ({ active, over }) => said.dropped(at(over?.id, active.id)),
    onDragCancel: ({ active }) => said.canceled(at(undefined, active.id)),
  };
}

import { GripVertical, OctagonX, TrendingUpDown } from "lucide-react";
import { type ComponentProps, useState } from "react";
import { Link } from "react-router";
import { everydayAmount, productForm } from "#core";
import type { RoundData } from "../../pages/round.server";
import { Button } from "../../ui/button";
import { crossingText } from "../../ui/crossing";
import { Field } from "../../ui/field";
import { FindingFlag } from "../../ui/finding-flag";
import { ago, amountText, dayText, volumeText } from "../../ui/format";
import { GettingIn } from "../../ui/getting-in";
import { NamedOptions } from "../../ui/options";
import { Refused } from "../../ui/refused";
import { StartVisit } from "../../ui/start-visit";
import { useClientId } from "../../ui/use-client-id";
import { useFirm } from "../../ui/use-firm";
import { useWriters } from "../../ui/use-writers";
import { bathingReason, listText, quantityShort, taskText, words, workShort } from "../../words";
import type { StopTakes } from "./takes";
import { useRoundCommand } from "./use-round-command";

/** Stabiliser and calcium move in weeks: what is expected of them is read on the basin's own page. */
const isPressing = ({ quantity }: RoundCall["crossings"][number]): boolean =>
  quantity !== "calciumHardness" && quantity !== "cyanuricAcid";

type RoundCall = RoundData["round"]["calls"][number];

export interface Props {
  call: RoundCall;
  number: number;
  data: RoundData;
  now: Date;
  /** Minutes to get here and at the water; null where nothing is to be made any more. */
  takes: StopTakes | null;
  /** Gives a command that needs no form; thirty calls share one. */
  dispatch: ReturnType<typeof useRoundCommand>["dispatch"];
}

/** What a row is told by what lets it be dragged, once that is there. */
export interface Sorted {
  isDragging: boolean;
  style: ComponentProps<"li">["style"];
  /** The events and marks of its grip. */
  grip: ComponentProps<"button">;
}

/** The id by which a call's row is found in the page. */
export const rowId = (basinId: string) => `call-${basinId}`;

/** One call: where, what was found last time, what is due, and the next step. */
export function CallRow({
  call,
  number,
  data,
  now,
  dispatch,
  takes,
  sorted,
}: Props & { sorted: Sorted | undefined }) {
  const { units, timeZone } = useFirm();
  const { basin, open, last, done, skipped, findings, shut, crossings } = call;
  const said = words.round;
  const isToday = data.round.day === data.round.today;
  return (
    <li
      id={rowId(basin.id)}
      style={sorted?.style}
      className={`sheet grid grid-cols-[2.75rem_1fr] items-start gap-x-3 gap-y-2 p-4 wide:grid-cols-[2.75rem_1fr_auto] ${sorted?.isDragging ? "relative z-10 shadow-lg" : ""} ${skipped ? "text-soft" : ""}`}
    >
      <div className="grid justify-items-center self-start">
        <span className={`text-2xl font-bold ${done ? "text-soft line-through" : ""}`}>{number}</span>
        <button
          type="button"
          className="no-print grid min-h-[44px] w-11 cursor-grab touch-none place-items-center text-soft"
          {...sorted?.grip}
          data-grip
          aria-label={said.move({ name: basin.name })}
        >
          <GripVertical size={20} aria-hidden="true" />
        </button>
      </div>
      <div className="grid gap-1">
        <h2 className="text-xl font-semibold">
          <Link to={`/basins/${basin.id}`} className="link">
            {basin.site.name}, {basin.name}
          </Link>
        </h2>
        <p className="text-soft">
          {basin.site.street}, {basin.site.district} · {words.kinds[basin.kind]},{" "}
          {volumeText(basin.litres, units)} ·{" "}
          {last ? said.lastSeen({ when: ago(last.finishedAt, now) }) : said.never}
          {takes ? ` · ${takesText(takes)}` : ""}
        </p>
        <p className="flex flex-wrap items-center gap-2">
          {findings.map((finding) => (
            <FindingFlag key={finding.code} finding={finding} />
          ))}
          {last && findings.length === 0 && !shut ? <span className="text-soft">{said.allRight}</span> : null}
        </p>
        {(call.jobs ?? []).map(({ kind, day }) => (
          <p key={kind} className="font-semibold">
            {words.jobs.day({ name: words.jobs.names[kind], day })}
          </p>
        ))}
        <GettingIn
          access={call.access}
          address={[basin.site.street, basin.site.district].filter(Boolean).join(", ")}
        />
        {shut && !open ? <Shut shut={shut} /> : null}
        {skipped || open
          ? null
          : crossings.filter(isPressing).map((crossing) => (
              <p key={crossing.quantity + crossing.edge} className="flex items-center gap-2">
                <TrendingUpDown size={18} aria-hidden="true" className="shrink-0 text-soft" />
                {crossingText(crossing, units, timeZone, now)}
              </p>
            ))}
        {skipped ? (
          <p>{said.skippedBy({ name: skipped.by, why: skipped.why })}</p>
        ) : (
          <ToDo call={call} dispatch={dispatch} />
        )}
      </div>
      <div className="no-print col-span-2 flex flex-wrap items-center gap-x-4 gap-y-2 wide:col-span-1 wide:grid wide:justify-items-end">
        {open ? <span className="text-soft">{said.underWay({ name: open.memberName })}</span> : null}
        {done && !open ? <span className="text-soft">{said.doneOn}</span> : null}
        {open ? (
          <Link to={`/visits/${open.id}`} className="action">
            {said.resume}
          </Link>
        ) : isToday ? (
          <StartVisit basinId={basin.id} quiet={done || skipped !== null}>
            {done ? said.again : said.start}
          </StartVisit>
        ) : null}
        <More call={call} data={data} />
      </div>
    </li>
  );
}

const takesText = ({ way, call }: StopTakes): string =>
  way ? words.round.takesWay({ way, minutes: call }) : words.round.takes({ minutes: call });

/** How it was left: closed, or untested, and why. */
function Shut({ shut }: { shut: NonNullable<RoundCall["shut"]> }) {
  const write = useWriters();
  return (
    <p className="flex items-start gap-2 font-medium text-above">
      <OctagonX size={18} aria-hidden="true" className="mt-1 shrink-0" />
      <span>
        {shut.state === "closed" ? words.round.leftClosed : words.round.leftUntested}{" "}
        {shut.because.map((reason) => bathingReason(reason, write)).join(" ")}
      </span>
    </p>
  );
}

/** What is due: tests in short, tasks, events, and what a call there usually takes. */
function ToDo({ call, dispatch }: Pick<Props, "call" | "dispatch">) {
  const { due, tasks, events, labelled, work = [], workMinutes, repairs = [] } = call;
  const { units } = useFirm();
  const said = words.round;
  const tests = due.map(quantityShort);
  return (
    <div className="grid gap-1">
      <p>
        <span className="text-soft">{said.due}</span> {tests.join(" · ") || said.noTests}
      </p>
      {tasks.length > 0 ? (
        <ul className="flex flex-wrap gap-2">
          {tasks.map((task) => (
            <TaskDue key={task.task} basinId={call.basin.id} task={task} dispatch={dispatch} />
          ))}
        </ul>
      ) : null}
      {work.length > 0 ? (
        <p>
          <span className="text-soft">{words.chores.stop}:</span> {work.map(workShort).join(" · ")}
          {workMinutes ? (
            <span className="text-soft">, {words.chores.minutes({ minutes: Math.round(workMinutes) })}</span>
          ) : null}
        </p>
      ) : null}
      {repairs.length > 0 ? (
        <p>
          <span className="text-soft">{words.repairs.title}:</span>{" "}
          {repairs
            .map(({ title, state }) => (state === "approved" ? words.repairs.onRound({ title }) : title))
            .join(" · ")}
        </p>
      ) : null}
      {labelled.map(({ product, compound, name, density, grams }) => (
        <p key={product}>
          {words.labelled.onRound({
            name,
            amount: amountText(everydayAmount(grams, { ...productForm(compound), density }, units)),
          })}
        </p>
      ))}
      {events.map((event) => (
        <p key={event.id}>
          <b>{dayText(event.day)}</b> {event.name}
        </p>
      ))}
    </div>
  );
}

function TaskDue({
  basinId,
  task,
  dispatch,
}: {
  basinId: string;
  task: RoundCall["tasks"][number];
  dispatch: Props["dispatch"];
}) {
  const id = useClientId(`${basinId} ${task.task}`);
  return (
    <li className="flex flex-wrap items-center gap-x-3 rounded-sm border border-rule px-2">
      {taskText(task)}
      <button
        type="button"
        className="no-print link min-h-[44px] min-w-[44px] cursor-pointer"
        aria-label={words.round.taskDoneOf({ task: taskText(task) })}
        onClick={() => dispatch("tick-task", { id: id(), basinId, task: task.task })}
      >
        {words.round.taskDone}
      </button>
    </li>
  );
}

/** Who makes the call, an event there, or why it is left out; opened when somebody wants it. */
function More(props: Pick<Props, "call" | "data">) {
  const [shown, show] = useState(false);
  if (shown) return <Opened {...props} />;
  return (
    <button type="button" className="link min-h-[44px] cursor-pointer" onClick={() => show(true)}>
      {words.round.more}
    </button>
  );
}

function Opened({ call, data }: Pick<Props, "call" | "data">) {
  const { units } = useFirm();
  const { dispatch, answer } = useRoundCommand();
  const { basin, skipped, events } = call;
  const { day, version } = data.round;
  const [why, setWhy] = useState("");
  const [eventDay, setEventDay] = useState("");
  const [eventName, setEventName] = useState("");
  const id = useClientId(`event ${basin.id} ${events.length}`);
  const said = words.round;
  return (
    <div className="grid w-full gap-3 wide:w-72">
      <Field label={said.who}>
        <select
          value={call.memberId ?? ""}
          onChange={(event) =>
            dispatch("assign-call", { day, version, basinId: basin.id, memberId: event.target.value || null })
          }
        >
          <option value="">{said.anybody}</option>
          <NamedOptions of={data.members} />
        </select>
      </Field>
      {call.load.length > 0 ? (
        <p className="text-sm text-soft">
          {said.usually}{" "}
          {listText(
            call.load
              .map(({ productId, grams }) => {
                const product = data.round.load.find((one) => one.productId === productId);
                return product
                  ? words.amountOf({
                      amount: amountText(
                        everydayAmount(
                          grams,
                          { ...productForm(product.product), density: product.density },
                          units,
                        ),
                      ),
                      product: product.name,
                    })
                  : "";
              })
              .filter(Boolean),
          )}
        </p>
      ) : null}
      {skipped ? (
        <Button
          type="button"
          quiet
          onClick={() => dispatch("skip-call", { day, basinId: basin.id, why: "" })}
        >
          {said.unskip}
        </Button>
      ) : (
        <form
          className="grid gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            dispatch("skip-call", { day, basinId: basin.id, why });
          }}
        >
          <Field label={said.skipWhy}>
            <input value={why} maxLength={400} required onChange={(event) => setWhy(event.target.value)} />
          </Field>
          <Button quiet>{said.skip}</Button>
        </form>
      )}
      <form
        className="grid grid-cols-2 gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          void dispatch("add-event", {
            id: id([eventDay, eventName]),
            basinId: basin.id,
            day: eventDay,
            name: eventName,
          });
          setEventName("");
        }}
      >
        <Field label={said.eventDay}>
          <input
            type="date"
            required
            value={eventDay}
            onChange={(event) => setEventDay(event.target.value)}
          />
        </Field>
        <Field label={said.eventName}>
          <input
            required
            maxLength={120}
            value={eventName}
            onChange={(event) => setEventName(event.target.value)}
          />
        </Field>
        <Button quiet className="col-span-2">
          {said.eventAdd}
        </Button>
      </form>
      {events.map((event) => (
        <p key={event.id} className="flex flex-wrap items-center justify-between gap-2">
          <span>{`${dayText(event.day)}: ${event.name}`}</span>
          <button
            type="button"
            className="link min-h-[44px] cursor-pointer"
            onClick={() => dispatch("remove-event", { id: event.id })}
          >
            {said.eventRemove}
          </button>
        </p>
      ))}
      <Refused answer={answer} />
    </div>
  );
}

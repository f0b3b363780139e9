import { ChevronLeft, ChevronRight, Ellipsis, Printer } from "lucide-react";
import { lazy, Suspense, useCallback, useEffect, useMemo, useState } from "react";
import { Link, useNavigate } from "react-router";
import { addDays, isDay } from "#core";
import { commandAction } from "../../commands";
import { inFirm } from "../../context";
import { page, roundKey } from "../../device/seam";
import { type RoundData, roundPage } from "../../pages/round.server";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { FirstSteps } from "../../ui/first-steps";
import { dayText, longDateText } from "../../ui/format";
import { offlineAware } from "../../ui/offline";
import { Refused } from "../../ui/refused";
import { useFresh } from "../../ui/use-fresh";
import { usePlaces } from "../../ui/use-places";
import { durationText, shipped, words } from "../../words";
import type { Route } from "./+types/route";
import { CallRow, type Sorted } from "./call-row";
import { LoadList } from "./load-list";
import { Missed } from "./missed";
import { takesOf } from "./takes";
import { useRoundCommand } from "./use-round-command";

/** The calls of a day, which the address may name; of everybody, or of one person. */
export const loader = ({ request, context }: Route.LoaderArgs) =>
  inFirm(context, (scope, member, now) => {
    const asked = new URL(request.url).searchParams;
    return roundPage(scope, member, now, { day: asked.get("day"), by: asked.get("by") });
  });

export const action = commandAction([
  "order-calls",
  "assign-call",
  "skip-call",
  "tick-task",
  "add-event",
  "remove-event",
]);

export async function clientLoader({ request, serverLoader }: Route.ClientLoaderArgs) {
  const asked = new URL(request.url).searchParams;
  const told = await page<Awaited<ReturnType<typeof roundPage>>>(
    serverLoader,
    await roundKey(asked.get("day")),
  );
  const by = asked.get("by");
  return { ...told, by: told.members.some(({ id }) => id === by) ? by : null };
}
clientLoader.hydrate = true as const;

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export const meta: Route.MetaFunction = () => [{ title: `${words.round.title} · ${words.product}` }];

const Sorting = lazy(() => import("./sorting"));

export default function Round({ loaderData }: Route.ComponentProps) {
  const { now, round, members, by, own, first } = loaderData;
  const said = words.round;
  const { dispatch, answer } = useRoundCommand();
  useFresh(answer);
  const navigate = useNavigate();
  const shown = round.calls.filter((call) => by === null || call.memberId === by || call.memberId === null);
  const ids = useOrder(shown.map((call) => call.basin.id));
  const calls = ids.order.flatMap((id) => shown.find((one) => one.basin.id === id) ?? []);
  // Dragging is wired up in the browser only: a server that draws thirty calls has no use for it.
  const [awake, wake] = useState(false);
  useEffect(() => wake(true), []);
  const [sorted, setSorted] = useState<Record<string, Sorted>>({});
  const tell = useCallback(
    (id: string, told: Sorted) => setSorted((others) => ({ ...others, [id]: told })),
    [],
  );
  const moved = (id: string, place: string) => {
    const from = ids.order.indexOf(id);
    const order = [...ids.order];
    order.splice(ids.order.indexOf(place), 0, ...order.splice(from, 1));
    ids.set(order);
    // Calls that are not shown keep their places after those that are.
    const rest = round.calls.map((call) => call.basin.id).filter((one) => !order.includes(one));
    void dispatch("order-calls", {
      day: round.day,
      version: round.version,
      basinIds: [...order, ...rest],
    });
  };
  // Calls that are made, or left out, stay where they are behind the rest.
  const byNeed = () => {
    const standing = round.calls.map((call, place) => ({ call, place }));
    const need = ({ call: { need, done, skipped } }: (typeof standing)[number]) =>
      done || skipped ? -1 : need;
    standing.sort((a, b) => need(b) - need(a) || a.place - b.place);
    const basinIds = standing.map(({ call }) => call.basin.id);
    ids.set(basinIds.filter((id) => ids.order.includes(id)));
    void dispatch("order-calls", { day: round.day, version: round.version, basinIds });
  };
  const to = (day: string, who = by) => {
    const query = new URLSearchParams();
    if (day !== round.today) query.set("day", day);
    if (who) query.set("by", who);
    return `/?${query}`;
  };
  // On a phone the day comes first; the rest stands behind one button, but for a filter that is on.
  const [isMore, showMore] = useState(by !== null);
  const takes = useMemo(() => takesOf(round.pace, calls), [round.pace, calls]);
  const rows = calls.map((call, index) => ({
    call,
    number: index + 1,
    data: loaderData,
    now,
    dispatch,
    takes: takes.stops[index] ?? null,
  }));
  return (
    <>
      <header className="mb-4 flex flex-wrap items-end gap-x-2 gap-y-2">
        <div className="mr-auto">
          <h1 className="text-3xl font-bold tracking-tight first-letter:uppercase">
            {longDateText(new Date(`${round.day}T12:00:00Z`), "UTC")}
          </h1>
          <p className="text-soft">
            {said.calls({ count: shown.length, today: round.day === round.today })}
            {takes.whole === null ? "" : `, ${said.dayTakes({ time: durationText(takes.whole * 60) })}`}
          </p>
        </div>
        <div className="no-print flex flex-wrap items-center gap-2">
          <Link to={to(addDays(round.day, -1))} className="quiet-action !px-3" aria-label={said.dayBefore}>
            <ChevronLeft size={20} aria-hidden="true" />
          </Link>
          <input
            type="date"
            aria-label={said.day}
            value={round.day}
            onChange={(event) => isDay(event.target.value) && void navigate(to(event.target.value))}
          />
          <Link to={to(addDays(round.day, 1))} className="quiet-action !px-3" aria-label={said.dayAfter}>
            <ChevronRight size={20} aria-hidden="true" />
          </Link>
          <button
            type="button"
            className="quiet-action !px-3 wide:hidden"
            aria-label={said.moreControls}
            aria-expanded={isMore}
            aria-controls="round-more"
            onClick={() => showMore(!isMore)}
          >
            <Ellipsis size={20} aria-hidden="true" />
          </button>
        </div>
        <div
          id="round-more"
          className={`no-print flex-wrap items-center gap-2 ${isMore ? "flex" : "hidden wide:flex"}`}
        >
          <select
            aria-label={said.whose}
            value={by ?? ""}
            onChange={(event) => void navigate(to(round.day, event.target.value || null))}
          >
            <option value="">{said.everybody}</option>
            {members.map((member) => (
              <option key={member.id} value={member.id}>
                {member.id === own ? said.mine : member.name}
              </option>
            ))}
          </select>
          <Link to="/week" className="quiet-action">
            {words.week.title}
          </Link>
          {shown.some(({ need, done }) => need > 0 && !done) ? (
            <button type="button" className="quiet-action" onClick={byNeed}>
              {said.byNeed}
            </button>
          ) : null}
          <button
            type="button"
            className="quiet-action !px-3"
            aria-label={said.print}
            onClick={() => print()}
          >
            <Printer size={20} aria-hidden="true" />
          </button>
        </div>
      </header>
      <Refused answer={answer} />
      <div className="grid items-start gap-4 wide:grid-cols-[1fr_19rem]">
        <div className="grid gap-3">
          {first ? <FirstSteps done={first} /> : null}
          {!first && shown.length === 0 ? (
            <section className="sheet grid max-w-prose gap-3 p-5">
              <p>{said.none}</p>
              <Link to="/basins" className="action justify-self-start">
                {words.basins.title}
              </Link>
            </section>
          ) : null}
          <ol className="grid gap-3">
            {rows.map((row) => (
              <CallRow key={row.call.basin.id} {...row} sorted={sorted[row.call.basin.id]} />
            ))}
          </ol>
          {awake ? (
            <Suspense>
              <Sorting rows={rows} moved={moved} tell={tell} />
            </Suspense>
          ) : null}
          {first && !first.basin ? null : <AddCall round={round} />}
        </div>
        <div className="grid gap-4">
          <MovedAway round={round} />
          <Missed missed={round.missed} />
          <Reminded reminder={loaderData.reminder} />
          <LoadList round={round} />
        </div>
      </div>
    </>
  );
}

/** Stops that were on this day when somebody looked last, and where they went. */
function MovedAway({ round }: { round: RoundData["round"] }) {
  const said = words.week.moved;
  // A day that was kept on this device by an older build has neither.
  const { moved = [], calledBefore = [] } = round as Partial<RoundData["round"]>;
  if (moved.length + calledBefore.length === 0) return null;
  return (
    <section className="sheet grid gap-1 p-4">
      <h2 className="text-xl font-semibold">{said.title}</h2>
      {moved.map(({ basinId, name, to, by }) => (
        <p key={basinId}>{to ? said.to({ name, day: dayText(to), by }) : said.out({ name, by })}</p>
      ))}
      {calledBefore.map(({ basinId, name, day }) => (
        <p key={basinId}>
          {name}: {said.calledAt({ day: dayText(day) })}
        </p>
      ))}
    </section>
  );
}

/** What the night found for this day besides its calls. */
function Reminded({ reminder }: { reminder: RoundData["reminder"] }) {
  const said = words.round;
  if (!reminder || reminder.expiring.length + reminder.reorder.length === 0) return null;
  return (
    <section className="sheet grid gap-1 p-4">
      <h2 className="text-xl font-semibold">{said.reminders}</h2>
      {reminder.expiring.map(({ reagent, day }) => (
        <p key={reagent + day}>{said.expiring({ reagent: shipped(reagent), day: dayText(day) })}</p>
      ))}
      {reminder.reorder.map((name) => (
        <p key={name}>{said.reorder({ name })}</p>
      ))}
    </section>
  );
}

/** The order as it was loaded, and as it was just dragged until the server has answered. */
function useOrder(loaded: string[]) {
  const key = loaded.join();
  const [dragged, setDragged] = useState<{ from: string; order: string[] } | null>(null);
  const order = dragged?.from === key ? dragged.order : loaded;
  return { order, set: (next: string[]) => setDragged({ from: key, order: next }) };
}

function AddCall({ round }: { round: RoundData["round"] }) {
  const [open, setOpen] = useState(false);
  if (open) return <AddedCall round={round} />;
  return (
    <button
      type="button"
      className="no-print link min-h-[44px] cursor-pointer justify-self-start"
      onClick={() => setOpen(true)}
    >
      {words.round.add}
    </button>
  );
}

function AddedCall({ round }: { round: RoundData["round"] }) {
  const { dispatch, answer, busy } = useRoundCommand();
  const [basinId, setBasinId] = useState("");
  const said = words.round;
  const others = usePlaces().filter(({ id }) => !round.calls.some((call) => call.basin.id === id));
  return (
    <form
      className="no-print flex flex-wrap items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        void dispatch("assign-call", { day: round.day, version: round.version, basinId, memberId: null });
        setBasinId("");
      }}
    >
      <Field label={said.add}>
        <select value={basinId} onChange={(event) => setBasinId(event.target.value)}>
          <option value="" />
          {others.map((basin) => (
            <option key={basin.id} value={basin.id}>
              {basin.site}, {basin.name}
            </option>
          ))}
        </select>
      </Field>
      <Button quiet disabled={basinId === ""} busy={busy}>
        {said.addGo}
      </Button>
      <Refused answer={answer} />
    </form>
  );
}

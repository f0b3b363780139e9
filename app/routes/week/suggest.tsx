import { useEffect, useId, useRef, useState } from "react";
import type { Suggestion, WeekCall, WeekChange, WeekProblem } from "#core";
import { addDays } from "#core";
import type { WorkersWeek } from "../../pages/week.server";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { Refused } from "../../ui/refused";
import { useClientId } from "../../ui/use-client-id";
import { useCommand } from "../../ui/use-command";
import { useFresh } from "../../ui/use-fresh";
import {
  againstTexts,
  changeText,
  durationText,
  giveText,
  listText,
  reasonText,
  ruleTexts,
  words,
} from "../../words";
import { type Drawing, startWeek } from "../../workers/week";
import { versionsOf } from "./board";
import { namesOf } from "./names";

/** What a change has to bring, right days, by how many of them somebody wants. */
const CHANGE_WORTH = { keep: 0.6, some: 0.15, best: 0.02 } as const;
type Wanted = keyof typeof CHANGE_WORTH;
const WEEKS = [1, 2, 3, 4] as const;
/** Seconds that a week is looked for. */
const SECONDS = 30;

interface Found {
  suggestion: Suggestion;
  share: number;
}

/** Draws up a better week in a worker, tells each change with its reason, and lets it be accepted and undone. */
export function Suggest({ week }: { week: WorkersWeek }) {
  const said = words.week.suggest;
  const [weeks, setWeeks] = useState<number>(1);
  const [wanted, setWanted] = useState<Wanted>("some");
  const [begin, setBegin] = useState<"tomorrow" | "now">("tomorrow");
  const [without, setWithout] = useState("");
  const [found, setFound] = useState<Found | null>(null);
  const [isWorking, work] = useState(false);
  const [isBroken, fail] = useState(false);
  const drawing = useRef<Drawing | null>(null);
  useEffect(() => () => drawing.current?.stop(), []);
  const start = async () => {
    setFound(null);
    fail(false);
    work(true);
    try {
      // Today's stops are under way: the first day is tomorrow, unless the rest of today is asked for.
      const next = week.from > week.today ? week.from : addDays(week.today, 1);
      const asked = new URLSearchParams({
        from: begin === "now" ? week.today : next,
        days: `${7 * weeks}`,
        change: `${CHANGE_WORTH[wanted]}`,
        ...(begin === "now" && without ? { without } : {}),
      });
      const answer = await fetch(`/week/problem?${asked}`);
      if (!answer.ok) throw new Error(`the problem of the week: ${answer.status}`);
      const problem = (await answer.json()) as WeekProblem;
      const begun = startWeek(problem, SECONDS, (suggestion, share) => setFound({ suggestion, share }));
      drawing.current = begun;
      const best = await begun.answer;
      setFound({ suggestion: best, share: 1 });
    } catch {
      fail(true);
    }
    work(false);
  };
  const stop = () => {
    drawing.current?.stop();
    work(false);
  };
  return (
    <section className="sheet no-print grid gap-4 p-4" aria-labelledby="suggest">
      <div>
        <h2 id="suggest" className="text-xl font-semibold">
          {said.title}
        </h2>
        <p className="max-w-prose text-soft">{said.hint}</p>
      </div>
      <form
        className="flex flex-wrap items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          void start();
        }}
      >
        <Field label={said.begin}>
          <select value={begin} onChange={(event) => setBegin(event.target.value as typeof begin)}>
            <option value="tomorrow">{said.begins.tomorrow}</option>
            <option value="now">{said.begins.now}</option>
          </select>
        </Field>
        {begin === "now" ? (
          <Field label={said.without}>
            <select value={without} onChange={(event) => setWithout(event.target.value)}>
              <option value="">{said.withoutNobody}</option>
              {week.members.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </select>
          </Field>
        ) : (
          <Field label={said.weeks}>
            <select value={weeks} onChange={(event) => setWeeks(Number(event.target.value))}>
              {WEEKS.map((count) => (
                <option key={count} value={count}>
                  {said.weeksCount({ count })}
                </option>
              ))}
            </select>
          </Field>
        )}
        <Field label={said.change}>
          <select value={wanted} onChange={(event) => setWanted(event.target.value as Wanted)}>
            {(Object.keys(CHANGE_WORTH) as Wanted[]).map((one) => (
              <option key={one} value={one}>
                {said.changes[one]}
              </option>
            ))}
          </select>
        </Field>
        {isWorking ? (
          <Button type="button" quiet onClick={stop}>
            {said.stop}
          </Button>
        ) : (
          <Button>{said.go}</Button>
        )}
      </form>
      {isWorking ? <p role="status">{said.working}</p> : null}
      {isWorking ? (
        <progress
          className="h-2 w-full accent-action"
          max={1}
          value={found?.share ?? 0}
          aria-label={said.working}
        />
      ) : null}
      {isBroken ? (
        <p role="alert" className="border-l-4 border-above bg-above-wash p-3 text-above">
          {said.failed}
        </p>
      ) : null}
      {found ? <Answer week={week} found={found.suggestion} isDone={!isWorking} /> : null}
    </section>
  );
}

function Answer({ week, found, isDone }: { week: WorkersWeek; found: Suggestion; isDone: boolean }) {
  const said = words.week.suggest;
  const { before, after, bound, worth, changes } = found;
  const percent = (share: number) => Math.round(100 * share);
  const off = bound === null || bound <= 0 ? null : Math.max(0, Math.ceil((100 * (bound - worth)) / bound));
  return (
    <div className="grid gap-4">
      <p>
        {said.figures({
          after: percent(after.right),
          before: percent(before.right),
          calls: after.calls,
          callsBefore: before.calls,
          minutes: durationText(Math.round(after.minutes) * 60),
          minutesBefore: durationText(Math.round(before.minutes) * 60),
        })}{" "}
        {off !== null && off < 100 ? <span className="text-soft">{said.bound({ percent: off })}</span> : null}
      </p>
      {found.conflicts.length > 0 ? <Conflicts week={week} found={found} /> : null}
      {isDone && changes.length === 0 ? <p>{said.same}</p> : null}
      {isDone && changes.length > 0 ? <Changes week={week} found={found} /> : null}
    </div>
  );
}

function Conflicts({ week, found: { conflicts, impossible } }: { week: WorkersWeek; found: Suggestion }) {
  const said = words.week.suggest;
  const names = namesOf(week);
  return (
    <section className="grid gap-2 border-l-4 border-below p-3">
      <h3 className="text-lg font-semibold">{said.conflicts}</h3>
      <p>{impossible ? said.impossible : said.notFound}</p>
      <ul className="grid gap-2">
        {conflicts.map(({ broken, against, gives }) => {
          const [text = ""] = ruleTexts([broken], names);
          return (
            <li key={text}>
              <p className="font-semibold">{text}</p>
              {against.length > 0 ? (
                <p>
                  {said.against} {listText(againstTexts(against, names))}.
                </p>
              ) : null}
              <p>
                {said.gives} {listText(gives.map((one) => giveText(one, names)))}.
              </p>
            </li>
          );
        })}
      </ul>
    </section>
  );
}

/** One stop that goes to another day or person, comes, or goes. */
interface Move {
  basinId: string;
  from: string | null;
  to: string | null;
  memberId: string | null;
  /** Who had it before. */
  had: string | null;
}

/** The moves of a change: a stop that stays on its day first, then each that goes with one that comes. */
function movesOf({ basin, gone, come }: WeekChange): Move[] {
  const left = [...gone];
  const pairs = come.map((to): [WeekCall | undefined, WeekCall] => {
    const same = left.findIndex(({ day }) => day === to.day);
    return [same < 0 ? undefined : left.splice(same, 1)[0], to];
  });
  const moves = pairs.map(([from, to]): Move => {
    const was = from ?? left.shift();
    return {
      basinId: basin,
      from: was?.day ?? null,
      to: to.day,
      memberId: to.person || null,
      had: was?.person || null,
    };
  });
  return [
    ...moves,
    ...left.map(({ day, person }): Move => {
      const had = person || null;
      return { basinId: basin, from: day, to: null, memberId: had, had };
    }),
  ];
}

const undone = ({ basinId, from, to, memberId, had }: Move): Move => ({
  basinId,
  from: to,
  to: from,
  memberId: had,
  had: memberId,
});

function Changes({ week, found }: { week: WorkersWeek; found: Suggestion }) {
  const said = words.week.suggest;
  const names = namesOf(week);
  const heading = useId();
  const { dispatch, answer, saved, busy } = useCommand<"move-calls">("/week");
  const idFor = useClientId(saved);
  useFresh(answer);
  const [accepted, setAccepted] = useState<ReadonlySet<string>>(new Set());
  /** What the last command that was given accepts or takes back, until it is answered. */
  const [given, setGiven] = useState<{ basins: string[]; undo: boolean; after: string | undefined } | null>(
    null,
  );
  if (given && saved !== given.after) {
    const next = new Set(accepted);
    for (const basin of given.basins) given.undo ? next.delete(basin) : next.add(basin);
    setAccepted(next);
    setGiven(null);
  }
  const send = (
    changes: readonly WeekChange[],
    undo: boolean,
    orders: { day: string; basinIds: string[] }[],
  ) => {
    const moves = changes.flatMap(movesOf).map((move) => (undo ? undone(move) : move));
    const days = [...moves.flatMap(({ from, to }) => [from, to]), ...orders.map(({ day }) => day)];
    const versions = versionsOf(week, days);
    const sent = moves.map(({ had: _, ...move }) => move);
    setGiven({ basins: changes.map(({ basin }) => basin), undo, after: saved });
    void dispatch("move-calls", { id: idFor([sent, versions]), versions, moves: sent, orders });
  };
  const open = found.changes.filter(({ basin }) => !accepted.has(basin));
  const acceptAll = () => {
    const days = new Set(open.flatMap(movesOf).flatMap(({ from, to }) => [from, to]));
    // A whole week is taken with its order; one change alone goes where the day's order has it.
    const orders = [...days].flatMap((day) => {
      const basinIds = [...new Set(found.calls.flatMap((call) => (call.day === day ? [call.basin] : [])))];
      return day && basinIds.length > 0 ? [{ day, basinIds }] : [];
    });
    send(open, false, orders);
  };
  return (
    <section aria-labelledby={heading} className="grid gap-3">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h3 id={heading} className="text-lg font-semibold">
          {said.list}
        </h3>
        {open.length > 1 ? (
          <Button type="button" busy={busy} onClick={acceptAll}>
            {said.acceptAll}
          </Button>
        ) : null}
      </div>
      <Refused answer={answer} />
      <ul className="grid gap-2">
        {found.changes.map((change) => {
          const isAccepted = accepted.has(change.basin);
          return (
            <li
              key={change.basin}
              className="grid items-center gap-x-4 gap-y-1 border-t border-rule pt-2 wide:grid-cols-[1fr_auto]"
            >
              <div>
                <p className="font-semibold">{changeText(change, names)}</p>
                <p className="text-soft">{reasonText(change)}</p>
              </div>
              <div className="flex items-center gap-3">
                {isAccepted ? <span role="status">{said.accepted}</span> : null}
                <Button type="button" quiet busy={busy} onClick={() => send([change], isAccepted, [])}>
                  {isAccepted ? said.undo : said.accept}
                  <span className="sr-only">: {names.basin(change.basin)}</span>
                </Button>
              </div>
            </li>
          );
        })}
      </ul>
    </section>
  );
}

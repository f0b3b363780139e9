import { X } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import { isDay, type MemberWeek, USUAL_MEMBER_WEEK } from "#core";
import { firmWeekOf, memberWeeks } from "#server/db/week";
import { commandAction } from "../../commands";
import { inFirm } from "../../context";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { fieldText, typedOr, typedOrNull } from "../../ui/number-text";
import { offlineAware } from "../../ui/offline";
import { Refused } from "../../ui/refused";
import { useCommand } from "../../ui/use-command";
import { onDay, weekdayLong, words } from "../../words";
import type { Route } from "./+types/week";

/** When each member works, and on which days nobody does. */
export const loader = ({ context }: Route.LoaderArgs) =>
  inFirm(context, async (scope, { role }) => ({
    owner: role === "owner",
    members: await memberWeeks(scope),
    closed: (await firmWeekOf(scope)).closed,
  }));

export const action = commandAction(["save-member-week", "save-firm-week"]);

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export const meta: Route.MetaFunction = () => [{ title: `${words.week.hours.title} · ${words.product}` }];

export default function WeekSettings({ loaderData: { owner, members, closed } }: Route.ComponentProps) {
  const said = words.week.hours;
  return (
    <div className="grid max-w-3xl gap-4">
      <h1 className="text-3xl font-bold tracking-tight">{said.title}</h1>
      <p className="max-w-prose text-soft">{said.hint}</p>
      {owner ? null : <p className="text-soft">{said.ownersOnly}</p>}
      {members.map((member) => (
        <Hours key={member.id} member={member} owner={owner} />
      ))}
      <Closed closed={closed} owner={owner} />
      <Link to="/week" className="quiet-action justify-self-start">
        {said.back}
      </Link>
    </div>
  );
}

function Hours({
  member: { id, name, week },
  owner,
}: {
  member: { id: string; name: string; week: MemberWeek | null };
  owner: boolean;
}) {
  const said = words.week.hours;
  const { dispatch, answer, saved, busy } = useCommand<"save-member-week">();
  const start = week ?? USUAL_MEMBER_WEEK;
  const [hours, setHours] = useState(start.hours.map((minutes) => fieldText(minutes / 60, 2)));
  const [off, setOff] = useState(start.off);
  const [carries, setCarries] = useState(start.carries === null ? "" : fieldText(start.carries, 0));
  return (
    <form
      className="sheet grid gap-3 p-4"
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        void dispatch("save-member-week", {
          memberId: id,
          hours: hours.map((typed) => minutesOf(typedOr(typed))) as number[],
          off,
          carries: typedOrNull(carries),
        });
      }}
    >
      <h2 className="text-xl font-semibold">{said.of({ name })}</h2>
      <fieldset disabled={!owner} className="grid gap-3">
        <div className="grid grid-cols-2 gap-2 wide:grid-cols-7">
          {hours.map((typed, index) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: a weekday is its place
            <Field key={index} label={weekdayLong(index + 1)}>
              <input
                inputMode="decimal"
                autoComplete="off"
                aria-label={said.weekday({ day: weekdayLong(index + 1) })}
                value={typed}
                onChange={(event) =>
                  setHours(hours.map((one, place) => (place === index ? event.target.value : one)))
                }
              />
            </Field>
          ))}
        </div>
        <Days label={said.off} days={off} set={setOff} />
        <Field label={said.carries} className="max-w-48">
          <input
            inputMode="numeric"
            autoComplete="off"
            value={carries}
            onChange={(event) => setCarries(event.target.value)}
          />
        </Field>
      </fieldset>
      <Refused answer={answer} />
      {saved ? <p role="status">{said.saved}</p> : null}
      {owner ? (
        <Button busy={busy} className="justify-self-start">
          {said.save}
          <span className="sr-only">: {name}</span>
        </Button>
      ) : null}
    </form>
  );
}

/** What was typed and is no number goes out as it stands. */
const minutesOf = (typed: number | string): number | string =>
  typeof typed === "number" ? Math.round(60 * typed) : typed;

function Closed({ closed, owner }: { closed: string[]; owner: boolean }) {
  const said = words.week.hours;
  const { dispatch, answer, saved, busy } = useCommand<"save-firm-week">();
  const [days, setDays] = useState(closed);
  return (
    <form
      className="sheet grid gap-3 p-4"
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        void dispatch("save-firm-week", { closed: days });
      }}
    >
      <fieldset disabled={!owner}>
        <Days label={said.firm} days={days} set={setDays} />
      </fieldset>
      <Refused answer={answer} />
      {saved ? <p role="status">{said.saved}</p> : null}
      {owner ? (
        <Button busy={busy} className="justify-self-start">
          {said.save}
          <span className="sr-only">: {said.firm}</span>
        </Button>
      ) : null}
    </form>
  );
}

/** A list of days: one is added by its date, and taken out again. */
function Days({ label, days, set }: { label: string; days: string[]; set: (days: string[]) => void }) {
  const said = words.week.hours;
  const [typed, setTyped] = useState("");
  return (
    <div className="grid gap-2">
      <div className="flex flex-wrap items-end gap-2">
        <Field label={label}>
          <input type="date" value={typed} onChange={(event) => setTyped(event.target.value)} />
        </Field>
        <Button
          type="button"
          quiet
          disabled={!isDay(typed) || days.includes(typed)}
          onClick={() => {
            set([...days, typed].sort());
            setTyped("");
          }}
        >
          {said.addDay}
          <span className="sr-only">: {label}</span>
        </Button>
      </div>
      {days.length > 0 ? (
        <ul className="flex flex-wrap gap-2">
          {days.map((day) => (
            <li key={day} className="flex items-center gap-1 border border-rule pl-2">
              {onDay(day)}
              <button
                type="button"
                aria-label={said.removeDay({ day: onDay(day) })}
                className="grid h-11 w-11 cursor-pointer place-items-center"
                onClick={() => set(days.filter((one) => one !== day))}
              >
                <X size={18} aria-hidden="true" />
              </button>
            </li>
          ))}
        </ul>
      ) : null}
    </div>
  );
}

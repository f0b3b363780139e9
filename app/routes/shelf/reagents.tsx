import { differenceInCalendarDays, parseISO } from "date-fns";
import { useState } from "react";
import { dayIn, leftIn, ofLastSeason, type ShelfBottle, type Suspicion } from "#core";
import { bottlesOf } from "#server/db/bottles";
import { firmOf } from "#server/db/firms";
import { suspicionsOf } from "#server/db/learned";
import { NEED_DAYS, weekNeed } from "#server/shelf/need";
import { commandAction } from "../../commands";
import { inFirm } from "../../context";
import { Button } from "../../ui/button";
import { Empty } from "../../ui/empty";
import { dayText, plain } from "../../ui/format";
import { offlineAware } from "../../ui/offline";
import { Refused } from "../../ui/refused";
import { useCommand } from "../../ui/use-command";
import { measureName, shipped, words } from "../../words";
import type { Route } from "./+types/reagents";
import { BottleForm } from "./bottle-form";
import { Suspected } from "./suspected";

export const loader = ({ context }: Route.LoaderArgs) =>
  inFirm(context, async (scope, _, now) => {
    const firm = await firmOf(scope);
    return {
      bottles: await bottlesOf(scope),
      need: await weekNeed(scope, firm, now),
      suspicions: (await suspicionsOf(scope)).filter(({ code }) => code === "bottle"),
      today: dayIn(now, firm.timeZone),
      seasonStart: firm.seasonStart,
    };
  });

export const action = commandAction(["save-bottle", "empty-bottle"]);

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export default function Reagents({ loaderData }: Route.ComponentProps) {
  const { bottles, need, suspicions, today, seasonStart } = loaderData;
  const [editing, edit] = useState<ShelfBottle | "new" | null>(null);
  const said = words.shelf;
  const missing = need.filter((one) => !bottles.some((bottle) => bottle.reagent === one.reagent));
  const names = [...new Set([...need.map((one) => one.reagent), ...bottles.map((one) => one.reagent)])];
  const toRenew = bottles.filter(
    (bottle) =>
      ofLastSeason(bottle.openedOn, today, seasonStart) ||
      (bottle.expiresOn !== null && bottle.expiresOn < today),
  );
  return (
    <div className="grid items-start gap-4 wide:grid-cols-[1fr_20rem]">
      <div className="grid gap-3">
        <p className="text-soft">{said.weekHint}</p>
        {bottles.length === 0 ? <Empty text={said.none} /> : null}
        <ul className="sheet divide-y divide-rule">
          {bottles.map((bottle) =>
            editing !== "new" && editing?.id === bottle.id ? (
              <li key={bottle.id} className="p-4">
                <BottleForm bottle={bottle} names={names} done={() => edit(null)} />
              </li>
            ) : (
              <BottleRow
                key={bottle.id}
                bottle={bottle}
                needed={shareOf(bottle, bottles, need)}
                suspicion={suspicions.find(({ lot }) => lot === bottle.id)}
                today={today}
                seasonStart={seasonStart}
                edit={() => edit(bottle)}
              />
            ),
          )}
        </ul>
        {editing === "new" ? (
          <div className="sheet p-4">
            <BottleForm bottle={null} names={names} done={() => edit(null)} />
          </div>
        ) : (
          <Button type="button" className="justify-self-start" onClick={() => edit("new")}>
            {said.add}
          </Button>
        )}
      </div>
      <aside className="grid gap-4">
        <section className="sheet grid gap-2 p-4">
          <h2 className="text-xl font-semibold">{said.seasonTitle}</h2>
          <p className="text-soft">
            {toRenew.length > 0 ? said.seasonHint : said.seasonNone({ from: seasonStart })}
          </p>
          <ul className="list-inside list-disc">
            {toRenew.map((bottle) => (
              <li key={bottle.id}>
                {shipped(bottle.reagent)}
                <span className="text-soft"> {bottle.lot}</span>
              </li>
            ))}
          </ul>
        </section>
        {missing.length > 0 ? (
          <section className="sheet grid gap-2 p-4">
            <h2 className="text-xl font-semibold">{said.missing}</h2>
            <ul className="list-inside list-disc">
              {missing.map((one) => (
                <li key={one.reagent}>
                  {shipped(one.reagent)}:{" "}
                  <span className="text-soft">
                    {plain(Math.ceil(one.amount), 0)} {measureName(one.measure, Math.ceil(one.amount))}
                  </span>
                </li>
              ))}
            </ul>
          </section>
        ) : null}
      </aside>
    </div>
  );
}

type Need = Route.ComponentProps["loaderData"]["need"];

/** What the week takes from this bottle: what its older sisters cannot give. */
function shareOf(bottle: ShelfBottle, bottles: ShelfBottle[], need: Need): number {
  const sisters = bottles.filter((other) => other.reagent === bottle.reagent);
  const before = sisters.slice(0, sisters.indexOf(bottle)).reduce((sum, other) => sum + leftIn(other), 0);
  const total = need.find((one) => one.reagent === bottle.reagent)?.amount ?? 0;
  const isLast = sisters.at(-1) === bottle;
  return Math.max(0, isLast ? total - before : Math.min(total - before, leftIn(bottle)));
}

interface RowProps {
  bottle: ShelfBottle;
  needed: number;
  suspicion: Suspicion | undefined;
  today: string;
  seasonStart: string;
  edit: () => void;
}

function BottleRow({ bottle, needed, suspicion, today, seasonStart, edit }: RowProps) {
  const { dispatch, answer, busy } = useCommand<"empty-bottle">();
  const said = words.shelf;
  const left = leftIn(bottle);
  const expiresIn = bottle.expiresOn
    ? differenceInCalendarDays(parseISO(bottle.expiresOn), parseISO(today))
    : null;
  const warnings = [
    ...(expiresIn !== null && expiresIn < 0 ? [said.expired({ days: -expiresIn })] : []),
    ...(ofLastSeason(bottle.openedOn, today, seasonStart) ? [said.lastSeason] : []),
    ...(needed > left ? [said.short({ left: plain(left, 0), needed: plain(Math.ceil(needed), 0) })] : []),
  ];
  const soon =
    expiresIn !== null && expiresIn >= 0 && expiresIn <= 30 ? said.expiresSoon({ days: expiresIn }) : null;
  const weeks = needed > 0 ? (left / needed) * (7 / NEED_DAYS) : null;
  return (
    <li className="grid gap-x-4 gap-y-1 p-4 wide:grid-cols-[1fr_11rem_auto] wide:items-center">
      <div>
        <p className="text-lg font-semibold">{shipped(bottle.reagent)}</p>
        <p className="text-sm text-soft">
          {bottle.lot ? `${said.lot} ${bottle.lot} · ` : ""}
          {bottle.openedOn ? `${said.opened} ${dayText(bottle.openedOn)}` : said.unopened}
          {bottle.expiresOn ? ` · ${said.expires} ${dayText(bottle.expiresOn)}` : ""}
        </p>
        {warnings.map((warning) => (
          <p key={warning} className="font-medium text-below">
            <span aria-hidden="true">◆ </span>
            {warning}
          </p>
        ))}
        {soon ? <p className="text-soft">{soon}</p> : null}
        <Refused answer={answer} />
      </div>
      <div>
        <svg
          viewBox="0 0 150 12"
          className="h-3 w-full max-w-60"
          preserveAspectRatio="none"
          aria-hidden="true"
        >
          <rect x="1" y="1" width="148" height="10" fill="none" stroke="var(--soft)" />
          <rect
            x="1"
            y="1"
            width={148 * (left / bottle.full)}
            height="10"
            fill={needed > left ? "var(--below)" : "var(--ink)"}
          />
        </svg>
        <p>
          <b>{plain(left, 0)}</b> {measureName(bottle.measure, left)}
          {weeks !== null && weeks < 26 ? (
            <span className="text-soft">
              {" "}
              ·{" "}
              {weeks < 2
                ? said.days({ days: Math.round(weeks * 7) })
                : said.weeks({ weeks: plain(weeks, 0) })}
            </span>
          ) : null}
        </p>
      </div>
      <div className="flex gap-2">
        <Button type="button" quiet onClick={edit}>
          {said.edit}
        </Button>
        <Button type="button" quiet busy={busy} onClick={() => dispatch("empty-bottle", { id: bottle.id })}>
          {said.empty}
        </Button>
      </div>
      {suspicion ? <Suspected suspicion={suspicion} /> : null}
    </li>
  );
}

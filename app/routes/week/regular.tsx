import { Printer } from "lucide-react";
import { Link, useSearchParams } from "react-router";
import { firmOf } from "#server/db/firms";
import { type RegularProposal, regularOn } from "#server/week/regular";
import { commandAction } from "../../commands";
import { inFirm } from "../../context";
import { Button } from "../../ui/button";
import { offlineAware } from "../../ui/offline";
import { Refused } from "../../ui/refused";
import { useCommand } from "../../ui/use-command";
import { useFirm, useMoney } from "../../ui/use-firm";
import { durationText, listText, weekdayLong, words } from "../../words";
import type { Route } from "./+types/regular";

/** Regular days that would keep a water right longer, or do with less; one of them on paper for its customer. */
export const loader = ({ context }: Route.LoaderArgs) =>
  inFirm(context, async (scope, { role }, now) => ({
    owner: role === "owner",
    proposals: await regularOn(scope, await firmOf(scope), now),
  }));

export const action = commandAction(["set-call-days"]);

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export const meta: Route.MetaFunction = () => [{ title: `${words.week.regular.title} · ${words.product}` }];

export default function Regular({ loaderData: { owner, proposals } }: Route.ComponentProps) {
  const said = words.week.regular;
  const [asked] = useSearchParams();
  const one = proposals.find(({ basin }) => basin === asked.get("for"));
  if (one) return <Paper proposal={one} />;
  return (
    <div className="grid max-w-3xl gap-4">
      <h1 className="text-3xl font-bold tracking-tight">{said.title}</h1>
      <p className="max-w-prose text-soft">{said.hint}</p>
      {proposals.length === 0 ? <p>{said.none}</p> : null}
      <ul className="grid gap-3">
        {proposals.map((proposal) => (
          <Item key={proposal.basin} proposal={proposal} owner={owner} />
        ))}
      </ul>
      <Link to="/week" className="quiet-action justify-self-start">
        {words.week.hours.back}
      </Link>
    </div>
  );
}

type Figures = RegularProposal["now"];

/** "Tuesday and Friday", "Tuesday, every other week". */
function rhythmText({ days, everyWeeks }: Figures): string {
  const text = listText([...days].sort((a, b) => a - b).map(weekdayLong));
  return everyWeeks === 1 ? text : words.week.regular.everyOther({ days: text });
}

const percent = (share: number): number => Math.round(100 * share);

function Item({ proposal, owner }: { proposal: RegularProposal; owner: boolean }) {
  const said = words.week.regular;
  const money = useMoney();
  const { dispatch, answer, busy } = useCommand<"set-call-days">("/week/regular");
  const { basin, name, site, now, proposed } = proposal;
  const minutes = proposed.minutes - now.minutes;
  const time = durationText(Math.max(1, Math.round(Math.abs(minutes))) * 60);
  return (
    <li className="sheet grid gap-2 p-4">
      <h2 className="text-xl font-semibold">
        <Link to={`/basins/${basin}`} className="link">
          {site}, {name}
        </Link>
      </h2>
      <p className="font-semibold">
        {said.instead({ proposed: rhythmText(proposed), now: rhythmText(now) })}
      </p>
      <p>
        {said.water({ after: percent(proposed.right), before: percent(now.right) })}{" "}
        {minutes < 0 ? said.less({ time }) : said.more({ time })}{" "}
        {proposal.money === 0
          ? null
          : proposal.money < 0
            ? said.cheaper({ amount: money(-proposal.money) })
            : said.dearer({ amount: money(proposal.money) })}
      </p>
      <Refused answer={answer} />
      <div className="flex flex-wrap gap-3">
        {owner ? (
          <Button
            type="button"
            busy={busy}
            onClick={() =>
              dispatch("set-call-days", {
                basinId: basin,
                callDays: [...proposed.days],
                everyWeeks: proposed.everyWeeks,
              })
            }
          >
            {said.take}
            <span className="sr-only">: {name}</span>
          </Button>
        ) : null}
        <Link to={`/week/regular?for=${basin}`} className="quiet-action">
          {said.paper}
          <span className="sr-only">: {name}</span>
        </Link>
      </div>
    </li>
  );
}

/** One proposal as the customer reads it. */
function Paper({ proposal }: { proposal: RegularProposal }) {
  const said = words.week.regular;
  const { firm } = useFirm();
  const money = useMoney();
  const { name, site, now, proposed } = proposal;
  return (
    <article className="sheet grid max-w-2xl gap-4 p-6">
      <header>
        <p className="text-soft">{firm}</p>
        <h1 className="text-3xl font-bold tracking-tight">{said.paperTitle({ site })}</h1>
      </header>
      <p>{said.paperNow({ name, days: rhythmText(now), right: percent(now.right) })}</p>
      <p>{said.paperThen({ days: rhythmText(proposed), right: percent(proposed.right) })}</p>
      <p>
        {proposal.money === 0
          ? said.paperSame
          : proposal.money < 0
            ? said.paperCheaper({ amount: money(-proposal.money) })
            : said.paperDearer({ amount: money(proposal.money) })}
      </p>
      <p className="text-soft">{said.paperHow}</p>
      <div className="no-print flex flex-wrap gap-3">
        <Button type="button" onClick={() => print()}>
          <Printer size={20} aria-hidden="true" />
          {words.round.print}
        </Button>
        <Link to="/week/regular" className="quiet-action">
          {said.back}
        </Link>
      </div>
    </article>
  );
}

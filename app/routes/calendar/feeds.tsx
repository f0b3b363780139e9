import { feedsOf } from "#server/db/feeds";
import { commandAction } from "../../commands";
import { inFirm } from "../../context";
import { Button } from "../../ui/button";
import { dateText } from "../../ui/format";
import { offlineAware } from "../../ui/offline";
import { Refused } from "../../ui/refused";
import { SecretLink } from "../../ui/secret-link";
import { useClientId } from "../../ui/use-client-id";
import { useCommand } from "../../ui/use-command";
import { useFirm } from "../../ui/use-firm";
import { words } from "../../words";
import type { Route } from "./+types/feeds";

/** A technician's own addresses; an owner sees and withdraws everybody's. */
export const loader = ({ context }: Route.LoaderArgs) =>
  inFirm(context, async (scope, member) => ({
    feeds: await feedsOf(scope, member.role === "owner" ? null : member.memberId),
  }));

export const action = commandAction(["make-feed", "withdraw-feed"]);

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export const meta: Route.MetaFunction = () => [{ title: `${words.calendar.title} · ${words.product}` }];

export default function Feeds({ loaderData: { feeds } }: Route.ComponentProps) {
  const { dispatch, answer, token } = useCommand<"make-feed" | "withdraw-feed">();
  const { timeZone } = useFirm();
  const id = useClientId(token ?? "");
  const said = words.calendar;
  return (
    <div className="grid max-w-3xl gap-4">
      <header>
        <h1 className="text-3xl font-bold tracking-tight">{said.title}</h1>
        <p className="text-soft">{said.hint}</p>
      </header>
      <section className="sheet grid gap-3 p-4">
        <p className="flex flex-wrap gap-3">
          <Button type="button" onClick={() => dispatch("make-feed", { id: id(true), mine: true })}>
            {said.makeMine}
          </Button>
          <Button type="button" quiet onClick={() => dispatch("make-feed", { id: id(false), mine: false })}>
            {said.makeAll}
          </Button>
        </p>
        {token ? <SecretLink path={`/calendar/${token}.ics`} hint={said.linkHint} /> : null}
        <Refused answer={answer} />
        {feeds.length === 0 ? <p className="text-soft">{said.none}</p> : null}
        <ul className="divide-y divide-rule">
          {feeds.map((feed) => (
            <li key={feed.id} className="flex flex-wrap items-center justify-between gap-3 py-2">
              <span>
                {feed.mine ? said.mine : said.all}, {feed.by}{" "}
                <span className="text-soft">{dateText(feed.madeAt, timeZone)}</span>
              </span>
              <Button type="button" quiet onClick={() => dispatch("withdraw-feed", { id: feed.id })}>
                {words.customer.withdraw}
              </Button>
            </li>
          ))}
        </ul>
      </section>
    </div>
  );
}

import { useFetcher } from "react-router";
import { InputFault } from "#core";
import { checked } from "#core/schemas";
import { feedsOf, makeFeed, withdrawFeed } from "#server/db/feeds";
import { feedSchema } from "#server/round/schemas";
import { uuidSchema } from "#server/visits/schemas";
import { inFirm } from "../../context";
import { doDeed } from "../../deeds";
import { Button } from "../../ui/button";
import { dateText } from "../../ui/format";
import { offlineAware } from "../../ui/offline";
import { Refused, type SaveAnswer } from "../../ui/refused";
import { SecretLink } from "../../ui/secret-link";
import { useClientId } from "../../ui/use-client-id";
import { useFirm } from "../../ui/use-firm";
import { words } from "../../words";
import type { Route } from "./+types/feeds";

/** A technician's own addresses; an owner sees and withdraws everybody's. */
export const loader = ({ context }: Route.LoaderArgs) =>
  inFirm(context, async (scope, member) => ({
    feeds: await feedsOf(scope, member.role === "owner" ? null : member.memberId),
  }));

export const action = ({ request, context }: Route.ActionArgs) =>
  doDeed(request, context, {
    async make({ scope, author, sent }) {
      const { id, mine } = checked(feedSchema, sent);
      const name = mine ? words.calendar.mine : words.calendar.all;
      return { token: await makeFeed(scope, author, { id, mine, name }) };
    },
    async withdraw({ scope, author, member, sent }) {
      const id = checked(uuidSchema, sent.id);
      const own = await feedsOf(scope, member.role === "owner" ? null : member.memberId);
      if (!own.some((feed) => feed.id === id)) throw new InputFault("unknown", "id", id);
      await withdrawFeed(scope, author, id);
    },
  });

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export const meta: Route.MetaFunction = () => [{ title: `${words.calendar.title} · ${words.product}` }];

export default function Feeds({ loaderData: { feeds } }: Route.ComponentProps) {
  const fetcher = useFetcher<SaveAnswer & { token?: string }>();
  const { timeZone } = useFirm();
  const token = fetcher.data?.token;
  const id = useClientId(token ?? "");
  const said = words.calendar;
  const send = (body: Record<string, string | boolean>) =>
    fetcher.submit(body, { method: "post", encType: "application/json" });
  return (
    <div className="grid max-w-3xl gap-4">
      <header>
        <h1 className="text-3xl font-bold tracking-tight">{said.title}</h1>
        <p className="text-soft">{said.hint}</p>
      </header>
      <section className="sheet grid gap-3 p-4">
        <p className="flex flex-wrap gap-3">
          <Button type="button" onClick={() => send({ what: "make", id: id(true), mine: true })}>
            {said.makeMine}
          </Button>
          <Button type="button" quiet onClick={() => send({ what: "make", id: id(false), mine: false })}>
            {said.makeAll}
          </Button>
        </p>
        {token ? <SecretLink path={`/calendar/${token}.ics`} hint={said.linkHint} /> : null}
        <Refused answer={fetcher.data} />
        {feeds.length === 0 ? <p className="text-soft">{said.none}</p> : null}
        <ul className="divide-y divide-rule">
          {feeds.map((feed) => (
            <li key={feed.id} className="flex flex-wrap items-center justify-between gap-3 py-2">
              <span>
                {feed.mine ? said.mine : said.all}, {feed.by}{" "}
                <span className="text-soft">{dateText(feed.madeAt, timeZone)}</span>
              </span>
              <Button type="button" quiet onClick={() => send({ what: "withdraw", id: feed.id })}>
                {words.customer.withdraw}
              </Button>
            </li>
          ))}
        </ul>
      </section>
    </div>
  );
}

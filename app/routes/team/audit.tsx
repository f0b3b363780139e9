import { Link } from "react-router";
import { auditPage } from "#server/db/audit";
import { inFirm, ownerOnly } from "../../context";
import { dateTimeText } from "../../ui/format";
import { useFirm } from "../../ui/use-firm";
import { auditText, words } from "../../words";
import { placeFrom, placeText } from "../book/filter";
import type { Route } from "./+types/audit";

const PAGE = 60;

export const loader = ({ request, context }: Route.LoaderArgs) => {
  ownerOnly(context);
  return inFirm(context, async (scope) => {
    const place = placeFrom(new URL(request.url).searchParams);
    const found = await auditPage(scope, place ? { at: place.startedAt, id: place.id } : null, PAGE + 1);
    const entries = found.slice(0, PAGE);
    const last = entries.at(-1);
    return {
      entries,
      older: found.length > PAGE && last ? placeText({ startedAt: last.at, id: last.id }) : null,
    };
  });
};

export const meta: Route.MetaFunction = () => [{ title: `${words.audit.title} · ${words.product}` }];

/** Who did what, the newest first. */
export default function Audit({ loaderData: { entries, older } }: Route.ComponentProps) {
  const { timeZone } = useFirm();
  return (
    <>
      <h1 className="mb-4 text-3xl font-bold tracking-tight">{words.audit.title}</h1>
      <ul className="sheet divide-y divide-rule">
        {entries.length === 0 ? <li className="p-4">{words.audit.none}</li> : null}
        {entries.map((entry) => (
          <li key={entry.id} className="grid gap-x-4 p-3 wide:grid-cols-[12rem_10rem_1fr]">
            <span>{dateTimeText(entry.at, timeZone)}</span>
            <span className="text-soft">{entry.by ?? words.audit.night}</span>
            <span>{auditText(entry)}</span>
          </li>
        ))}
      </ul>
      {older ? (
        <Link to={`?after=${older}`} className="quiet-action mt-4">
          {words.audit.older}
        </Link>
      ) : null}
    </>
  );
}

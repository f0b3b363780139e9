import { ChevronLeft, ChevronRight } from "lucide-react";
import { Link } from "react-router";
import { addDays } from "#core";
import { commandAction } from "../../commands";
import { inFirm } from "../../context";
import { page } from "../../device/seam";
import { type ReadersWeek, type WorkersWeek, weekPage } from "../../pages/week.server";
import { dayText } from "../../ui/format";
import { offlineAware } from "../../ui/offline";
import { durationText, onDay, words } from "../../words";
import type { Route } from "./+types/route";
import { Board } from "./board";
import { Suggest } from "./suggest";

/** A firm's stops of seven days, by who makes them; a reader sees the days of their own basins. */
export const loader = ({ request, context }: Route.LoaderArgs) =>
  inFirm(context, (scope, member, now) =>
    weekPage(scope, member, now, new URL(request.url).searchParams.get("from")),
  );

export const action = commandAction(["move-calls"]);

export const clientLoader = ({ request, serverLoader }: Route.ClientLoaderArgs) =>
  page<Awaited<ReturnType<typeof weekPage>>>(
    serverLoader,
    `week ${new URL(request.url).searchParams.get("from") ?? ""}`.trim(),
  );
clientLoader.hydrate = true as const;

export const clientAction = ({ serverAction }: Route.ClientActionArgs) => offlineAware(() => serverAction());

export const meta: Route.MetaFunction = () => [{ title: `${words.week.title} · ${words.product}` }];

export default function Week({ loaderData }: Route.ComponentProps) {
  return loaderData.kind === "reader" ? <Reader {...loaderData} /> : <Worker {...loaderData} />;
}

function Worker(week: WorkersWeek) {
  const said = words.week;
  const minutes = week.calls.reduce((sum, call) => sum + call.minutes + (call.way ?? 0), 0);
  const to = (days: number) => {
    const from = addDays(week.from, days);
    return from <= week.today ? "/week" : `/week?from=${from}`;
  };
  return (
    <>
      <header className="mb-4 flex flex-wrap items-end justify-between gap-x-6 gap-y-2">
        <div>
          <h1 className="text-3xl font-bold tracking-tight">{said.of({ day: dayText(week.from) })}</h1>
          <p className="text-soft">
            {said.days({ count: week.calls.length, minutes: durationText(minutes * 60) })}
          </p>
        </div>
        <nav className="no-print flex flex-wrap items-center gap-2">
          {week.from > week.today ? (
            <Link to={to(-7)} className="quiet-action !px-3" aria-label={said.before}>
              <ChevronLeft size={20} aria-hidden="true" />
            </Link>
          ) : null}
          <Link to={to(7)} className="quiet-action !px-3" aria-label={said.after}>
            <ChevronRight size={20} aria-hidden="true" />
          </Link>
          <Link to="/week/regular" className="link flex min-h-[44px] items-center">
            {said.regular.title}
          </Link>
          <Link to="/week/quote" className="link flex min-h-[44px] items-center">
            {said.quote.title}
          </Link>
          <Link to="/settings/week" className="link flex min-h-[44px] items-center">
            {said.settings}
          </Link>
        </nav>
      </header>
      <div className="grid gap-6">
        <Board week={week} />
        <Suggest week={week} />
      </div>
    </>
  );
}

function Reader({ days }: ReadersWeek) {
  const said = words.week;
  const called = days.filter(({ basins }) => basins.length > 0);
  return (
    <div className="grid max-w-2xl gap-4">
      <h1 className="text-3xl font-bold tracking-tight">{said.title}</h1>
      <p className="text-soft">{called.length > 0 ? said.reader.hint : said.reader.none}</p>
      <ul className="grid gap-3">
        {called.map(({ day, basins }) => (
          <li key={day} className="sheet grid gap-1 p-4">
            <h2 className="text-xl font-semibold first-letter:uppercase">{onDay(day)}</h2>
            {basins.map(({ id, name }) => (
              <Link key={id} to={`/basins/${id}`} className="link">
                {name}
              </Link>
            ))}
          </li>
        ))}
      </ul>
    </div>
  );
}

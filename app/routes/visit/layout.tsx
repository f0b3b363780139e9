import { Check, OctagonX } from "lucide-react";
import { Link, NavLink, Outlet, useParams } from "react-router";
import { placeInRange, rangeFor, STATION_ORDER, type Station } from "#core";
import { uuidSchema } from "#server/visits/schemas";
import { judge, openVisit } from "#server/visits/visit";
import { inFirm, notFound } from "../../context";
import { valueText } from "../../ui/format";
import { useFirm } from "../../ui/use-firm";
import { quantityName, words } from "../../words";
import type { Route } from "./+types/layout";

/** Everything of the visit in one read; the stations share it. */
export const loader = ({ params, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope, _, now) => {
    if (uuidSchema.validate(params.visitId).error) return notFound();
    const opened = await openVisit(scope, params.visitId);
    if (!opened) return notFound();
    return { ...opened, ...judge(opened), now };
  });

export { stayWhenOffline as shouldRevalidate } from "../../ui/offline";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.basin.name ?? words.visit.sheet} · ${words.product}` },
];

export default function Visit({ loaderData }: Route.ComponentProps) {
  const { basin, visit } = loaderData;
  if (visit.finishedAt) return <Outlet />;
  return (
    <div className="grid items-start gap-4 wide:grid-cols-[15rem_1fr]">
      <div className="min-w-0">
        <h1 className="text-xl leading-tight font-bold wide:mb-2">
          <Link to={`/basins/${basin.id}`} className="link">
            {basin.name}
          </Link>
          <span className="text-base font-normal text-soft wide:block"> {basin.site.name}</span>
        </h1>
        <RunSheet {...loaderData} />
      </div>
      <div className="min-w-0">
        <Outlet />
      </div>
    </div>
  );
}

const row =
  "grid min-h-[48px] shrink-0 grid-cols-[1.3rem_auto] items-center gap-x-2 rounded-sm border border-transparent px-2 py-1 aria-[current=page]:border-ink aria-[current=page]:bg-sheet aria-[current=page]:font-semibold wide:grid-cols-[1.3rem_1fr_auto]";

/** The visit as one ordered list of stations, each with its state and value. */
function RunSheet({ visit, readings, rangeSet, basin, findings, doses }: Route.ComponentProps["loaderData"]) {
  const { station: here } = useParams();
  const { units } = useFirm();
  const given = doses.filter((dose) => dose.givenGrams > 0).length;
  const after: { to: string; name: string; state: string }[] = [
    { to: "judge", name: words.visit.judge, state: readings.length > 0 ? String(findings.length) : "" },
    { to: "dose", name: words.visit.dose, state: given > 0 ? String(given) : "" },
    { to: "close", name: words.visit.close, state: "" },
  ];
  return (
    <nav aria-label={words.visit.sheet} className="-mx-4 overflow-x-auto px-4 py-1 wide:mx-0 wide:px-0">
      <ol className="flex gap-1 wide:grid">
        {STATION_ORDER.map((station: Station) => {
          const reading = readings.find((one) => one.quantity === station);
          const place = reading
            ? placeInRange(reading, rangeFor(rangeSet, station, basin.surface))
            : "within";
          const closes = findings.some((finding) => finding.quantity === station && finding.closes);
          return (
            <li key={station} ref={station === here ? intoView : undefined}>
              <NavLink to={`/visits/${visit.id}/${station}`} className={row}>
                <span aria-hidden="true">
                  {!reading ? (
                    <span className="block h-4 w-4 rounded-full border-2 border-soft" />
                  ) : closes ? (
                    <OctagonX size={19} className="text-above" />
                  ) : place === "low" ? (
                    <span className="text-below">▼</span>
                  ) : place === "high" ? (
                    <span className="text-above">▲</span>
                  ) : (
                    <Check size={19} />
                  )}
                </span>
                <span className="whitespace-nowrap">{quantityName(station)}</span>
                <span className="col-start-2 text-sm text-soft wide:col-start-3 wide:text-base">
                  {reading ? (
                    <>
                      <b className="text-ink">{valueText(station, reading.value, units)}</b>
                      {place === "within" ? null : <span className="sr-only"> {place}</span>}
                    </>
                  ) : (
                    words.visit.open
                  )}
                </span>
              </NavLink>
            </li>
          );
        })}
        {after.map(({ to, name, state }) => (
          <li key={to}>
            <NavLink to={`/visits/${visit.id}/${to}`} className={`${row} wide:border-t-rule`}>
              <span aria-hidden="true" />
              <span className="whitespace-nowrap">{name}</span>
              <span className="col-start-2 text-sm text-soft wide:col-start-3 wide:text-base">{state}</span>
            </NavLink>
          </li>
        ))}
      </ol>
    </nav>
  );
}

/** On a phone the sheet is a strip; the open station is brought to where it can be seen. */
const intoView = (element: HTMLLIElement | null) =>
  element?.scrollIntoView({ block: "nearest", inline: "center" });

import type { ReactNode } from "react";
import { useState } from "react";
import { Link } from "react-router";
import { type Basin, type CardContent, type HoldAnswer, PROMISED, placeInRange, QUANTITY_NAMES } from "#core";
import { commandAction } from "../../commands";
import { inFirm, notFound } from "../../context";
import { basinOnDevice, startOnDevice } from "../../device/seam";
import { basinPage } from "../../pages/basin.server";
import { VolumeFigure } from "../../ui/figures";
import { FindingFlag } from "../../ui/finding-flag";
import { ago, dateText } from "../../ui/format";
import { Photos } from "../../ui/photos-field";
import { Staff } from "../../ui/staff";
import { StartVisit } from "../../ui/start-visit";
import { useFirm } from "../../ui/use-firm";
import { listText, numberText, shipped, surfaceName, weekdayShort, words } from "../../words";
import type { Route } from "./+types/route";
import { CardByTheWater } from "./card";
import { Habits } from "./habits";
import { Hold } from "./hold";
import { OverTime } from "./over-time";

export const loader = ({ params, request, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope, member, now) => {
    const asked = Date.parse(new URL(request.url).searchParams.get("before") ?? "");
    const before = Number.isNaN(asked) ? null : new Date(asked);
    const page = await basinPage(scope, params.basinId, now, { before, reader: member.role === "reader" });
    return page ?? notFound();
  });

/** Starts a visit and goes to it; while one is under way it goes to that one. */
export const action = commandAction(["start-visit"], { "start-visit": (_, visitId) => `/visits/${visitId}` });

export const clientLoader = ({ params, request, serverLoader }: Route.ClientLoaderArgs) =>
  basinOnDevice(serverLoader, params.basinId, new URL(request.url).search);
clientLoader.hydrate = true as const;

export const clientAction = startOnDevice;

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.basin.name ?? words.basins.title} · ${words.product}` },
];

export default function BasinPage({ loaderData }: Route.ComponentProps) {
  const { now, basin, open, last, ranges } = loaderData;
  const { role } = useFirm();
  const said = words.basin;
  return (
    <>
      <header className="mb-4 flex flex-wrap items-center justify-between gap-4">
        <div>
          <h1 className="text-3xl font-bold tracking-tight">{basin.name}</h1>
          <p className="text-soft">
            {basin.site.name} · {words.kinds[basin.kind]}, {basin.indoors ? said.indoors : said.outdoors}
          </p>
        </div>
        {open ? (
          <Link to={`/visits/${open.id}`} className="action">
            {said.resume}
          </Link>
        ) : role === "reader" ? null : (
          <StartVisit basinId={basin.id}>{said.start}</StartVisit>
        )}
      </header>
      <div className="grid items-start gap-4 wide:grid-cols-[1fr_20rem]">
        <section className="sheet p-4">
          <h2 className="mb-2 text-xl font-semibold">{said.last}</h2>
          {last.length === 0 ? <p className="text-soft">{said.lastNone}</p> : null}
          <div className="flex flex-wrap gap-x-2 gap-y-4">
            {QUANTITY_NAMES.map((quantity) => {
              const reading = last.find((one) => one.quantity === quantity);
              if (!reading) return null;
              const range = ranges[quantity];
              return (
                <div key={quantity} className="grid justify-items-center">
                  <Staff
                    quantity={quantity}
                    measured={reading}
                    range={range}
                    place={placeInRange(reading, range)}
                  />
                  <p className="text-sm text-soft">{ago(reading.takenAt, now)}</p>
                </div>
              );
            })}
          </div>
        </section>
        <Facts {...loaderData} />
      </div>
      {loaderData.learned ? <Habits learned={loaderData.learned} basin={basin} now={now} /> : null}
      <Held {...loaderData} />
      <OverTime basinId={basin.id} ranges={ranges} ahead={loaderData.learned} />
      <Book {...loaderData} />
    </>
  );
}

/** What would hold this water, and the card by it: one press puts a dose that would hold it on the card. */
function Held({
  basin,
  learned,
  card,
}: Pick<Route.ComponentProps["loaderData"], "basin" | "learned" | "card">) {
  const [proposed, propose] = useState<CardContent | null>(null);
  const put = (content: CardContent) => {
    propose(content);
    document.getElementById("card-section")?.scrollIntoView({ block: "start" });
  };
  return (
    <>
      {learned?.hold ? <Hold hold={learned.hold} card={put} /> : null}
      {card ? (
        <CardByTheWater
          card={card}
          basinId={basin.id}
          proposed={proposed ?? (card.hangs ? null : doseIn(learned?.hold ?? null))}
        />
      ) : null}
    </>
  );
}

/** The dose between calls that keeps the water right longest, of those that were worked out; none where it keeps. */
function doseIn(hold: HoldAnswer | null): CardContent | null {
  if (!hold || hold.asItIs.right.value >= PROMISED) return null;
  for (const { means } of hold.ways) {
    const dose = means.find((one) => one.code === "between");
    if (dose) return dose;
  }
  return null;
}

function equipmentRows({
  pumpHours,
  bathers,
  feeder,
  cellGrams,
  cover,
}: Basin["equipment"]): [string, string][] {
  const said = words.facts;
  const rows: [string, string | null][] = [
    [said.pumpShort, pumpHours === null ? null : String(pumpHours)],
    [said.bathersADay, bathers === null ? null : String(bathers)],
    [said.feeder, feeder && said.feeders[feeder]],
    [said.cellShort, cellGrams === null ? null : String(cellGrams)],
    [said.cover, cover && said.covers[cover]],
  ];
  return rows.flatMap(([name, text]) => (text === null ? [] : [[name, text]]));
}

const pageNames = () => ({
  volume: words.judgement.volume,
  judgement: words.judgement.edit,
  "what-if": words.judgement.whatIf,
  season: words.season.open,
});

const fillText = ({
  fillAlkalinity,
  fillHardness,
}: {
  fillAlkalinity: number | null;
  fillHardness: number | null;
}): string =>
  fillAlkalinity === null && fillHardness === null
    ? words.basin.fillUnknown
    : words.basin.fillText({
        alkalinity: fillAlkalinity === null ? "?" : numberText(fillAlkalinity, 1),
        hardness: fillHardness === null ? "?" : numberText(fillHardness, 1),
      });

function Facts({ basin, kit, rangeSet, photos }: Route.ComponentProps["loaderData"]) {
  const { role } = useFirm();
  const said = words.basin;
  const rows: [string, ReactNode][] = [
    [said.volume, <VolumeFigure key="volume" litres={basin.litres} />],
    [said.surface, surfaceName(basin.surface)],
    [said.fill, fillText(basin.site)],
    [
      said.calls,
      words.facts.everyOther({
        weeks: basin.calls.everyWeeks,
        days: listText(basin.calls.callDays.map(weekdayShort)),
      }),
    ],
    ...(basin.calls.season
      ? [
          [
            words.facts.seasonShort,
            words.facts.season({ from: basin.calls.season.from, to: basin.calls.season.to }),
          ] as [string, string],
        ]
      : []),
    ...equipmentRows(basin.equipment),
    [said.ranges, shipped(rangeSet.name)],
    [said.kit, kit === null ? kit : shipped(kit)],
    [said.where, `${basin.site.street}, ${basin.site.district}`],
    [said.contact, basin.site.contact],
  ];
  return (
    <section className="sheet p-4">
      <h2 className="mb-2 text-xl font-semibold">{said.facts}</h2>
      <dl className="grid grid-cols-[7rem_1fr] gap-x-3 gap-y-1">
        {rows.map(([name, text]) => (
          <div key={String(name)} className="contents">
            <dt className="text-soft">{name}</dt>
            <dd>{text}</dd>
          </div>
        ))}
      </dl>
      {photos.length > 0 ? (
        <div className="mt-3">
          <Photos photos={photos} action={`/basins/${basin.id}/photos`} fixed />
        </div>
      ) : null}
      <p className={`mt-3 flex flex-wrap gap-x-4 ${role === "reader" ? "hidden" : ""}`}>
        <Link to={`/basins/${basin.id}/repairs`} className="link min-h-[44px] content-center">
          {words.repairs.title}
        </Link>
        <Link to={`/basins/${basin.id}/customer`} className="link min-h-[44px] content-center">
          {words.mail.customer.title}
        </Link>
        <Link to={`/basins/${basin.id}/week`} className="link min-h-[44px] content-center">
          {words.week.wishes.title}
        </Link>
        <Link to={`/basins/${basin.id}/access`} className="link min-h-[44px] content-center">
          {words.access.link}
        </Link>
        <Link to={`/basins/${basin.id}/facts`} className="link min-h-[44px] content-center">
          {words.facts.edit}
        </Link>
        {(["volume", "judgement", "what-if", "season"] as const).map((page) => (
          <Link key={page} to={`/basins/${basin.id}/${page}`} className="link min-h-[44px] content-center">
            {pageNames()[page]}
          </Link>
        ))}
      </p>
      {basin.note ? <p className="mt-3 border-l-4 border-rule pl-3">{basin.note}</p> : null}
    </section>
  );
}

function Book({ visits, older, now }: Route.ComponentProps["loaderData"]) {
  const { timeZone } = useFirm();
  const said = words.basin;
  return (
    <section className="sheet mt-4 p-4">
      <h2 className="mb-2 text-xl font-semibold">{said.book}</h2>
      {visits.length === 0 ? <p className="text-soft">{said.bookNone}</p> : null}
      <ul className="divide-y divide-rule">
        {visits.map((visit) => (
          <li key={visit.id} className="grid gap-1 py-3 wide:grid-cols-[13rem_1fr] wide:gap-4">
            <p>
              <Link to={`/visits/${visit.id}`} className="link font-medium">
                {dateText(visit.startedAt, timeZone)}
              </Link>
              <span className="block text-sm text-soft">
                {ago(visit.startedAt, now)}, {visit.memberName}
              </span>
            </p>
            <div className="flex flex-wrap items-center gap-2">
              {visit.findings.map((finding) => (
                <FindingFlag key={finding.code} finding={finding} />
              ))}
              {visit.findings.length === 0 ? <span className="text-soft">{said.inRange}</span> : null}
              <span className="text-soft">{said.dosesAdded({ doses: visit.doses })}</span>
              {visit.note ? <p className="w-full">{visit.note}</p> : null}
            </div>
          </li>
        ))}
      </ul>
      {older ? (
        <Link to={`?before=${older.toISOString()}`} className="quiet-action mt-3">
          {said.older}
        </Link>
      ) : null}
    </section>
  );
}

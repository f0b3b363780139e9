import { Printer } from "lucide-react";
import { Form, Link, useNavigation } from "react-router";
import { InputFault, litresFrom, numberFrom, numberWithin, PLACE_LIMITS, UNIT_SYSTEMS } from "#core";
import { firmOf } from "#server/db/firms";
import { quoteOn } from "#server/week/quote";
import { inFirm } from "../../context";
import { type FaultView, faultView } from "../../fault";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { waterUnit } from "../../ui/format";
import { Refused } from "../../ui/refused";
import { useFirm, useMoney } from "../../ui/use-firm";
import { durationText, KINDS, listText, weekdayLong, words } from "../../words";
import type { Route } from "./+types/quote";

/** A quote for a new customer, by the basins of this firm that are like theirs. */

const LITRES = { low: 100, high: 15_000_000 } as const;
const CALLS = [0.5, 1, 2, 3, 4, 5, 6, 7] as const;

interface Typed {
  name: string;
  kind: string;
  volume: string;
  indoors: boolean;
  latitude: string;
  longitude: string;
  calls: string;
}

export const loader = ({ request, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope, _, now) => {
    const query = new URL(request.url).searchParams;
    const text = (name: string) => (query.get(name) ?? "").trim();
    const typed: Typed = {
      name: text("name").slice(0, 120),
      kind: KINDS.find((kind) => kind === text("kind")) ?? "pool",
      volume: text("volume"),
      indoors: text("indoors") === "true",
      latitude: text("latitude"),
      longitude: text("longitude"),
      calls: CALLS.some((calls) => `${calls}` === text("calls")) ? text("calls") : "",
    };
    if (!query.has("volume")) return { typed, quote: null, fault: null };
    const firm = await firmOf(scope);
    try {
      const litres = litresFrom(numberFrom(typed.volume), UNIT_SYSTEMS[firm.units].water);
      numberWithin("volume", Number.isNaN(litres) ? typed.volume : litres, LITRES.low, LITRES.high);
      const quote = await quoteOn(
        scope,
        firm,
        {
          kind: typed.kind,
          litres,
          indoors: typed.indoors,
          place: placeOf(typed),
          calls: typed.calls === "" ? null : Number(typed.calls),
        },
        now,
      );
      return { typed, quote: quote ?? ("none" as const), fault: null };
    } catch (fault) {
      if (!(fault instanceof InputFault)) throw fault;
      return { typed, quote: null, fault: faultView(fault) };
    }
  });

/** @throws InputFault for coordinates that are none */
function placeOf({ latitude, longitude }: Typed) {
  if (latitude === "" && longitude === "") return null;
  const degrees = (field: "latitude" | "longitude", text: string) => {
    const { low, high } = PLACE_LIMITS[field];
    const value = Number(text.replace(",", "."));
    return numberWithin(field, text === "" || Number.isNaN(value) ? text : value, low, high);
  };
  return { latitude: degrees("latitude", latitude), longitude: degrees("longitude", longitude) };
}

export const meta: Route.MetaFunction = () => [{ title: `${words.week.quote.title} · ${words.product}` }];

export default function QuotePage({ loaderData: { typed, quote, fault } }: Route.ComponentProps) {
  const said = words.week.quote;
  const { units } = useFirm();
  const busy = useNavigation().state !== "idle";
  return (
    <div className="grid max-w-3xl gap-4">
      <h1 className="text-3xl font-bold tracking-tight">
        {typed.name ? said.titleFor({ name: typed.name }) : said.title}
      </h1>
      <p className="no-print max-w-prose text-soft">{said.hint}</p>
      <Form method="get" className="sheet no-print grid gap-3 p-4 wide:grid-cols-2">
        <Field label={said.name}>
          <input name="name" autoComplete="off" maxLength={120} defaultValue={typed.name} />
        </Field>
        <Field label={said.kind}>
          <select name="kind" defaultValue={typed.kind}>
            {KINDS.map((kind) => (
              <option key={kind} value={kind}>
                {words.kinds[kind]}
              </option>
            ))}
          </select>
        </Field>
        <Field label={said.volume({ unit: waterUnit(units) })}>
          <input name="volume" inputMode="decimal" autoComplete="off" defaultValue={typed.volume} />
        </Field>
        <Field label={said.where}>
          <select name="indoors" defaultValue={`${typed.indoors}`}>
            <option value="false">{said.outdoors}</option>
            <option value="true">{said.indoors}</option>
          </select>
        </Field>
        <Field label={words.week.wishes.latitude}>
          <input name="latitude" inputMode="decimal" autoComplete="off" defaultValue={typed.latitude} />
        </Field>
        <Field label={words.week.wishes.longitude}>
          <input name="longitude" inputMode="decimal" autoComplete="off" defaultValue={typed.longitude} />
        </Field>
        <Field label={said.calls}>
          <select name="calls" defaultValue={typed.calls}>
            <option value="">{said.callsByWater}</option>
            {CALLS.map((calls) => (
              <option key={calls} value={calls}>
                {calls === 0.5 ? said.everyOther : said.callsAWeek({ count: calls })}
              </option>
            ))}
          </select>
        </Field>
        <Button busy={busy} className="self-end">
          {said.go}
        </Button>
      </Form>
      <Refused answer={fault ? { fault: fault as FaultView } : undefined} />
      {quote === "none" ? <p>{said.none}</p> : null}
      {quote && quote !== "none" ? <Told quote={quote} typed={typed} /> : null}
    </div>
  );
}

type Found = Exclude<Route.ComponentProps["loaderData"]["quote"], null | "none">;

function Told({ quote, typed }: { quote: Found; typed: Typed }) {
  const said = words.week.quote;
  const money = useMoney();
  const time = (minutes: number) => durationText(Math.round(minutes) * 60);
  const spread = (figure: { value: number; low: number; high: number }, text: (value: number) => string) => {
    const [value, low, high] = [text(figure.value), text(figure.low), text(figure.high)];
    return low === high ? value : said.spread({ value, low, high });
  };
  const query = new URLSearchParams({
    kind: typed.kind,
    volume: typed.volume,
    indoors: `${typed.indoors}`,
    name: typed.name,
  });
  return (
    <section className="sheet grid gap-4 p-5">
      <h2 className="text-xl font-semibold">{said.days}</h2>
      {quote.options.length === 0 ? <p>{said.nobody}</p> : null}
      <ul className="grid gap-2">
        {quote.options.map(({ person, name, days, everyWeeks, right }) => {
          const weekdays = listText([...days].map(weekdayLong));
          return (
            <li key={person}>
              <p className="font-semibold">
                {name}: {everyWeeks === 1 ? weekdays : words.week.regular.everyOther({ days: weekdays })}
              </p>
              <p className="text-soft">{said.right({ right: Math.round(100 * right) })}</p>
            </li>
          );
        })}
      </ul>
      <dl className="grid gap-x-6 gap-y-1 wide:grid-cols-[12rem_1fr]">
        <dt className="text-soft">{said.minutes}</dt>
        <dd>{spread(quote.minutes, time)}</dd>
        <dt className="text-soft">{said.products}</dt>
        <dd>{spread(quote.products, money)}</dd>
        <dt className="text-soft">{said.price}</dt>
        <dd className="font-semibold">{spread(quote.price, money)}</dd>
      </dl>
      <p className="text-soft">{said.like({ count: quote.like })}</p>
      <div className="no-print flex flex-wrap gap-3">
        <Link to={`/basins/new?${query}`} className="action">
          {said.save}
        </Link>
        <Button type="button" quiet onClick={() => print()}>
          <Printer size={20} aria-hidden="true" />
          {words.round.print}
        </Button>
      </div>
    </section>
  );
}

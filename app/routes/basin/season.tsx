import { millisecondsInDay } from "date-fns/constants";
import { useDeferredValue, useMemo, useState } from "react";
import { Link } from "react-router";
import {
  type ChlorineWay,
  everydayAmount,
  KEPT_BY,
  PRODUCTS,
  type ProductId,
  productForm,
  rangesOf,
  SEASON_QUANTITIES,
  type SeasonOfWay,
  type SeasonQuantity,
  type Surroundings,
  season,
  seasonLimits,
  type UnitSystem,
  WAY_PRODUCTS,
} from "#core";
import { inFirm, notFound } from "../../context";
import { seasonPage } from "../../pages/basin.server";
import { WaysChart } from "../../ui/charts/ways-chart";
import { Empty } from "../../ui/empty";
import { Field } from "../../ui/field";
import { amountText, massText, nearDateText, plain, volumeText } from "../../ui/format";
import { typedNumber } from "../../ui/number-text";
import { StartVisit } from "../../ui/start-visit";
import { useFirm, useMoney } from "../../ui/use-firm";
import { listText, productName, quantityName, words } from "../../words";
import type { Route } from "./+types/season";
import { HoldLine } from "./hold";
import { SliderField } from "./slider-field";

export const loader = ({ params, context }: Route.LoaderArgs) =>
  inFirm(context, async (scope, _, now) => (await seasonPage(scope, params.basinId, now)) ?? notFound());

export const meta: Route.MetaFunction = () => [{ title: `${words.season.title} · ${words.product}` }];

type Data = Route.ComponentProps["loaderData"];

export default function SeasonPage({ loaderData }: Route.ComponentProps) {
  const { basin, water, fill, visits, fillKnown } = loaderData;
  const said = words.season;
  return (
    <div className="grid gap-4">
      <header>
        <h1 className="text-3xl font-bold tracking-tight">{said.title}</h1>
        <p className="text-soft">
          <Link to={`/basins/${basin.id}`} className="link">
            {basin.name}
          </Link>
          . {said.hint} {visits === null ? said.usual : said.byLog({ visits })}{" "}
          {fillKnown ? "" : said.usualFill}
        </p>
      </header>
      {loaderData.hold ? (
        <div className="sheet p-4">
          <HoldLine hold={loaderData.hold} basinId={basin.id} />
        </div>
      ) : null}
      {water && fill ? (
        <Ways {...loaderData} water={water} fill={fill} />
      ) : (
        <Empty text={words.whatIf.noWater}>
          <StartVisit basinId={basin.id}>{words.basin.start}</StartVisit>
        </Empty>
      )}
    </div>
  );
}

const MONTHS = [3, 6, 12] as const;
const WEEKS_A_MONTH = 52 / 12;
/** Sun and use over what is usual, in per cent. */
const SPANS = { sun: { low: 50, high: 150 }, use: { low: 25, high: 300 } } as const;
/** Where no price is known: money a kilogram of chlorine for a cell's wear and current, and a cubic metre of water. */
const USUAL_PRICES = { cell: 9, water: 3 } as const;

interface Asked {
  months: (typeof MONTHS)[number];
  sun: number;
  use: number;
  prices: Record<string, number | undefined>;
}

function Ways(data: Data & { water: NonNullable<Data["water"]>; fill: NonNullable<Data["fill"]> }) {
  const { timeZone } = useFirm();
  const said = words.season;
  const [asked, ask] = useState<Asked>(() => ({ months: 6, sun: 100, use: 100, prices: pricesOf(data) }));
  // A thumb that moves is drawn before the season is worked out anew.
  const settled = useDeferredValue(asked);
  const ways = useMemo(() => seasonFor(data, settled), [data, settled]);
  const limits = seasonLimits(rangesOf(data.rangeSet, data.basin.surface, data.water), data.fill, data.water);
  const own = ownWay(data);
  return (
    <>
      <section className="sheet grid gap-4 p-4 wide:grid-cols-[auto_1fr_1fr] wide:items-end wide:gap-8">
        <fieldset className="flex flex-wrap gap-2">
          <legend className="mb-1 text-sm text-soft">{said.ahead}</legend>
          {MONTHS.map((months) => (
            <button
              key={months}
              type="button"
              aria-pressed={months === asked.months}
              className={months === asked.months ? "action" : "quiet-action"}
              onClick={() => ask({ ...asked, months })}
            >
              {said.months({ months })}
            </button>
          ))}
        </fieldset>
        {(["sun", "use"] as const).map((name) => (
          <SliderField
            key={name}
            name={name}
            label={said[name]}
            start={100}
            step={5}
            {...SPANS[name]}
            change={(_, value) => ask((now) => ({ ...now, [name]: value }))}
          />
        ))}
        <Prices data={data} ask={ask} prices={asked.prices} />
      </section>
      <ul className="grid gap-3 wide:grid-cols-5">
        {ways.map((one) => (
          <li
            key={one.way}
            className={`sheet grid content-start gap-2 p-3 ${one.way === own ? "border-ink!" : ""}`}
          >
            <WayCard one={one} own={one.way === own} timeZone={timeZone} />
          </li>
        ))}
      </ul>
      <section className="sheet grid gap-x-6 gap-y-4 p-4 wide:grid-cols-3">
        {SEASON_QUANTITIES.map((quantity) => (
          <WaysChart
            key={quantity}
            title={nameOf(quantity)}
            unit="ppm"
            limit={limits[quantity]}
            timeZone={timeZone}
            lines={ways.map(({ way, points }) => ({
              name: said.ways[way],
              own: way === own,
              points: points.map((point) => ({ at: point.at, value: point[quantity] })),
            }))}
          />
        ))}
      </section>
      <p className="max-w-prose text-soft">{said.careful}</p>
    </>
  );
}

/** As it is measured out: a liquid by volume. What a cell makes is no product, and is told by weight. */
const pouredText = (grams: number, product: ProductId | null, units: UnitSystem): string =>
  product === null ? massText(grams, units) : amountText(everydayAmount(grams, productForm(product), units));

const nameOf = (quantity: SeasonQuantity): string => quantityName(quantity);

/** One way: what it costs, what it puts in, what it makes climb, and what must go for it. */
function WayCard({ one, own, timeZone }: { one: SeasonOfWay; own: boolean; timeZone: string }) {
  const { units } = useFirm();
  const money = useMoney();
  const said = words.season;
  const last = one.points.at(-1);
  const first = one.points[0];
  if (!first || !last) return null;
  const beside = Object.values(KEPT_BY).flatMap((product) => {
    const grams = one.given[product];
    return grams
      ? [words.amountOf({ amount: pouredText(grams, product, units), product: productName(product) })]
      : [];
  });
  return (
    <>
      <h2 className="font-semibold">
        {said.ways[one.way]}
        {own ? <span className="block text-sm font-normal text-soft">{said.own}</span> : null}
      </h2>
      <p className="text-2xl font-bold">{one.cost === null ? said.noPrice : money(one.cost)}</p>
      <p className="text-sm">
        {said.chlorine({
          mass: pouredText(one.chlorine, WAY_PRODUCTS[one.way], units),
          isCell: one.way === "salt-cell",
        })}
        {beside.length > 0 ? (
          <span className="block text-soft">{said.beside({ list: listText(beside) })}</span>
        ) : null}
      </p>
      {SEASON_QUANTITIES.map((quantity) => {
        const passed = one.passed[quantity];
        return (
          <p key={quantity} className="text-sm">
            {nameOf(quantity)}:{" "}
            <span className="whitespace-nowrap">
              {plain(first[quantity], 0)} → <b>{plain(last[quantity], 0)}</b>
            </span>
            {passed === undefined ? null : (
              <span className="block font-medium text-above">
                {passed === first.at
                  ? said.overNow
                  : said.passes({ day: nearDateText(new Date(passed), timeZone) })}
              </span>
            )}
          </p>
        );
      })}
      <p className="text-sm">
        {one.replaced > 0 ? said.replaced({ volume: volumeText(one.replaced, units) }) : said.nothingReplaced}
      </p>
    </>
  );
}

/** What each costs, from the shelf where it stands there. */
function Prices({
  data,
  prices,
  ask,
}: {
  data: Data;
  prices: Asked["prices"];
  ask: (change: (now: Asked) => Asked) => void;
}) {
  const said = words.season;
  /** What was typed and is no price, by its field. */
  const [wrong, setWrong] = useState<Partial<Record<(typeof PRICED)[number], string>>>({});
  return (
    <details className="wide:col-span-3">
      <summary className="min-h-[44px] cursor-pointer content-center font-semibold">{said.prices}</summary>
      <div className="grid grid-cols-2 gap-3 pt-2 wide:grid-cols-5">
        {PRICED.map((name) => (
          <Field key={name} label={priceLabel(name, data)}>
            <input
              inputMode="decimal"
              autoComplete="off"
              defaultValue={prices[name] ?? ""}
              onChange={(event) => {
                const text = event.target.value;
                const typed = typedNumber(text);
                const isPrice = Number.isFinite(typed) && typed >= 0;
                const price = isPrice ? typed : undefined;
                setWrong((now) => ({ ...now, [name]: isPrice || text.trim() === "" ? undefined : text }));
                ask((now) => ({ ...now, prices: { ...now.prices, [name]: price } }));
              }}
            />
          </Field>
        ))}
      </div>
      {PRICED.map((name) =>
        wrong[name] === undefined ? null : (
          <p key={name} role="alert" className="mt-2 border-l-4 border-above bg-above-wash p-3 text-above">
            {said.badPrice({ field: priceLabel(name, data), typed: wrong[name] })}
          </p>
        ),
      )}
    </details>
  );
}

const PRICED = [
  ...Object.values(WAY_PRODUCTS).filter((product) => product !== null),
  "cell",
  ...Object.values(KEPT_BY),
  "water",
] as const;

function priceLabel(name: (typeof PRICED)[number], { products }: Data): string {
  if (name === "cell") return words.season.cellPrice;
  if (name === "water") return words.season.waterPrice;
  return products.find(({ product }) => product === name)?.name ?? productName(name);
}

const pricesOf = ({ products }: Data): Asked["prices"] => ({
  ...Object.fromEntries(products.map(({ product, pricePerKg }) => [product, pricePerKg ?? undefined])),
  ...USUAL_PRICES,
});

/** The way that the basin is chlorinated now, as its facts say. */
function ownWay({ basin }: Data): ChlorineWay | null {
  if (basin.equipment.feeder === "tablets") return "tablets";
  if (basin.equipment.feeder === "liquid") return "liquid";
  return basin.sanitiser === "salt-cell" || basin.equipment.feeder === "salt-cell" ? "salt-cell" : null;
}

function seasonFor(
  data: Data & { water: NonNullable<Data["water"]>; fill: NonNullable<Data["fill"]> },
  { months, sun, use, prices }: Asked,
): SeasonOfWay[] {
  const { now, basin, weeks, location, products } = data;
  const from = now.getTime();
  const weekOf = (at: number) =>
    weeks[Math.min(weeks.length - 1, Math.max(0, Math.floor((at - from) / (7 * millisecondsInDay))))];
  const around: Surroundings = {
    location,
    clearness: (at) => weekOf(at)?.sun ?? 0,
    temperature: (at) => weekOf(at)?.temperature ?? data.water.temperature,
  };
  const strengths = Object.fromEntries(
    Object.entries(PRODUCTS).map(([product, usual]) => [
      product,
      products.find((one) => one.product === product)?.strength ?? usual.strength,
    ]),
  ) as Record<ProductId, number>;
  return season({
    water: data.water,
    fill: data.fill,
    litres: basin.litres,
    habits: data.rates,
    around,
    rangeSet: data.rangeSet,
    surface: basin.surface,
    outdoors: data.outdoors,
    from,
    weeks: Math.round(months * WEEKS_A_MONTH),
    strengths,
    sun: sun / 100,
    use: use / 100,
    prices,
  });
}

import { Link } from "react-router";
import {
  type Basin,
  type Figure,
  normalUnder,
  QUANTITY_NAMES,
  type Quantity,
  type Range,
  type UnitSystem,
} from "#core";
import { ago, dayText, plain, valueText, volumeText, withUnit } from "../../ui/format";
import { useFirm } from "../../ui/use-firm";
import { quantityName, words } from "../../words";
import type { Route } from "./+types/route";

interface Props {
  learned: NonNullable<Route.ComponentProps["loaderData"]["learned"]>;
  basin: Basin;
  ranges: Partial<Record<Quantity, Range>>;
  now: Date;
}

/** Half of a central 90 %, in standard deviations. */
const NINETY = 1.6449;
/** A change that nobody would read in a month is none. mg/L, and pH a day */
const NO_CHANGE = { month: 3, ph: 0.005 } as const;

/** What the basin does by itself, and what its next call will find; each with how sure that is. */
export function Habits({ learned, basin, ranges, now }: Props) {
  const { units } = useFirm();
  const { habits, visits, learnedAt, volume } = learned;
  const said = words.habits;
  const lines: [string, string][] = [
    [said.chlorine(shareText(habits.chlorineLoss.value)), said.percent(percents(habits.chlorineLoss))],
    ...(habits.feeder
      ? [[said.fed(plain(habits.feeder.value, 1)), said.ppmDay(span(habits.feeder, 1))] as [string, string]]
      : []),
    [phLine(habits.phRise), said.aDay(span(habits.phRise, 3))],
    [monthLine("totalAlkalinity", habits.alkalinityChange), said.ppmMonth(span(habits.alkalinityChange, 0))],
    [monthLine("calciumHardness", habits.calciumClimb), said.ppmMonth(span(habits.calciumClimb, 0))],
    [monthLine("cyanuricAcid", habits.stabiliserClimb), said.ppmMonth(span(habits.stabiliserClimb, 0))],
  ];
  return (
    <section className="sheet mt-4 grid gap-4 p-4" aria-labelledby="habits">
      <header className="flex flex-wrap items-baseline justify-between gap-x-4">
        <h2 id="habits" className="text-xl font-semibold">
          {said.title}
        </h2>
        <p className="text-sm text-soft">{said.restsOn(visits, ago(learnedAt, now))}</p>
      </header>
      {volume ? (
        <div className="grid gap-2 border-l-4 border-below bg-below-wash p-3 text-below">
          <p className="font-semibold">
            {said.volume(
              volumeText(basin.litres, units),
              volumeText(basin.litres * volume.ratio.value, units),
              volumeText(basin.litres * volume.ratio.low, units),
              volumeText(basin.litres * volume.ratio.high, units),
            )}
          </p>
          <p>{said.volumeSettle}</p>
          <p>
            <Link to={`/basins/${basin.id}/volume`} className="quiet-action">
              {said.volumeOpen}
            </Link>
          </p>
        </div>
      ) : null}
      <div className="grid items-start gap-6 wide:grid-cols-2">
        <dl className="grid gap-2">
          {lines.map(([text, sure]) => (
            <div key={text}>
              <dt className="font-medium">{text}</dt>
              <dd className="text-sm text-soft">{sure}</dd>
            </div>
          ))}
        </dl>
        <Next learned={learned} ranges={ranges} units={units} />
      </div>
    </section>
  );
}

/** The next call: each reading with its interval, and how likely the chlorine stands under its floor then. */
function Next({
  learned: { next, atNext },
  ranges,
  units,
}: Pick<Props, "learned" | "ranges"> & { units: UnitSystem }) {
  const said = words.habits;
  if (!atNext) return <p className="text-soft">{said.noForecast}</p>;
  const { at, ...figures } = atNext;
  const rows = QUANTITY_NAMES.flatMap((quantity): [Quantity, Figure][] => {
    const figure = figures[quantity as keyof typeof figures] as Figure | undefined;
    return figure ? [[quantity, asRead(quantity, figure)]] : [];
  });
  const floor = ranges.freeChlorine?.low;
  const chlorine = figures.freeChlorine;
  return (
    <div className="grid gap-2">
      <h3 className="font-semibold">
        {said.next(dayText(next ?? new Date(at).toISOString().slice(0, 10)), next !== null)}
      </h3>
      <table className="w-full text-left">
        <thead className="text-sm text-soft">
          <tr>
            <th className="py-1 font-normal">{said.reading}</th>
            <th className="font-normal">{said.expected}</th>
            <th className="font-normal">{said.ninety}</th>
          </tr>
        </thead>
        <tbody className="divide-y divide-rule">
          {rows.map(([quantity, { value, low, high }]) => (
            <tr key={quantity}>
              <th scope="row" className="py-1 font-medium">
                {quantityName(quantity)}
              </th>
              <td>{withUnit(quantity, value, units)}</td>
              <td className="text-soft">
                {said.between(valueText(quantity, low, units), valueText(quantity, high, units))}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {chlorine && floor !== undefined && floor !== null ? (
        <p>
          {said.underFloor(chanceText(chanceUnder(chlorine, floor)), withUnit("freeChlorine", floor, units))}
        </p>
      ) : null}
    </div>
  );
}

/** To what somebody could read: whole ppm, tenths of chlorine, hundredths of pH. */
function asRead(quantity: Quantity, { value, low, high }: Figure): Figure {
  const step = quantity === "ph" ? 100 : quantity === "freeChlorine" ? 10 : 1;
  const rounded = (number: number) => Math.round(number * step) / step;
  return { value: rounded(value), low: rounded(low), high: rounded(high) };
}

const span = ({ low, high }: Figure, digits: number): [string, string] => [
  plain(low, digits),
  plain(high, digits),
];
const percents = ({ low, high }: Figure): [string, string] => [plain(low * 100, 0), plain(high * 100, 0)];

function phLine({ value }: Figure): string {
  const said = words.habits;
  if (Math.abs(value) < NO_CHANGE.ph) return said.phStays;
  return value > 0 ? said.phRises(plain(value, 2)) : said.phFalls(plain(-value, 2));
}

function monthLine(quantity: Quantity, { value }: Figure): string {
  const said = words.habits;
  const name = quantityName(quantity);
  if (Math.abs(value) < NO_CHANGE.month) return said.stays(name);
  return value > 0 ? said.climbs(name, plain(value, 0)) : said.sinks(name, plain(-value, 0));
}

/** A share as somebody says it. */
function shareText(share: number): string {
  const near = [...words.habits.shares].reduce((a, b) =>
    Math.abs(b[0] - share) < Math.abs(a[0] - share) ? b : a,
  );
  return near[1];
}

const chanceUnder = ({ value, low, high }: Figure, floor: number): number => {
  const deviation = Math.max(1e-6, (high - Math.max(low, 2 * value - high)) / (2 * NINETY));
  return normalUnder((floor - value) / deviation);
};

function chanceText(chance: number): string {
  const said = words.habits.chances;
  if (chance < 0.05) return said.hardly;
  if (chance < 0.25) return said.seldom;
  if (chance < 0.6) return said.maybe;
  return chance < 0.9 ? said.likely : said.surely;
}

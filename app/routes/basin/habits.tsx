import { useState } from "react";
import { Link } from "react-router";
import { type Basin, dayIn, type Figure, QUANTITY_NAMES, type Quantity, type UnitSystem } from "#core";
import { Button } from "../../ui/button";
import { crossingText } from "../../ui/crossing";
import { Field } from "../../ui/field";
import { ago, dateText, dayText, plain, toldLimit, valueText, volumeText, withUnit } from "../../ui/format";
import { Refused } from "../../ui/refused";
import { useClientId } from "../../ui/use-client-id";
import { useCommand } from "../../ui/use-command";
import { useFirm } from "../../ui/use-firm";
import { quantityName, words } from "../../words";
import type { Route } from "./+types/route";

type Learned = NonNullable<Route.ComponentProps["loaderData"]["learned"]>;

interface Props {
  learned: Learned;
  basin: Basin;
  now: Date;
}

/** A change that nobody would read in a month is none. mg/L, and pH a day */
const NO_CHANGE = { month: 3, ph: 0.005 } as const;

/** What the basin does by itself, and what its next call will find; each with how sure that is. */
export function Habits({ learned, basin, now }: Props) {
  const { timeZone, units } = useFirm();
  const { habits, visits, learnedAt, unwritten } = learned;
  const said = words.habits;
  const lines: [string, string][] = [
    [
      said.chlorine({ share: plain(100 * habits.chlorineLoss.value, 0) }),
      said.percent(percents(habits.chlorineLoss)),
    ],
    ...(habits.feeder
      ? [
          [said.fed({ ppm: plain(habits.feeder.value, 1) }), said.ppmDay(span(habits.feeder, 1))] as [
            string,
            string,
          ],
        ]
      : []),
    [phLine(habits.phRise), said.aDay(span(habits.phRise, 3))],
    monthLine("totalAlkalinity", habits.alkalinityChange),
    monthLine("calciumHardness", habits.calciumClimb),
    monthLine("cyanuricAcid", habits.stabiliserClimb),
  ];
  return (
    <section className="sheet mt-4 grid gap-4 p-4" aria-labelledby="habits">
      <header className="flex flex-wrap items-baseline justify-between gap-x-4">
        <h2 id="habits" className="text-xl font-semibold">
          {said.title}
        </h2>
        <p className="text-sm text-soft">{said.restsOn({ visits, age: ago(learnedAt, now) })}</p>
      </header>
      <VolumeSuspected learned={learned} basin={basin} now={now} />
      {unwritten.map(({ at, quantity, ratio, expected }) =>
        at === undefined || !quantity || expected === undefined ? null : (
          <p key={at} className="border-l-4 border-below bg-below-wash p-3 text-below">
            {said.unwritten({
              day: dateText(new Date(at), timeZone),
              name: quantityName(quantity),
              found: withUnit(quantity, rounded(quantity, ratio.value * expected), units),
              expected: valueText(quantity, rounded(quantity, expected), units),
            })}
          </p>
        ),
      )}
      <div className="grid items-start gap-6 wide:grid-cols-2">
        <dl className="grid gap-2">
          {lines.map(([text, sure]) => (
            <div key={text}>
              <dt className="font-medium">{text}</dt>
              {sure ? <dd className="text-sm text-soft">{sure}</dd> : null}
            </div>
          ))}
        </dl>
        <Next learned={learned} now={now} />
      </div>
    </section>
  );
}

/** The log against the book: what each says, what would settle it, and one press to take it over. */
function VolumeSuspected({ learned: { volume, doses }, basin, now }: Props) {
  const { units, timeZone, role } = useFirm();
  const { dispatch, answer, saved, busy } = useCommand<"measure-volume">(`/basins/${basin.id}/volume`);
  const id = useClientId(basin.id);
  const [from, setFrom] = useState(() => dayIn(now, timeZone));
  const said = words.habits;
  if (saved) return <p role="status">{said.volumeTaken}</p>;
  if (!volume) return null;
  const text = (ratio: number) => volumeText(basin.litres * ratio, units);
  return (
    <div className="grid gap-2 border-l-4 border-below bg-below-wash p-3 text-below">
      <p className="font-semibold">
        {said.volume({
          book: text(1),
          learned: text(volume.ratio.value),
          low: text(volume.ratio.low),
          high: text(volume.ratio.high),
        })}
      </p>
      <p>{said.volumeRests({ doses: words.overTime.doses({ count: doses }) })}</p>
      <p>{said.volumeSettle}</p>
      {role === "reader" ? null : (
        <form
          className="flex flex-wrap items-end gap-3"
          onSubmit={(event) => {
            event.preventDefault();
            void dispatch("measure-volume", { id: id([from, volume.ratio.value]), how: "log", from });
          }}
        >
          <Link to={`/basins/${basin.id}/volume`} className="quiet-action">
            {said.volumeOpen}
          </Link>
          <Button quiet busy={busy}>
            {said.volumeTake({ volume: text(volume.ratio.value) })}
          </Button>
          <Field label={said.volumeFrom}>
            <input type="date" required value={from} onChange={(event) => setFrom(event.target.value)} />
          </Field>
        </form>
      )}
      <Refused answer={answer} />
    </div>
  );
}

/** The next call: each reading with its interval, and what will have passed its edge by then. */
function Next({ learned: { next, call, atCall, crossings, leave }, now }: Pick<Props, "learned" | "now">) {
  const { units, timeZone } = useFirm();
  const said = words.habits;
  if (!atCall) return <p className="text-soft">{said.noForecast}</p>;
  const rows = QUANTITY_NAMES.flatMap((quantity): [Quantity, Figure][] => {
    const figure = atCall[quantity as keyof typeof atCall] as Figure | undefined;
    return figure ? [[quantity, asRead(quantity, figure)]] : [];
  });
  return (
    <div className="grid gap-2">
      <h3 className="font-semibold">
        {said.next({ day: dayText(next ?? dayIn(new Date(call), timeZone)), isCall: next !== null })}
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
                {said.between({
                  low: valueText(quantity, low, units),
                  high: valueText(quantity, high, units),
                })}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {leave ? <p>{leaveText(leave, units)}</p> : null}
      {crossings.length === 0 ? <p className="text-soft">{said.crossesNothing}</p> : null}
      {crossings.map((crossing) => (
        <p key={crossing.quantity + crossing.edge}>{crossingText(crossing, units, timeZone, now)}</p>
      ))}
    </div>
  );
}

function leaveText({ chlorine, floor, most }: NonNullable<Learned["leave"]>, units: UnitSystem): string {
  const said = words.habits;
  const text = (value: number) => withUnit("freeChlorine", toldLimit("freeChlorine", value), units);
  const ceiling = most ?? MOST_TOLD;
  return chlorine === null || chlorine > ceiling
    ? said.leaveTooMuch({
        chlorine:
          chlorine === null || chlorine > MOST_TOLD
            ? said.overTold({ chlorine: text(MOST_TOLD) })
            : text(chlorine),
        floor: text(floor),
        most: text(ceiling),
      })
    : said.leave({ chlorine: text(chlorine), floor: text(floor) });
}

/** No more chlorine than this is named: nobody would leave it. mg/L */
const MOST_TOLD = 20;

const STEPS: Partial<Record<Quantity, number>> = { ph: 100, freeChlorine: 10 };

/** To what somebody could read: whole ppm, tenths of chlorine, hundredths of pH. */
const rounded = (quantity: Quantity, value: number): number => {
  const step = STEPS[quantity] ?? 1;
  return Math.round(value * step) / step;
};
const asRead = (quantity: Quantity, { value, low, high }: Figure): Figure => ({
  value: rounded(quantity, value),
  low: rounded(quantity, low),
  high: rounded(quantity, high),
});

const span = ({ low, high }: Figure, digits: number) => ({
  low: plain(low, digits),
  high: plain(high, digits),
});
const percents = ({ low, high }: Figure) => span({ value: 0, low: low * 100, high: high * 100 }, 0);

function phLine({ value }: Figure): string {
  const said = words.habits;
  if (Math.abs(value) < NO_CHANGE.ph) return said.phStays;
  return value > 0 ? said.phRises({ by: plain(value, 2) }) : said.phFalls({ by: plain(-value, 2) });
}

/** What a reading does in a month, and how sure that is; nothing where even its ends are none. */
function monthLine(quantity: Quantity, figure: Figure): [string, string] {
  const said = words.habits;
  const name = quantityName(quantity);
  const { value, low, high } = figure;
  if (Math.round(low) === 0 && Math.round(high) === 0) return [said.unchanging({ name }), ""];
  const sure = said.ppmMonth(span(figure, 0));
  if (Math.abs(value) < NO_CHANGE.month) return [said.stays({ name }), sure];
  return value > 0
    ? [said.climbs({ name, ppm: plain(value, 0) }), sure]
    : [said.sinks({ name, ppm: plain(-value, 0) }), sure];
}

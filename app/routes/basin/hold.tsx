import { useState } from "react";
import { Link } from "react-router";
import { type CardContent, type Figure, type Held, type HoldAnswer, PROMISED } from "#core";
import { Button } from "../../ui/button";
import { doseText } from "../../ui/card-text";
import { plain, toldLimit, withUnit } from "../../ui/format";
import { useFirm, useMoney } from "../../ui/use-firm";
import { meansText, rangeSetName, togetherText, words } from "../../words";

/** So many ways are shown before somebody asks for all. */
const FEW = 5;

/** What would hold this water: as it is kept, and by other means, with what each costs. */
export function Hold({ hold, card }: { hold: HoldAnswer; card?: (content: CardContent) => void }) {
  const [all, showAll] = useState(false);
  const said = words.hold;
  const { asItIs, ways, cheapest } = hold;
  const isFine = asItIs.right.value >= PROMISED;
  const shown = all ? ways : ways.slice(0, FEW);
  return (
    <section className="sheet mt-4 grid gap-3 p-4" aria-labelledby="hold">
      <header>
        <h2 id="hold" className="text-xl font-semibold">
          {said.title}
        </h2>
        <p className="text-sm text-soft">{said.hint}</p>
      </header>
      <Short hold={hold} />
      {isFine ? <p>{said.fine}</p> : cheapest ? null : <p>{said.noneHolds}</p>}
      <div className="overflow-x-auto">
        <table className="w-full text-left">
          <thead className="text-sm text-soft">
            <tr>
              <th className="py-1 font-normal">{said.way}</th>
              <th className="font-normal">{said.right}</th>
              <th className="font-normal">{said.cost}</th>
              <th className="font-normal">{said.minutes}</th>
              <th />
            </tr>
          </thead>
          <tbody className="divide-y divide-rule align-top">
            <Way held={asItIs} />
            {isFine
              ? null
              : shown.map((held) => (
                  <Way
                    key={JSON.stringify(held.means)}
                    held={held}
                    isBest={cheapest !== null && same(held, cheapest)}
                    {...(card ? { card } : {})}
                  />
                ))}
          </tbody>
        </table>
      </div>
      {!isFine && ways.length > FEW && !all ? (
        <Button type="button" quiet className="justify-self-start" onClick={() => showAll(true)}>
          {said.more}
        </Button>
      ) : null}
      <p className="text-sm text-soft">{said.costHint}</p>
    </section>
  );
}

const same = (a: Held, b: Held): boolean => JSON.stringify(a.means) === JSON.stringify(b.means);

/** Where chlorine does not last until the next visit: from when, by how much, and what stands in the way. */
export function Short({ hold: { short } }: { hold: HoldAnswer }) {
  const { units } = useFirm();
  if (!short) return null;
  const said = words.hold;
  const ppm = (value: number) => withUnit("freeChlorine", toldLimit("freeChlorine", value), units);
  const { day, days, by, wanted, most } = short;
  return (
    <p className="border-l-4 border-below bg-below-wash p-3 text-below">
      {said.short({ day: plain(Math.max(1, Math.ceil(day)), 0), days: plain(days, 0) })}{" "}
      {by > 0 ? said.shortBy({ by: ppm(by) }) : ""}{" "}
      {most === null
        ? ""
        : wanted === null
          ? said.noDose({ most: ppm(most) })
          : wanted > most
            ? said.bound({ wanted: ppm(wanted), most: ppm(most) })
            : ""}
    </p>
  );
}

function Way({
  held,
  isBest = false,
  card,
}: {
  held: Held;
  isBest?: boolean;
  card?: (content: CardContent) => void;
}) {
  const money = useMoney();
  const said = words.hold;
  const text = useMeansText();
  const { means, right, cost, minutes, theirMinutes } = held;
  const dose = means.find((one) => one.code === "between");
  return (
    <tr>
      <th scope="row" className="py-2 pr-3 font-medium">
        {means.length === 0 ? said.asItIs : togetherText(means.map(text))}
        {isBest ? <span className="block text-sm font-normal text-soft">{said.best}</span> : null}
      </th>
      <td className="py-2 pr-3">
        <span className={right.value >= PROMISED ? "font-semibold" : ""}>
          {said.percent({ value: percent(right.value) })}
        </span>
        <span className="block text-sm text-soft">{ninetyText(right)}</span>
      </td>
      <td className="py-2 pr-3">{money(cost)}</td>
      <td className="py-2 pr-3">
        {plain(minutes, 0)}
        {theirMinutes > 0 ? (
          <span className="block text-sm text-soft">{said.theirs({ minutes: plain(theirMinutes, 0) })}</span>
        ) : null}
      </td>
      <td className="py-2">
        {dose && card ? (
          <Button
            type="button"
            quiet
            onClick={() =>
              card({
                product: dose.product,
                strength: dose.strength,
                grams: dose.grams,
                everyDays: dose.everyDays,
              })
            }
          >
            {said.makeCard}
          </Button>
        ) : null}
      </td>
    </tr>
  );
}

const percent = (share: number): string => plain(100 * share, 0);
const ninetyText = ({ low, high }: Figure): string =>
  words.hold.ninety({ low: percent(low), high: percent(high) });

/** One means in the firm's units. */
export function useMeansText() {
  const { units } = useFirm();
  return (means: Held["means"][number]): string =>
    meansText(means, {
      amount: ({ product, grams }) => doseText(product, grams, units),
      ppm: (value) => withUnit("freeChlorine", toldLimit("freeChlorine", value), units),
      setName: rangeSetName,
    });
}

/** In one line, where a page has room for no more. */
export function HoldLine({ hold, basinId }: { hold: HoldAnswer; basinId: string }) {
  const text = useMeansText();
  const said = words.hold;
  const best = hold.cheapest ?? hold.ways[0];
  if (hold.asItIs.right.value >= PROMISED || !best) return null;
  return (
    <p>
      <span className="font-semibold">{hold.cheapest ? said.wouldHold : said.comesClosest}:</span>{" "}
      {togetherText(best.means.map(text))} ({said.percent({ value: percent(best.right.value) })}).{" "}
      <Link to={`/basins/${basinId}#hold`} className="link">
        {said.title}
      </Link>
    </p>
  );
}

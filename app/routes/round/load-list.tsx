import { everydayAmount, productForm } from "#core";
import type { RoundData } from "../../pages/round.server";
import { AmountFigure } from "../../ui/figures";
import { amountText, plain } from "../../ui/format";
import { KeepApart } from "../../ui/keep-apart";
import { useFirm, useMoney } from "../../ui/use-firm";
import { measureName, shipped, words, workShort } from "../../words";

/** What to have on the truck before the first call: what their plans thought of, or what the calls usually take, and the reagents of the due tests. */
export function LoadList({ round }: { round: RoundData["round"] }) {
  const { units } = useFirm();
  const money = useMoney();
  const said = words.round;
  let cost = 0;
  for (const one of round.load) cost += one.cost ?? 0;
  return (
    <section className="sheet grid gap-2 p-4">
      <h2 className="text-xl font-semibold">{said.load}</h2>
      {round.load.length === 0 ? <p className="text-soft">{said.loadNone}</p> : null}
      <ul className="grid gap-1">
        {round.load.map(({ productId, name, product, density, grams, left }) => {
          const form = { ...productForm(product), density };
          return (
            <li key={productId} className="flex flex-wrap justify-between gap-x-3">
              <span>{name}</span>
              <b>
                <AmountFigure grams={grams} form={form} />
              </b>
              {left !== null && left < grams ? (
                <span className="w-full text-below">
                  {said.short({ left: amountText(everydayAmount(left, form, units)) })}
                </span>
              ) : null}
            </li>
          );
        })}
      </ul>
      <KeepApart products={round.load} />
      {round.load.some(({ cost }) => cost !== null) ? (
        <p className="text-soft">{said.loadCost({ amount: money(cost) })}</p>
      ) : null}
      {round.reagents.length > 0 ? <h3 className="mt-2 font-semibold">{said.reagents}</h3> : null}
      <ul className="grid gap-1 text-sm">
        {round.reagents.map(({ reagent, measure, amount }) => (
          <li key={reagent} className="flex justify-between gap-3">
            <span>{shipped(reagent)}</span>
            <span className="whitespace-nowrap">
              {plain(Math.ceil(amount), 0)} {measureName(measure, Math.ceil(amount))}
            </span>
          </li>
        ))}
      </ul>
      <ForWork calls={round.calls} />
    </section>
  );
}

/** What other work the day's calls bring, and at how many of them: what for is on the truck. */
function ForWork({ calls }: Pick<RoundData["round"], "calls">) {
  const count = new Map<string, number>();
  for (const { work = [], skipped } of calls)
    for (const item of skipped ? [] : work) count.set(workShort(item), (count.get(workShort(item)) ?? 0) + 1);
  if (count.size === 0) return null;
  return (
    <>
      <h3 className="mt-2 font-semibold">{words.chores.loadTitle}</h3>
      <ul className="grid gap-1 text-sm">
        {[...count].map(([name, stops]) => (
          <li key={name} className="flex justify-between gap-3">
            <span>{name}</span>
            <span className="whitespace-nowrap">{words.chores.loadAt({ count: stops })}</span>
          </li>
        ))}
      </ul>
    </>
  );
}

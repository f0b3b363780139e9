import { useState } from "react";
import {
  dayIn,
  everydayAmount,
  type HorizonPlan,
  type HorizonProblem,
  type Leave,
  type ProductId,
  productForm,
  STEERED,
  tableWay,
  type UnitSystem,
} from "#core";
import { Button } from "../../ui/button";
import {
  amountText,
  bracketOf,
  dateTimeText,
  dayText,
  hoursText,
  massText,
  nearDateText,
  plain,
  signed,
  toldLimit,
  valueText,
  volumeText,
  withUnit,
} from "../../ui/format";
import { useUnits } from "../../ui/units";
import { useFirm, useMoney } from "../../ui/use-firm";
import { listText, productName, quantityName, quantityShort, soldAs, words } from "../../words";
import { askPlanner } from "../../workers/planner";
import { rounded } from "./rounded";
import { useVisit } from "./use-visit";

/** An amount of a product as somebody measures it out. */
export function useAmount(
  given?: UnitSystem,
): (product: string, compound: ProductId, grams: number) => { amount: string; product: string } {
  const { products } = useVisit();
  const own = useUnits();
  const units = given ?? own;
  return (key, compound, grams) => {
    const product = products.find(({ id }) => id === key);
    const form = product ? { ...productForm(compound), density: product.density } : productForm(compound);
    return {
      amount: amountText(everydayAmount(grams, form, units)),
      product: product?.name ?? productName(compound),
    };
  };
}

/** A feeder that gives less stands still. mg/L a day */
const STILL = 0.01;

/** What is set before leaving, as sentences. */
export function useLeaveText(): (one: Leave, litres: number, feeder: string | undefined) => string {
  const { timeZone, units } = useFirm();
  return (one, litres, feeder) => {
    const said = words.ahead;
    switch (one.code) {
      case "feeder": {
        const isOff = one.from < STILL;
        const share = isOff ? null : `${plain(100 * Math.abs(one.to / one.from - 1), 0)}%`;
        // Trichlor tablets of 200 g at nine tenths of chlorine.
        const tablets = (one.to * litres * 7) / 1000 / 180;
        const to =
          feeder === "tablets"
            ? said.tablets({ count: plain(tablets, 0) })
            : said.cell({ grams: massText(one.grams, units) });
        return said.leaves.feeder({ to, more: one.to > one.from, share });
      }
      case "air":
        return said.leaves.air({ hours: hoursText(Math.max(1, one.hours)), ph: plain(one.untilPh, 1, 1) });
      case "pump-on":
        return said.leaves["pump-on"]({ hours: hoursText(one.hours) });
      case "cover-watched":
        return said.leaves["cover-watched"];
      case "sign":
        return said.leaves.sign({
          until: one.until === null ? null : dateTimeText(new Date(one.until), timeZone),
        });
      case "test-ph-again":
        return said.leaves["test-ph-again"];
      case "chlorine-short":
        return said.leaves["chlorine-short"]({
          chance: plain(one.chance * 100, 0),
          floor: withUnit("freeChlorine", toldLimit("freeChlorine", one.floor), units),
          would: listText(one.would.map((what) => said.would[what])),
        });
    }
  };
}

export function LeaveList({ plan, problem }: { plan: HorizonPlan; problem: HorizonProblem }) {
  const text = useLeaveText();
  const { timeZone } = useFirm();
  const said = words.ahead;
  const opens =
    plan.opens === null ? said.closed : said.opens({ when: dateTimeText(new Date(plan.opens), timeZone) });
  if (plan.leave.length === 0 && plan.pours.length === 0) return null;
  return (
    <section className="sheet grid gap-1 p-4" aria-label={said.leave}>
      <h3 className="text-lg font-semibold">{said.leave}</h3>
      <ul className="list-inside list-disc">
        {plan.leave.map((one) => (
          <li key={one.code} className={one.code === "chlorine-short" ? "font-medium text-below" : ""}>
            {text(one, problem.still.input.litres, problem.feeder?.kind)}
          </li>
        ))}
        {plan.leave.some(({ code }) => code === "sign") ? null : <li>{opens}</li>}
      </ul>
    </section>
  );
}

/** What stays open, what was left out for the minutes, and what nothing is dosed for. */
export function Left({ plan, problem }: { plan: HorizonPlan; problem: HorizonProblem }) {
  const { timeZone, units } = useFirm();
  const { products } = useVisit();
  const amount = useAmount();
  const said = words.ahead;
  // Chlorine beyond what anybody bathes in: half a dose of reducer is the way that does not take days.
  const tooHigh = plan.open.some(
    ({ quantity, value }) => quantity === "freeChlorine" && value > problem.still.input.goals.mostChlorine,
  );
  const { indexMoved: index } = plan;
  const reducer = tooHigh && products.find(({ product }) => product === "sodium-thiosulfate");
  const lines = [
    ...(reducer ? [said.reducer({ name: reducer.name })] : []),
    ...plan.leftOut.map(({ product, compound, grams, why }) =>
      said.leftOut[why](amount(product, compound, grams)),
    ),
    ...plan.open.map(({ quantity, value, becomes, at }) =>
      said.open[becomes]({
        name: quantityName(quantity),
        value: withUnit(quantity, rounded(quantity, value), units),
        day: at === null ? "" : dayText(dayIn(new Date(at), timeZone)),
      }),
    ),
    ...(index
      ? [
          said.indexMoved({
            from: signed(index.from),
            to: signed(index.to),
            limit: signed(index.limit),
            isOver: index.to > index.limit,
          }),
        ]
      : []),
    ...problem.still.leftAlone.map(({ quantity, standing, value, daysAgo }) =>
      words.plan.leftAlone[standing]({
        name: quantityName(quantity),
        value: withUnit(quantity, value, units),
        age: hoursText((daysAgo ?? 0) * 24),
      }),
    ),
  ];
  // Where this device keeps no such product, its usual name.
  const lacks = plan.fetch.map(({ product, strength, grams }) => {
    const known = products.find((one) => one.product === product && one.strength === strength);
    const form = known ? { ...productForm(product), density: known.density } : productForm(product);
    return said.fetched({
      amount: amountText(everydayAmount(grams, form, units)),
      product: known?.name ?? soldAs(product, strength),
    });
  });
  if (lines.length === 0 && lacks.length === 0) return null;
  return (
    <ul className="sheet grid gap-1 p-4">
      {lacks.length > 0 ? (
        <li className="font-medium text-below">{said.fetch({ what: lacks.join(", ") })}</li>
      ) : null}
      {lines.map((line) => (
        <li key={line}>{line}</li>
      ))}
    </ul>
  );
}

/** The calls to come: what they will find, and what they will give. */
export function CallsAhead({ plan, problem }: { plan: HorizonPlan; problem: HorizonProblem }) {
  const { timeZone, units } = useFirm();
  const amount = useAmount();
  const said = words.ahead;
  if (plan.calls.length === 0) return null;
  const known = STEERED.filter((quantity) => problem.still.input.goals[quantity].known);
  return (
    <section className="sheet grid gap-2 p-4" aria-label={said.calls}>
      <h3 className="text-lg font-semibold">{said.calls}</h3>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a table that scrolls sideways is reached by keyboard */}
      <div className="relative overflow-x-auto" tabIndex={0}>
        <table className="w-full text-left">
          <thead className="text-sm text-soft">
            <tr>
              <th className="py-1 pr-4 font-normal" />
              {known.map((quantity) => (
                <th key={quantity} className="pr-4 font-normal">
                  {quantityShort(quantity)}
                </th>
              ))}
              <th className="font-normal">{said.gives}</th>
            </tr>
          </thead>
          <tbody className="divide-y divide-rule">
            {plan.calls.map(({ at, doses }, index) => (
              <tr key={at} className="align-top">
                <th scope="row" className="py-1.5 pr-4 font-medium whitespace-nowrap">
                  {nearDateText(new Date(at), timeZone)}
                </th>
                {known.map((quantity) => {
                  const figure = plan.promised[index]?.readings[quantity];
                  return (
                    <td key={quantity} className="py-1.5 pr-4 whitespace-nowrap">
                      {figure ? valueText(quantity, rounded(quantity, figure.value), units) : ""}
                      <span className="block text-sm text-soft">
                        {figure
                          ? bracketOf(figure, (value) => valueText(quantity, rounded(quantity, value), units))
                          : ""}
                      </span>
                    </td>
                  );
                })}
                <td className="py-1.5 text-soft">
                  {doses.length === 0
                    ? said.callNothing
                    : listText(
                        doses.map(({ product, compound, grams }) =>
                          words.amountOf(amount(product, compound, grams)),
                        ),
                      )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}

/** What takes days, with its litres, hours, money and dangers. */
export function Projects({ plan }: { plan: HorizonPlan }) {
  const { units } = useFirm();
  const money = useMoney();
  const said = words.ahead;
  if (plan.projects.length === 0) return null;
  return (
    <section className="sheet grid gap-2 p-4" aria-label={said.projects}>
      <h3 className="text-lg font-semibold">{said.projects}</h3>
      {plan.projects.map(({ quantities, fraction, each, litres, turns, hours, cost, cautions }) => (
        <div key={quantities.join(" ")} className="grid gap-1">
          <p className="font-medium">
            {fraction === null
              ? said.replaceUnknown
              : said.replace({
                  share: `${plain((each ?? fraction) * 100, 0)}%`,
                  volume: volumeText(litres, units),
                  turns,
                })}
          </p>
          {fraction === null ? null : (
            <p>
              {said.replaceFor({
                names: listText(quantities.map(quantityName)),
                hours: hoursText(hours ?? 0),
                cost: money(cost),
              })}
            </p>
          )}
          <ul className="list-inside list-disc text-soft">
            {cautions.map((code) => (
              <li key={code}>{words.plan.cautions[code]}</li>
            ))}
          </ul>
        </div>
      ))}
    </section>
  );
}

/** Ways that differ in money, bottles or calls, worked out when somebody asks. */
export function OtherWays({
  problem,
  chosen,
  take,
}: {
  problem: HorizonProblem;
  chosen: HorizonPlan;
  take: (plan: HorizonPlan | null) => void;
}) {
  const [others, setOthers] = useState<HorizonPlan[] | "asked" | null>(null);
  const amount = useAmount();
  const money = useMoney();
  const said = words.ahead;
  const ask = () => {
    setOthers("asked");
    askPlanner((planner) => planner.others(problem)).then(setOthers, () => setOthers(null));
  };
  if (!Array.isArray(others))
    return (
      <Button type="button" quiet className="justify-self-start" busy={others === "asked"} onClick={ask}>
        {said.others}
      </Button>
    );
  return (
    <section className="sheet grid gap-3 p-4" aria-label={said.others}>
      <h3 className="text-lg font-semibold">{said.others}</h3>
      {others.length === 0 ? <p className="text-soft">{said.noOthers}</p> : null}
      {others.map((plan) => (
        <div key={plan.name} className="flex flex-wrap items-center justify-between gap-2">
          <p>
            <b>{said.names[plan.name]}</b>{" "}
            <span className="text-soft">
              {said.other({
                pours:
                  listText(
                    plan.pours.map(({ product, compound, grams }) =>
                      words.amountOf(amount(product, compound, grams)),
                    ),
                  ) || null,
                minutes: Math.round(plan.minutes),
                cost: money(plan.cost.now),
              })}
            </span>
          </p>
          <Button
            type="button"
            quiet
            aria-pressed={plan.name === chosen.name}
            onClick={() => take(plan.name === chosen.name ? null : plan)}
          >
            {plan.name === chosen.name ? said.names.balanced : said.take}
          </Button>
        </div>
      ))}
    </section>
  );
}

/** What giving every reading its own dose would have come to, on request. */
export function TableWay({ plan, problem }: { plan: HorizonPlan; problem: HorizonProblem }) {
  const [isOpen, open] = useState(false);
  const said = words.ahead;
  return (
    <details onToggle={(event) => open(event.currentTarget.open)}>
      <summary className="min-h-[44px] cursor-pointer content-center font-semibold">{said.table}</summary>
      {isOpen ? <TableRows plan={plan} problem={problem} /> : null}
    </details>
  );
}

function TableRows({ plan, problem }: { plan: HorizonPlan; problem: HorizonProblem }) {
  const { units } = useFirm();
  const money = useMoney();
  const { input, set, surface } = problem.still;
  const table = tableWay(input, set, surface);
  const said = words.plan;
  const text = (quantity: (typeof STEERED)[number], value: number) =>
    valueText(quantity, rounded(quantity, value), units);
  return (
    <div className="sheet grid gap-2 p-4">
      <table className="w-full text-left">
        <thead className="text-sm text-soft">
          <tr>
            <th className="py-1 font-normal">{words.visit.test}</th>
            <th className="font-normal">{said.now}</th>
            <th className="font-normal">{words.ahead.names.balanced}</th>
            <th className="font-normal">{said.table}</th>
          </tr>
        </thead>
        <tbody className="divide-y divide-rule">
          {STEERED.map((quantity) => (
            <tr key={quantity}>
              <th scope="row" className="py-1 font-medium">
                {quantityName(quantity)}
              </th>
              <td>{text(quantity, input.water[quantity])}</td>
              <td className="font-semibold">{text(quantity, plan.now.after[quantity])}</td>
              <td className={table.out.includes(quantity) ? "text-below" : ""}>
                {text(quantity, table.after[quantity])}
              </td>
            </tr>
          ))}
          <tr>
            <th scope="row" className="py-1 font-medium">
              {words.products.cost}
            </th>
            <td />
            <td className="font-semibold">{money(plan.cost.now)}</td>
            <td>
              {money(table.cost)}
              {table.replaced > 0
                ? `, ${said.replaced({ share: `${plain(table.replaced * 100, 0)}%` })}`
                : ""}
            </td>
          </tr>
        </tbody>
      </table>
      <p className="text-sm text-soft">
        {said.tableHint}{" "}
        {table.out.length > 0
          ? `${said.table}: ${said.tableOut({ names: listText(table.out.map(quantityShort)) })}.`
          : ""}
      </p>
    </div>
  );
}

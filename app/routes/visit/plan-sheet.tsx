import { useState } from "react";
import { Link } from "react-router";
import {
  contentOfPlan,
  everydayAmount,
  type PlanProblem,
  type PlanStep,
  placeInRange,
  productForm,
  type Range,
  rangesOf,
  type ShelfProduct,
  type ShownPlan,
  type ShownPlans,
  STEERED,
  type Steered,
} from "#core";
import { Button } from "../../ui/button";
import {
  amountText,
  bracketOf,
  hoursText,
  plain,
  signed,
  toldLimit,
  unitText,
  valueText,
  withUnit,
} from "../../ui/format";
import { Refused } from "../../ui/refused";
import { Staff } from "../../ui/staff";
import { useUnits } from "../../ui/units";
import { useClientId } from "../../ui/use-client-id";
import { useMoney } from "../../ui/use-firm";
import { productName, quantityName, quantityShort, words } from "../../words";
import { StepDetail, StepHead } from "./step-text";
import { usePlans } from "./use-plans";
import { useSend } from "./use-send";
import { useVisit } from "./use-visit";

/** The plans for all readings at once: chosen between, looked at, begun. */
export function PlanSheet({ problem }: { problem: PlanProblem }) {
  const { visit } = useVisit();
  const { plans, byServer, failed } = usePlans(problem, visit.id);
  const said = words.plan;
  if (failed) return <p className="sheet p-4 text-below">{words.visit.offline}</p>;
  if (!plans)
    return (
      <p className="sheet p-4 text-soft" role="status">
        {said.working}
      </p>
    );
  return (
    <>
      {byServer ? <p className="text-sm text-soft">{said.fromServer}</p> : null}
      <Choose shown={plans} problem={problem} />
    </>
  );
}

function Choose({ shown, problem }: { shown: ShownPlans; problem: PlanProblem }) {
  const { visit, products } = useVisit();
  const money = useMoney();
  const { plans, table } = shown;
  const [name, choose] = useState(plans[0]?.name);
  const id = useClientId(name);
  const { send, busy, answer } = useSend(`/visits/${visit.id}/plan`);
  const plan = plans.find((one) => one.name === name) ?? plans[0];
  const said = words.plan;
  if (!plan) return null;
  if (plan.steps.length === 0 && plan.missed.length === 0)
    return (
      <>
        <p className="sheet p-4">{said.nothing}</p>
        <Besides plan={plan} leftAlone={problem.leftAlone} />
      </>
    );
  return (
    <>
      {plans.length > 1 ? (
        <fieldset className="flex flex-wrap gap-2">
          <legend className="sr-only">{said.which}</legend>
          {plans.map((one) => (
            <button
              key={one.name}
              type="button"
              aria-pressed={one === plan}
              className={one === plan ? "action" : "quiet-action"}
              onClick={() => choose(one.name)}
            >
              {said.names[one.name]}
              <span className="font-normal">{said.cost(money(one.cost))}</span>
            </button>
          ))}
        </fieldset>
      ) : null}
      <Targets plan={plan} problem={problem} />
      <Comparison plans={plans} chosen={plan} table={table} problem={problem} />
      {plan.missed.map((miss) => (
        <Missed key={miss.quantity} miss={miss} />
      ))}
      <Besides plan={plan} leftAlone={problem.leftAlone} />
      <p className="max-w-prose text-soft">{said.before}</p>
      <StepList steps={plan.steps} products={products} />
      {plan.steps.length > 0 ? (
        <>
          <Refused answer={answer} />
          <p className="max-w-prose text-soft">{said.beginHint}</p>
          <Button
            type="button"
            className="next-step justify-self-start"
            busy={busy}
            onClick={() =>
              send({
                id: id(),
                origin: "alternative",
                name: plan.name,
                content: contentOfPlan(problem, plan),
              })
            }
          >
            {said.begin}
          </Button>
        </>
      ) : null}
    </>
  );
}

/** The staffs with hollow floats where the plan takes each reading. */
function Targets({ plan, problem: { set, surface } }: { plan: ShownPlan; problem: PlanProblem }) {
  const { readings, earlier } = useVisit();
  const ranges = rangesOf(set, surface, plan.after);
  return (
    <div className="sheet flex flex-wrap items-start justify-around gap-x-1 gap-y-4 p-4">
      {STEERED.map((quantity) => {
        const measured = [...readings, ...earlier].find((one) => one.quantity === quantity) ?? null;
        const interval = plan.intervals?.[quantity];
        return (
          <Staff
            key={quantity}
            quantity={quantity}
            measured={measured}
            range={ranges[quantity]}
            target={{
              value: plan.after[quantity],
              low: interval?.low ?? plan.after[quantity],
              high: interval?.high ?? plan.after[quantity],
            }}
            place={measured ? placeInRange(measured, ranges[quantity]) : "within"}
          />
        );
      })}
    </div>
  );
}

/** What every plan comes to, side by side, and the table way beside them. */
function Comparison({
  plans,
  chosen,
  table,
  problem: { set, surface },
}: {
  plans: ShownPlan[];
  chosen: ShownPlan;
  table: ShownPlans["table"];
  problem: PlanProblem;
}) {
  const units = useUnits();
  const money = useMoney();
  const said = words.plan;
  const rounded = (quantity: Steered, value: number) =>
    valueText(quantity, roundedTo(quantity, value), units);
  const columns = [
    ...plans.map((plan) => ({
      key: plan.name as string,
      title: said.names[plan.name],
      after: plan.after,
      saturation: plan.saturation,
      cost: plan.cost,
      products: plan.steps.filter((step) => step.kind === "dose").length,
      replaced: plan.steps.find((step) => step.kind === "replace-water")?.fraction ?? 0,
      chosen: plan === chosen,
    })),
    { key: "table", title: said.table, chosen: false, ...table },
  ];
  return (
    <section className="sheet grid gap-2 p-4">
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a table that scrolls sideways is reached by keyboard */}
      <div className="relative overflow-x-auto" tabIndex={0}>
        <table className="w-full text-left text-base">
          <thead className="align-bottom text-sm text-soft">
            <tr>
              <th className="pr-4 font-medium">{words.visit.test}</th>
              <th className="pr-4 font-medium">{said.now}</th>
              {columns.map((column) => (
                <th
                  key={column.key}
                  className={`pr-4 ${column.chosen ? "font-bold text-ink" : "font-medium"}`}
                >
                  {column.title}
                </th>
              ))}
              <th className="font-medium">{said.interval}</th>
            </tr>
          </thead>
          <tbody className="divide-y divide-rule">
            {STEERED.map((quantity) => {
              const interval = chosen.intervals?.[quantity];
              return (
                <tr key={quantity}>
                  <td className="py-1.5 pr-4 whitespace-nowrap">
                    {quantityName(quantity)}
                    <span className="text-soft">
                      {unitText(quantity, units) ? `, ${unitText(quantity, units)}` : ""}
                    </span>
                  </td>
                  <td className="pr-4 whitespace-nowrap">{rounded(quantity, chosen.before[quantity])}</td>
                  {columns.map((column) => {
                    const place = placeToTell(
                      column.after[quantity],
                      rangesOf(set, surface, column.after)[quantity],
                    );
                    return (
                      <td
                        key={column.key}
                        className={`pr-4 whitespace-nowrap ${column.chosen ? "font-semibold" : ""} ${place === "low" ? "text-below" : place === "high" ? "text-above" : ""}`}
                      >
                        {rounded(quantity, column.after[quantity])}
                        {place === "within"
                          ? null
                          : ` ${place === "low" ? words.compare.low : words.compare.high}`}
                      </td>
                    );
                  })}
                  <td className="whitespace-nowrap text-soft">
                    {interval ? bracketOf(interval, (value) => rounded(quantity, value)) : ""}
                  </td>
                </tr>
              );
            })}
            <tr>
              <td className="py-1.5 pr-4">{words.balance.title}</td>
              <td />
              {columns.map((column) => (
                <td key={column.key} className={`pr-4 ${column.chosen ? "font-semibold" : ""}`}>
                  {signed(column.saturation)}
                </td>
              ))}
              <td />
            </tr>
            <tr>
              <td className="py-1.5 pr-4">{words.products.cost}</td>
              <td />
              {columns.map((column) => (
                <td key={column.key} className={`pr-4 align-top ${column.chosen ? "font-semibold" : ""}`}>
                  {money(column.cost)}
                  <span className="block text-sm font-normal text-soft">
                    {said.products(column.products)}
                    {column.replaced > 0 ? `, ${said.replaced(`${plain(column.replaced * 100, 0)} %`)}` : ""}
                  </span>
                </td>
              ))}
              <td />
            </tr>
          </tbody>
        </table>
      </div>
      <p className="text-sm text-soft">
        {said.tableHint}{" "}
        {table.out.length > 0
          ? `${said.table}: ${said.tableOut(table.out.map(quantityShort).join(", "))}.`
          : ""}
      </p>
    </section>
  );
}

/** A plan that ends on a limit, but for the last digits of its search, ends inside. */
function placeToTell(value: number, range: Range | undefined): ReturnType<typeof placeInRange> {
  const at = (nudged: number) => placeInRange({ value: nudged, bound: "within" }, range);
  return at(value * (1 + 1e-4)) === "within" || at(value * (1 - 1e-4)) === "within" ? "within" : at(value);
}

/** As fine as the test that reads it. */
const roundedTo = (quantity: Steered, value: number): number =>
  quantity === "ph" || quantity === "freeChlorine"
    ? Number(value.toFixed(quantity === "ph" ? 2 : 1))
    : Math.round(value);

export function Missed({ miss }: { miss: ShownPlan["missed"][number] }) {
  const units = useUnits();
  const text = (value: number) =>
    valueText(miss.quantity, toldLimit(miss.quantity, Number(value.toPrecision(3))), units);
  return (
    <p className="border-l-4 border-below bg-below-wash p-2 text-below">
      {words.plan.missed(quantityName(miss.quantity), text(miss.value), text(miss.limit))}{" "}
      {words.plan.obstacles[miss.obstacle]}
    </p>
  );
}

/** What a plan says beside its steps: what is not dosed for and why, where the index ends, what to fetch. */
function Besides({ plan, leftAlone }: { plan: ShownPlan; leftAlone: PlanProblem["leftAlone"] }) {
  const units = useUnits();
  const said = words.plan;
  const lines = [
    ...(plan.settled ? [] : [said.unsettled]),
    ...(plan.fetch.length > 0
      ? [
          said.fetch(
            plan.fetch
              .map(({ product, grams }) =>
                said.fetched(
                  amountText(everydayAmount(grams, productForm(product), units)),
                  productName(product),
                ),
              )
              .join(", "),
          ),
        ]
      : []),
    ...(plan.indexOutside
      ? [said.indexOutside(signed(plan.indexOutside.value), signed(plan.indexOutside.limit))]
      : []),
    ...leftAlone.map(({ quantity, standing, value, daysAgo }) =>
      said.leftAlone[standing](
        quantityName(quantity),
        withUnit(quantity, value, units),
        hoursText((daysAgo ?? 0) * 24),
      ),
    ),
  ];
  if (lines.length === 0) return null;
  return (
    <ul className="sheet grid gap-1 p-4">
      {lines.map((line) => (
        <li key={line}>{line}</li>
      ))}
    </ul>
  );
}

/** Steps to read before they are begun. */
export function StepList({ steps, products }: { steps: PlanStep[]; products: ShelfProduct[] }) {
  return (
    <ol className="grid gap-3">
      {steps.map((step, index) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the order of the steps is what they are
        <li key={index} className="sheet grid gap-2 p-4">
          <p className="text-xl">
            <span className="mr-3 font-bold">{index + 1}</span>
            <StepHead step={step} products={products} />
          </p>
          <StepDetail step={step} products={products} />
          {step.waitMinutes > 0 ? <p>{words.plan.wait(step.waitMinutes)}</p> : null}
        </li>
      ))}
    </ol>
  );
}

/** Where else to go from here. */
export function OtherWork() {
  const { visit, basin } = useVisit();
  return (
    <p className="flex flex-wrap gap-3">
      <Link to={`/visits/${visit.id}/recipes`} className="quiet-action">
        {words.plan.other}
      </Link>
      <Link to={`/basins/${basin.id}/what-if`} className="quiet-action">
        {words.plan.whatIf}
      </Link>
    </p>
  );
}

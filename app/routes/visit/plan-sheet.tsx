import { Link } from "react-router";
import type { PlanStep, ShelfProduct, VisitPlan } from "#core";
import { toldLimit, valueText } from "../../ui/format";
import { useUnits } from "../../ui/units";
import { quantityName, waitAfter, words } from "../../words";
import { StepDetail, StepHead } from "./step-text";
import { useVisit } from "./use-visit";

/** What plans and recipes show alike. */

export function Missed({ miss }: { miss: VisitPlan["content"]["missed"][number] }) {
  const units = useUnits();
  const text = (value: number) =>
    valueText(miss.quantity, toldLimit(miss.quantity, Number(value.toPrecision(3))), units);
  return (
    <p className="border-l-4 border-below bg-below-wash p-2 text-below">
      {words.plan.missed({
        name: quantityName(miss.quantity),
        value: text(miss.value),
        limit: text(miss.limit),
      })}{" "}
      {words.plan.obstacles[miss.obstacle]}
    </p>
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
          {step.waitMinutes > 0 ? <p>{waitAfter(step.waitMinutes)}</p> : null}
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

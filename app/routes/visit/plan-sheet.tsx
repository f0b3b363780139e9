import { useState } from "react";
import { everydayAmount, productForm, STEERED } from "#core";
import type { ShownPlan } from "#server/visits/plan";
import { Timer } from "../../ui/bench/timer";
import { amountText, bracketOf, plain, signed, unitText, valueText, volumeText } from "../../ui/format";
import { useUnits } from "../../ui/units";
import { quantityName, words } from "../../words";
import { Given, weighed } from "./given";
import { useVisit } from "./use-visit";

/** One plan for all readings at once: what it comes to, what it costs, and its steps in order. */
export function PlanSheet({ plans }: { plans: ShownPlan[] }) {
  const { doses } = useVisit();
  // What has been begun is gone on with.
  const begun = plans.find((plan) =>
    doses.some((dose) => dose.givenGrams > 0 && dose.code.startsWith(`plan.${plan.name}.`)),
  );
  const [name, choose] = useState(begun?.name ?? plans[0]?.name);
  const plan = plans.find((one) => one.name === name) ?? plans[0];
  if (!plan) return null;
  const said = words.plan;
  if (plan.steps.length === 0 && plan.missed.length === 0) return <p className="sheet p-4">{said.nothing}</p>;
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
              <span className="font-normal">{said.cost(plain(one.cost, 2, 2))}</span>
            </button>
          ))}
        </fieldset>
      ) : null}
      <Outcome plan={plan} />
      <p className="max-w-prose text-soft">{said.before}</p>
      <ol className="grid gap-3">
        {plan.steps.map((step, index) => (
          <li key={step.kind === "dose" ? step.product : step.kind} className="sheet grid gap-2 p-4">
            <PlanStep plan={plan} step={step} number={index + 1} />
          </li>
        ))}
      </ol>
    </>
  );
}

/** Every reading before and after, with the interval that the plan promises. */
function Outcome({ plan }: { plan: ShownPlan }) {
  const units = useUnits();
  const said = words.plan;
  return (
    <section className="sheet grid gap-2 p-4">
      <div className="overflow-x-auto">
        <table className="w-full text-left">
          <thead className="text-soft">
            <tr>
              <th className="pr-4 font-medium">{words.visit.test}</th>
              <th className="pr-4 font-medium">{said.now}</th>
              <th className="pr-4 font-medium">{said.after}</th>
              <th className="font-medium">{said.interval}</th>
            </tr>
          </thead>
          <tbody className="divide-y divide-rule">
            {STEERED.map((quantity) => {
              const interval = plan.intervals?.[quantity];
              const text = (value: number) =>
                valueText(quantity, Number(value.toPrecision(quantity === "ph" ? 3 : 2)), units);
              return (
                <tr key={quantity}>
                  <td className="py-1.5 pr-4">{quantityName(quantity)}</td>
                  <td className="pr-4 whitespace-nowrap">
                    {valueText(quantity, plan.before[quantity], units)}
                  </td>
                  <td className="pr-4 font-semibold whitespace-nowrap">
                    {valueText(quantity, Number(plan.after[quantity].toPrecision(3)), units)}{" "}
                    {unitText(quantity, units)}
                  </td>
                  <td className="text-soft">{interval ? bracketOf(interval, text) : ""}</td>
                </tr>
              );
            })}
            <tr>
              <td className="py-1.5 pr-4">{words.balance.title}</td>
              <td />
              <td className="pr-4 font-semibold">{signed(plan.saturation)}</td>
              <td />
            </tr>
          </tbody>
        </table>
      </div>
      {plan.missed.map((miss) => (
        <p key={miss.quantity} className="border-l-4 border-below bg-below-wash p-2 text-below">
          {said.missed(
            quantityName(miss.quantity),
            valueText(miss.quantity, Number(miss.value.toPrecision(3)), units),
            valueText(miss.quantity, Number(miss.limit.toPrecision(3)), units),
          )}{" "}
          {said.obstacles[miss.obstacle]}
        </p>
      ))}
    </section>
  );
}

interface StepProps {
  plan: ShownPlan;
  step: ShownPlan["steps"][number];
  number: number;
}

function PlanStep({ plan, step, number }: StepProps) {
  const { visit, products, doses } = useVisit();
  const units = useUnits();
  const said = words.plan;
  const head = (text: string) => (
    <p className="text-lg">
      <b className="mr-3 text-2xl">{number}</b>
      {text}
    </p>
  );
  const after = (
    <>
      <ul className="list-inside list-disc text-soft">
        {step.cautions.map((code) => (
          <li key={code}>{said.cautions[code]}</li>
        ))}
      </ul>
      {step.waitMinutes > 0 ? (
        <p>
          {said.wait(step.waitMinutes)}
          <Timer name={`${visit.id}.plan.${number}`} seconds={step.waitMinutes * 60} />
        </p>
      ) : null}
    </>
  );
  switch (step.kind) {
    case "replace-water":
      return (
        <>
          {head(said.replace(`${plain(step.fraction * 100, 0)} %`, volumeText(step.litres, units)))}
          {after}
        </>
      );
    case "aerate":
      return (
        <>
          {head(said.aerate)}
          {after}
        </>
      );
    case "retest":
      return (
        <>
          {head(
            said.retest(
              STEERED.filter((quantity) => step.quantities.includes(quantity)).map((quantity) =>
                quantityName(quantity),
              ),
            ),
          )}
          {after}
        </>
      );
    case "dose": {
      const product = products.find((one) => one.id === step.product);
      if (!product) return null;
      const form = { ...productForm(step.compound), density: product.density };
      const unit = weighed(form.form, units, step.grams);
      const code = `plan.${plan.name}.${step.product}`;
      return (
        <>
          <p className="text-3xl font-bold">
            <span className="mr-3 text-2xl">{number}</span>
            {amountText(everydayAmount(step.grams, form, units))}{" "}
            <span className="text-xl font-medium">{product.name}</span>
          </p>
          <p className="text-soft">
            {words.visit.exact(`${plain(unit.fromGrams(step.grams, form.density), 2)} ${unit.name}`)}.{" "}
            {said.how[step.how]}
          </p>
          {step.portions > 1 ? (
            <p className="font-medium">
              {words.visit.portions(
                step.portions,
                amountText(everydayAmount(step.portionGrams, form, units)),
              )}
            </p>
          ) : null}
          {after}
          <Given
            code={code}
            grams={step.grams}
            product={product}
            given={doses.find((dose) => dose.code === code)}
            unit={unit}
          />
        </>
      );
    }
  }
}

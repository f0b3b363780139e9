import type { ReactNode } from "react";
import { everydayAmount, type PlanStep, productForm, type ShelfProduct, type UnitSystem } from "#core";
import { Cautions } from "../../ui/cautions";
import { AmountFigure } from "../../ui/figures";
import { amountText, figures, hoursText, plain, volumeText } from "../../ui/format";
import { SmallMeasure } from "../../ui/small-measure";
import { useUnits } from "../../ui/units";
import { type Weighed, weighed } from "../../ui/weighed";
import { listText, quantityName, words } from "../../words";

/** The firm's product of a step, with how it is measured. */
export function measuredBy(
  step: Extract<PlanStep, { kind: "dose" }>,
  products: readonly ShelfProduct[],
  units: UnitSystem,
): { product: ShelfProduct | undefined; form: ReturnType<typeof productForm>; unit: Weighed } {
  const product = products.find((one) => one.id === step.product);
  const form = product
    ? { ...productForm(step.compound), density: product.density }
    : productForm(step.compound);
  return { product, form, unit: weighed(form, units, step.grams) };
}

/** A step in one line: what to do, and how much of what. */
export function StepHead({
  step,
  products,
}: {
  step: PlanStep;
  products: readonly ShelfProduct[];
}): ReactNode {
  const units = useUnits();
  const said = words.plan;
  switch (step.kind) {
    case "dose": {
      const { product, form } = measuredBy(step, products, units);
      return (
        <>
          <b>{amountText(everydayAmount(step.grams, form, units))}</b> {product?.name ?? step.compound}
        </>
      );
    }
    case "replace-water":
      return said.replace({
        share: `${plain(step.fraction * 100, 0)}%`,
        volume: volumeText(step.litres, units),
      });
    case "aerate":
      return said.aerate({
        ph: step.untilPh === undefined ? null : plain(step.untilPh, 1, 1),
        time: step.minutes === undefined ? null : hoursText(step.minutes / 60),
      });
    case "task":
      // A recipe that was begun before its cover was watched.
      return said.tasks[step.task] ?? said.tasks["cover-watched"];
    case "retest":
      return said.retest({ names: listText(step.quantities.map(quantityName)) });
  }
}

interface DetailProps<Step> {
  step: Step;
  products: readonly ShelfProduct[];
  /** A field beside it has the exact amount already. */
  isAsked?: boolean;
}

/** What goes with a step: the exact amount, portions, how, and its cautions. */
export function StepDetail({ step, products, isAsked = false }: DetailProps<PlanStep>) {
  const said = words.plan;
  return (
    <>
      {step.kind === "dose" ? <DoseDetail step={step} products={products} isAsked={isAsked} /> : null}
      {step.kind === "aerate" ? <p className="text-soft">{said.aerateHow}</p> : null}
      <Cautions codes={step.cautions} of={step.kind === "dose" ? step.compound : null} />
    </>
  );
}

/** Nobody counts out more cups than this. */
const MOST_CUPS = 8;

function DoseDetail({ step, products, isAsked = false }: DetailProps<Extract<PlanStep, { kind: "dose" }>>) {
  const units = useUnits();
  const { form, unit } = measuredBy(step, products, units);
  const amount = everydayAmount(step.grams, form, units);
  return (
    <>
      <p className="text-soft">
        <AmountFigure grams={step.grams} form={form}>
          {isAsked
            ? words.visit.otherUnits
            : words.visit.exact({
                amount: `${figures(unit.fromGrams(step.grams, form.density))} ${unit.name}`,
              })}
        </AmountFigure>
        {amount.cups !== null && amount.cups <= MOST_CUPS
          ? `, ${words.visit.cups({ cups: amount.cups })}`
          : ""}
        . {words.plan.how[step.how]}
      </p>
      <SmallMeasure grams={step.portionGrams / (step.loads ?? 1)} form={form} />
      {step.portions > 1 ? (
        <p className="font-medium">
          {words.visit.portions({
            count: step.portions,
            amount: amountText(everydayAmount(step.portionGrams, form, units)),
          })}
        </p>
      ) : null}
      {(step.loads ?? 1) > 1 ? (
        <p className="font-medium">
          {words.plan.loads({
            count: step.loads ?? 1,
            amount: amountText(everydayAmount(step.portionGrams / (step.loads ?? 1), form, units)),
          })}
        </p>
      ) : null}
    </>
  );
}

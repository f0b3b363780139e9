import type { Amounts } from "./amounts";
import { STEERED, type Steered } from "./goals";
import type { PlanInput } from "./input";
import { type PredictOptions, predicted } from "./predict";
import type { PlanStep, Promised, Retested } from "./steps";

/** The water of a plan as far as its promises need it. */
type Basis = Pick<PlanInput, "water" | "litres" | "products" | "fill">;

/**
 * The steps with what each retest promises: the readings after everything that went in before it,
 * with their intervals.
 */
export function withPromises(
  input: Basis,
  steps: readonly PlanStep[],
  options: PredictOptions = {},
): PlanStep[] {
  const grams = new Map<string, number>();
  let replaced = 0;
  let aerated = 0;
  return steps.map((step) => {
    if (step.kind === "dose") grams.set(step.product, (grams.get(step.product) ?? 0) + step.grams);
    if (step.kind === "replace-water") replaced = 1 - (1 - replaced) * (1 - step.fraction);
    if (step.kind === "aerate") aerated += step.millimoles;
    if (step.kind !== "retest") return step;
    return {
      ...step,
      promised: promisedOf(input, { grams: new Map(grams), replaced, aerated }, step.quantities, options),
    };
  });
}

const isSteered = (quantity: Retested): quantity is Steered => STEERED.some((one) => one === quantity);

function promisedOf(
  input: Basis,
  amounts: Amounts,
  quantities: readonly Retested[],
  options: PredictOptions,
): Promised {
  const intervals = predicted(input, amounts, options);
  if (!intervals) return {};
  return Object.fromEntries(
    quantities.filter(isSteered).map((quantity) => {
      const { mean, low, high } = intervals[quantity];
      return [quantity, { before: input.water[quantity], promised: mean, low, high }];
    }),
  );
}

import { type Quantity, STEERED, type VisitPlan } from "#core";

/** Where the plan under way takes a reading that was made before its doses; undefined for any other. */
export function targetOf(
  plan: VisitPlan | undefined,
  reading: { quantity: Quantity; round: number },
): { value: number; low: number; high: number } | undefined {
  if (!plan || plan.endedAt || reading.round > plan.round) return undefined;
  const quantity = STEERED.find((one) => one === reading.quantity);
  if (!quantity) return undefined;
  const promised = plan.content.steps
    .flatMap((step) => (step.kind === "retest" ? [step.promised?.[quantity]] : []))
    .filter((one) => one !== undefined)
    .at(-1);
  const value = promised?.promised ?? plan.content.after[quantity];
  return { value, low: promised?.low ?? value, high: promised?.high ?? value };
}

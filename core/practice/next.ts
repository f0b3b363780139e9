import { type Step, stepsFor } from "../testing/kit";
import { TIME_SHARE, type Worked } from "./slips";
import type { Vessel } from "./vessel";

/** What a test asks for next: the sample, a reagent, its mixing, a wait, or to look and call the end. */
export type Next =
  | { kind: "fill"; millilitres: number }
  | { kind: "add" | "mix" | "wait"; step: Step }
  | { kind: "look" };

/**
 * The next step of a test, by what hands did so far.
 * @example nextIn(worked, vessel) // { kind: "fill", millilitres: 25 }
 */
export function nextIn(
  { method, line, events }: Pick<Worked, "method" | "line" | "events">,
  vessel: Vessel,
): Next {
  if (vessel.millilitres <= 0) return { kind: "fill", millilitres: line };
  for (const step of stepsFor(method, line)) {
    const { reagent, amount, mix, wait } = step;
    if ((vessel.added[reagent] ?? 0) < amount - 0.01) return { kind: "add", step };
    const at = events.findLastIndex((event) => event.kind === "add" && event.reagent === reagent);
    const after = events.slice(at + 1);
    if (mix !== "none" && at >= 0 && !after.some((event) => event.kind === "mix"))
      return { kind: "mix", step };
    const passed = after.reduce(
      (sum, event) => sum + event.after + (event.kind === "mix" ? event.seconds : 0),
      0,
    );
    if (wait !== undefined && passed < wait * TIME_SHARE) return { kind: "wait", step };
  }
  return { kind: "look" };
}

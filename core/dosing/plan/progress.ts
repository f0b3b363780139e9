import type { Quantity } from "../../measure/quantity";
import type { PlanStep, Retested } from "./steps";

export type StepState = "open" | "done" | "skipped";

export interface SettledStep {
  position: number;
  state: Exclude<StepState, "open">;
  at: Date;
}

/** How far a plan has come. */
export interface PlanProgress {
  states: StepState[];
  /** The step to do now; null when all are dealt with. */
  next: number | null;
  /** The wait after the last step dealt with; null where none was asked for. */
  waitUntil: Date | null;
  /** Everything that goes in has been dealt with. */
  dosed: boolean;
  /** Whether it ends with a test at all. */
  retests: boolean;
  /** Every retest is behind: made, or left out. */
  retested: boolean;
  /** Some retest was made. */
  tested: boolean;
  /** What the next open retest asks for and has not been read yet. */
  toRetest: Retested[];
}

/**
 * The state of each step: what was dealt with by hand, and a retest once everything that it asks for
 * was read after the last step before it.
 *
 * @param read readings made since the plan was begun
 */
export function progressOf(
  steps: readonly PlanStep[],
  settled: readonly SettledStep[],
  read: readonly { quantity: Quantity; takenAt: Date }[],
): PlanProgress {
  const by = new Map(settled.map((one) => [one.position, one]));
  let last: { step: PlanStep; at: Date } | null = null;
  let toRetest: Retested[] = [];
  let waiting = false;
  const note = (state: StepState): StepState => {
    waiting = true;
    return state;
  };
  const states = steps.map((step, position): StepState => {
    const known = by.get(position);
    if (known) {
      if (known.state === "done") last = { step, at: known.at };
      return known.state;
    }
    if (step.kind !== "retest") return note("open");
    const since = last?.at ?? new Date(0);
    const missing = step.quantities.filter(
      (quantity) => !read.some((one) => one.quantity === quantity && one.takenAt >= since),
    );
    const done = missing.length === 0 && last !== null;
    // A test that comes after doses still to be given is not asked for yet.
    if (!done && !waiting && toRetest.length === 0) toRetest = missing;
    return done ? "done" : note("open");
  });
  const next = states.indexOf("open");
  const ended = last as { step: PlanStep; at: Date } | null;
  return {
    states,
    next: next < 0 ? null : next,
    waitUntil:
      ended && ended.step.waitMinutes > 0
        ? new Date(ended.at.getTime() + ended.step.waitMinutes * 60_000)
        : null,
    dosed: steps.every((step, index) => step.kind === "retest" || states[index] !== "open"),
    retests: steps.some(({ kind }) => kind === "retest"),
    retested: steps.every((step, index) => step.kind !== "retest" || states[index] !== "open"),
    tested: steps.some(
      (step, index) => step.kind === "retest" && step.quantities.length > 0 && states[index] === "done",
    ),
    toRetest,
  };
}

import { wholeWithin } from "../fault";
import { MOST_DROPS } from "./titration";

/**
 * One titration's running count. Every tap makes a new state with the next sequence number, so two
 * copies (device and server) are reconciled by keeping the later one, and sending a state twice is
 * harmless.
 */
export interface CountState {
  drops: number;
  /** mL */
  sample: number;
  /** Taps so far, takebacks and changes of sample included. Never goes down. */
  sequence: number;
}

export type CountAction =
  | { kind: "drop" }
  | { kind: "take-back" }
  | { kind: "start-again" }
  | { kind: "sample"; millilitres: number }
  | { kind: "restore"; drops: number; sample: number };

export const newCount = (sample: number): CountState => ({ drops: 0, sample, sequence: 0 });

/**
 * The state after one action. A drop past the most that a vessel takes, and a take-back at zero,
 * change nothing and are not counted as taps. A new sample size starts a new sample at zero.
 */
export function countStep(state: CountState, action: CountAction): CountState {
  const next = (change: Partial<CountState>): CountState => ({
    ...state,
    ...change,
    sequence: state.sequence + 1,
  });
  switch (action.kind) {
    case "drop":
      return state.drops >= MOST_DROPS ? state : next({ drops: state.drops + 1 });
    case "take-back":
      return state.drops === 0 ? state : next({ drops: state.drops - 1 });
    case "start-again":
      return state.drops === 0 ? state : next({ drops: 0 });
    case "restore":
      return next({ drops: action.drops, sample: action.sample });
    case "sample":
      return action.millilitres === state.sample ? state : next({ sample: action.millilitres, drops: 0 });
  }
}

/** The later of two copies of the same count. */
export const laterCount = (a: CountState, b: CountState): CountState => (b.sequence > a.sequence ? b : a);

/** Checks a count that came from outside. */
export function checkedCount(state: CountState): CountState {
  wholeWithin("drops", state.drops, 0, MOST_DROPS);
  wholeWithin("sequence", state.sequence, 0, 1_000_000);
  return state;
}

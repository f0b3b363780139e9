import { type Drifting, type DriftStep, type DriftTrace, driftOver } from "../drift/drift";
import type { FeederKind, Habits } from "../drift/habits";
import type { Totals } from "../water/sample";
import { FIRST_HABIT, MILLI, TOTALS, UNKNOWNS, VOLUME } from "./unknowns";

/** A drift taken as straight about one vector of unknowns: totals afterwards = map · unknowns + constant. */
export interface LinearizedDrift {
  map: Float64Array;
  constant: Float64Array;
  trace: DriftTrace;
}

/** What drifts, and how a vector of unknowns is read as a water with its habits. */
export interface DriftOfBasin {
  feeder: FeederKind;
  fill: Totals;
  waterOf(unknowns: Float64Array): Totals;
  habits(unknowns: Float64Array): Habits;
  /** Unknowns that are none here: no sun, no feeder. */
  isKnown(column: number): boolean;
}

/** Steps of the finite differences: of a habit's logarithm, and of a total, as a share and in mmol/L at least. */
const HABIT_STEP = 0.02;
const TOTAL_STEP = { share: 1e-3, least: 1e-4 } as const;

/** Lets a water drift over these steps, and tells how it hangs on each unknown by finite differences. */
export function linearizedDrift(
  about: Float64Array,
  steps: readonly DriftStep[],
  { feeder, fill, waterOf, habits, isKnown }: DriftOfBasin,
): LinearizedDrift {
  const map = identity();
  const constant = new Float64Array(UNKNOWNS);
  const trace: DriftTrace = { chlorineKept: 1, moreKept: 1, darkVariance: 0, feederVariance: 0 };
  const run = (unknowns: Float64Array, noted?: DriftTrace): Drifting => {
    const moved: Drifting = waterOf(unknowns);
    driftOver(moved, habits(unknowns), feeder, steps, fill, noted);
    return moved;
  };
  const centre = run(about, trace);
  const moving = Float64Array.from(about);
  for (let column = 0; column < VOLUME; column++) {
    const isHabit = column >= FIRST_HABIT;
    if (isHabit && isKnown(column)) continue;
    const kept = moving[column] as number;
    const step = isHabit ? HABIT_STEP : Math.max(TOTAL_STEP.least, Math.abs(kept) * TOTAL_STEP.share);
    moving[column] = kept + step;
    const moved = run(moving);
    moving[column] = kept;
    TOTALS.forEach((name, row) => {
      map[row * UNKNOWNS + column] = ((moved[name] - centre[name]) * MILLI) / step;
    });
  }
  TOTALS.forEach((name, row) => {
    let straight = centre[name] * MILLI;
    for (let column = 0; column < UNKNOWNS; column++)
      straight -= (map[row * UNKNOWNS + column] as number) * (about[column] as number);
    constant[row] = straight;
  });
  return { map, constant, trace };
}

/** Every unknown as it is. */
export function identity(): Float64Array {
  const map = new Float64Array(UNKNOWNS * UNKNOWNS);
  for (let row = 0; row < UNKNOWNS; row++) map[row * UNKNOWNS + row] = 1;
  return map;
}

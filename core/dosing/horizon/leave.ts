import { millisecondsInHour, millisecondsInMinute } from "date-fns/constants";
import { driftOver, stepsBetween } from "../../drift/drift";
import { surroundingsOf } from "../../drift/surroundings";
import { TRAITS } from "../../products/traits";
import { readingsOf } from "../../water/equilibrium";
import type { Totals } from "../../water/sample";
import { type Amounts, waterAfter } from "../plan/amounts";
import type { Steered } from "../plan/goals";
import { WAIT_MINUTES } from "../plan/steps";
import { hoursOfAir } from "../plan/way";
import { chlorineGoal } from "../plan/weighing";
import type { Ahead } from "./ahead";
import type { HorizonProblem } from "./problem";
import type { SolvedHorizon } from "./solve";

/** What is set before leaving, and when bathing may start again. */

export type Leave =
  /** Of chlorine out of a feeder or a cell, mg/L a day and g a day. */
  | { code: "feeder"; from: number; to: number; grams: number }
  | { code: "pump-on"; hours: number }
  | { code: "cover-off" }
  /** Jets on, or returns turned up: carbon dioxide out until the pH is up, in about so many hours. */
  | { code: "air"; millimoles: number; untilPh: number; hours: number }
  | { code: "sign"; until: number | null }
  /** Chlorine that will hardly last: how likely it is under its floor at the next call, and what would help. */
  | { code: "chlorine-short"; chance: number; floor: number; would: ("feeder" | "stabiliser" | "sooner")[] };

/** Stabiliser in a sock wants the pump on for a day; everything else a turnover. Hours */
const SOCK_HOURS = 24;

/** Chlorine that is over and a pH that is out keep bathers out until drift has brought them in; in hours. */
const LONGEST_CLOSED = 96;

export function opensAt(
  problem: HorizonProblem,
  ahead: Ahead,
  amounts: Amounts,
  minutes: number,
): number | null {
  const { still, from, location, weather, outdoors, rates } = problem;
  const { input, setting } = still;
  const wait = amounts.grams.size > 0 ? minutes + WAIT_MINUTES[setting.kind] : 0;
  const begins = from + wait * millisecondsInMinute;
  const water = { ...waterAfter(input, amounts) };
  const around = surroundingsOf({ kind: setting.kind, outdoors, feeder: ahead.feeder }, location, weather, [
    { at: from, value: input.water.temperature },
  ]);
  let at = from;
  for (let hour = 0; hour <= LONGEST_CLOSED; hour++) {
    const to = hour === 0 ? begins : at + millisecondsInHour;
    driftOver(water, rates, ahead.feeder, stepsBetween(water, at, to, around), ahead.fill);
    at = to;
    const readings = readingsOf(water);
    const chlorine = chlorineGoal(
      { goals: input.goals, water: { ...input.water, freeChlorine: 0 } },
      readings,
    );
    const { ph } = input.goals;
    const isIn = (value: number, low: number | null, high: number | null) =>
      (low === null || value >= low - 1e-6) && (high === null || value <= high + 1e-6);
    const most = Math.max(chlorine.high ?? Number.POSITIVE_INFINITY, 0);
    if (
      (!ph.known || isIn(readings.ph, ph.low, ph.high)) &&
      (!chlorine.known || readings.freeChlorine <= most + 1e-6) &&
      (!chlorine.known || isIn(readings.freeChlorine, chlorine.low, null))
    )
      return at;
    // What is under will not rise by itself: a test says when.
    if (chlorine.known && chlorine.low !== null && readings.freeChlorine < chlorine.low) return null;
  }
  return null;
}

/** From this chance on of chlorine under its floor before the next call it is said. */
const TOLD_CHANCE = 0.1;

export function leaveOf(
  problem: HorizonProblem,
  { schedule, ahead, course }: SolvedHorizon,
  found: Record<Steered, Float64Array> | undefined,
  opens: number | null,
  minutes: number,
): Leave[] {
  const { still, rates, feeder, from, outdoors } = problem;
  const { input, setting } = still;
  const { goals, litres } = input;
  const leave: Leave[] = [];
  if (feeder && Math.abs(schedule.fed - rates.feeder) > 1e-6)
    leave.push({
      code: "feeder",
      from: rates.feeder,
      to: schedule.fed,
      grams: (schedule.fed * litres) / 1000,
    });
  const poured = [...(schedule.grams[0]?.keys() ?? [])];
  if (poured.length > 0) {
    const sock = input.products.some(
      ({ key, product }) => poured.includes(key) && TRAITS[product].how === "in-a-sock",
    );
    leave.push({ code: "pump-on", hours: sock ? SOCK_HOURS : WAIT_MINUTES[setting.kind] / 60 });
  }
  const blown = schedule.aired[0] ?? 0;
  if (blown > 0) {
    const before = course.after[0] as Totals;
    const untilPh = readingsOf(course.aired[0] as Totals).ph;
    leave.push({ code: "air", millimoles: blown, untilPh, hours: hoursOfAir(before, untilPh, setting.kind) });
  }
  const { ph, totalAlkalinity } = goals;
  const wantsAir =
    (totalAlkalinity.steer &&
      totalAlkalinity.high !== null &&
      input.water.totalAlkalinity > totalAlkalinity.high) ||
    (ph.low !== null && ph.known && input.water.ph < ph.low);
  if (wantsAir && outdoors) leave.push({ code: "cover-off" });
  if (opens === null || opens > from + (minutes + 1) * millisecondsInMinute)
    leave.push({ code: "sign", until: opens });
  const chlorine = chlorineGoal(
    { goals, water: { ...input.water, freeChlorine: 0 } },
    { ...input.water, ph: ph.aim },
  );
  if (found && chlorine.known && chlorine.low !== null) {
    const draws = found.freeChlorine.filter((value) => !Number.isNaN(value));
    const chance =
      draws.filter((value) => value < (chlorine.low as number)).length / Math.max(1, draws.length);
    if (chance > TOLD_CHANCE)
      leave.push({
        code: "chlorine-short",
        chance,
        floor: chlorine.low,
        would: [
          ...(ahead.feeder === "none" ? (["feeder"] as const) : []),
          ...(outdoors &&
          goals.cyanuricAcid.known &&
          goals.cyanuricAcid.low !== null &&
          input.water.cyanuricAcid < goals.cyanuricAcid.aim
            ? (["stabiliser"] as const)
            : []),
          "sooner",
        ],
      });
  }
  return leave;
}

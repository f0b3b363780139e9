import { millisecondsInMinute } from "date-fns/constants";
import { TRAITS } from "../../products/traits";
import type { Range } from "../../ranges/range-set";
import { readingsOf } from "../../water/equilibrium";
import type { Sample, Totals } from "../../water/sample";
import { FRESH_SHOCK } from "../labelled";
import { type Amounts, waterAfter } from "../plan/amounts";
import type { Steered } from "../plan/goals";
import { WAIT_MINUTES } from "../plan/steps";
import { hoursOfAir } from "../plan/way";
import { chlorineGoal } from "../plan/weighing";
import type { HorizonProblem } from "./problem";
import type { SolvedHorizon } from "./solve";

/** What is set before leaving, and when bathing may start again. */

export type Leave =
  /** Of chlorine out of a feeder or a cell, as its setting is meant to give it: mg/L a day and g a day. */
  | { code: "feeder"; from: number; to: number; grams: number }
  | { code: "pump-on"; hours: number }
  /** Air on the water helps: with somebody there. The safety cover is on again before leaving. */
  | { code: "cover-watched" }
  /** Jets on, or returns turned up: carbon dioxide out until the pH is up, in about so many hours. */
  | { code: "air"; millimoles: number; untilPh: number; hours: number }
  | { code: "sign"; until: number | null }
  /** Drops and calculation disagreed: the smaller went in, and the pH is tested again before more does. */
  | { code: "test-ph-again" }
  /** Chlorine that will hardly last: how likely it is under its floor at the next call, and what would help. */
  | { code: "chlorine-short"; chance: number; floor: number; would: ("feeder" | "stabiliser" | "sooner")[] };

/** Stabiliser in a sock wants the pump on for a day; everything else a turnover. Hours */
const SOCK_HOURS = 24;

/**
 * When bathing may start again, ms since 1970: now, or once what is poured has mixed. Null where a test must say
 * so first: no forecast opens what is closed, was not read, or is taken beyond its limits by the pours themselves.
 */
export function opensAt(problem: HorizonProblem, amounts: Amounts, minutes: number): number | null {
  const { still, from, closed } = problem;
  const { input, setting } = still;
  const { ph, freeChlorine } = input.goals;
  // Bromine is dosed beside the plan: whether it is inside `closed` says.
  const isRead = freeChlorine.known || input.goals.chlorineCloses.place.sanitiser === "bromine";
  if (closed || setting.sanitiserFirst || !ph.known || !isRead) return null;
  const after = readingsOf(waterAfter(input, amounts));
  const isOpen = (water: Pick<Sample, "ph" | "freeChlorine">) =>
    isBetween(water.ph, input.goals.phCloses) &&
    isBetween(water.freeChlorine, input.goals.chlorineCloses) &&
    water.freeChlorine - input.water.freeChlorine < FRESH_SHOCK - 1e-6;
  if (!isOpen(input.water) || !isOpen(after)) return null;
  return amounts.grams.size > 0 ? from + (minutes + WAIT_MINUTES[setting.kind]) * millisecondsInMinute : from;
}

const isBetween = (
  value: number,
  { closeBelow, closeAbove }: Pick<Range, "closeBelow" | "closeAbove">,
): boolean =>
  (closeBelow === undefined || value >= closeBelow - 1e-6) &&
  (closeAbove === undefined || value <= closeAbove + 1e-6);

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
      from: rates.feeder / (feeder.gives ?? 1),
      to: schedule.fed / (feeder.gives ?? 1),
      grams: (schedule.fed * litres) / 1000 / (feeder.gives ?? 1),
    });
  const doubtful = problem.doubtfulDemand;
  const hasDoubtful = input.products.some(
    ({ key, product }) => TRAITS[product].use === doubtful?.use && schedule.grams[0]?.has(key),
  );
  if (doubtful && (hasDoubtful || doubtful.most === 0)) leave.push({ code: "test-ph-again" });
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
  if (wantsAir && outdoors) leave.push({ code: "cover-watched" });
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

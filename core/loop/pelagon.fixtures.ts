import { knownToday } from "../dosing/horizon/known";
import { horizonPlan } from "../dosing/horizon/plan";
import type { HorizonProblem } from "../dosing/horizon/problem";
import { goalsOf } from "../dosing/plan/goals";
import { type PlanInput, WEIGHTS } from "../dosing/plan/input";
import { WHOLE_SHELF } from "../dosing/plan/plan.fixtures";
import { chlorineGoal } from "../dosing/plan/weighing";
import { FirmLearner } from "../learning/learn";
import { usualSpreads } from "../uncertainty/spread";
import { totalsOf } from "../water/sample";
import type { Call, Deed, Hand } from "./firm.fixtures";

/** Plans by what the log taught: learned anew each week, and a visit at a time between. */

const FEEDER_PRICE = { tablets: 9.7, saltCell: 9, pump: 13 } as const;

export function byPlan(): Hand & { learner(): FirmLearner | null } {
  let learner: FirmLearner | null = null;
  let taken = new Map<string, number>();
  return {
    learner: () => learner,
    night(log, day) {
      if (day % 7 !== 6) {
        for (const { id, visits, settings } of log.basins)
          for (const visit of visits.slice(taken.get(id) ?? visits.length))
            learner?.takeIn(
              id,
              visit,
              settings?.filter(({ at }) => at > visit.at),
            );
      } else learner = FirmLearner.learn(log);
      taken = new Map(log.basins.map(({ id, visits }) => [id, visits.length]));
    },
    call(call) {
      const problem = problemAt(call, learner);
      const plan = horizonPlan(problem, call.solver);
      const setting = plan.leave.find((one) => one.code === "feeder");
      const air = plan.leave.find((one) => one.code === "air");
      const short = plan.leave.find((one) => one.code === "chlorine-short");
      return {
        pours: plan.pours.map(({ compound, grams, begins, product }) => ({
          product: compound,
          strength: WHOLE_SHELF.find(({ key }) => key === product)?.strength ?? 1,
          grams,
          minute: begins,
        })),
        minutes: plan.minutes,
        ...(setting?.code === "feeder" ? { setting: setting.to } : {}),
        ...(air?.code === "air" ? { aired: air.millimoles } : {}),
        ...(plan.promised[0] ? { expected: plan.promised[0].readings } : {}),
        ...(short?.code === "chlorine-short" ? { warned: short.chance } : {}),
      } satisfies Deed;
    },
  };
}

export function problemAt(
  { basin, read, readings, at, next, log }: Call,
  learner: FirmLearner | null,
): HorizonProblem {
  const { feeder, kind, outdoors } = basin;
  const input: PlanInput = {
    water: read,
    litres: basin.litres,
    goals: goalsOf(basin.set, basin.surface, read, null, basin),
    products: WHOLE_SHELF,
    fill: { ...basin.fillReadings },
    mostReplaced: 0.5,
    aeration: true,
    tablets: feeder === "tablets",
    cell: feeder === "saltCell",
    weights: WEIGHTS,
  };
  const { low } = chlorineGoal({ goals: input.goals, water: { ...read, freeChlorine: 0 } }, read);
  const index = log.basins.findIndex(({ id }) => id === basin.id);
  const learned = learner ? learner.answerOf(index) : null;
  const spreads = usualSpreads(read);
  const { rates, believed, gives } = knownToday(
    { posterior: learned?.posterior },
    {
      place: basin,
      water: read,
      spreads,
      visits: [{ at, readings, doses: [] }],
      fill: totalsOf(basin.fillReadings),
      from: at,
      location: log.location,
      weather: log.weather,
    },
  );
  return {
    still: {
      input,
      setting: {
        kind,
        freshFill: false,
        surface: basin.surface === "vinyl" ? "vinyl" : "other",
        sanitiserFirst: low !== null && read.freeChlorine < low,
      },
      set: basin.set,
      surface: basin.surface,
      spreads,
      leftAlone: [],
    },
    from: at,
    calls: next,
    minutes: basin.minutes,
    rates,
    believed,
    feeder:
      feeder === "none"
        ? null
        : { kind: feeder, most: 2.5 * rates.feeder, gives, pricePerKg: FEEDER_PRICE[feeder] },
    outdoors,
    location: log.location,
    weather: log.weather,
  };
}

import { millisecondsInDay } from "date-fns/constants";
import { feederMost } from "../dosing/horizon/feeders";
import { knownToday } from "../dosing/horizon/known";
import { horizonPlan } from "../dosing/horizon/plan";
import type { HorizonProblem } from "../dosing/horizon/problem";
import { type Goals, goalsOf } from "../dosing/plan/goals";
import { type PlanInput, WEIGHTS } from "../dosing/plan/input";
import { WHOLE_SHELF } from "../dosing/plan/plan.fixtures";
import { chlorineGoal } from "../dosing/plan/weighing";
import { hold } from "../hold/hold";
import type { Means } from "../hold/means";
import { kitOf } from "../hold/tender";
import { keptAt, Walker } from "../hold/walk";
import { FirmLearner } from "../learning/learn";
import { usualSpreads } from "../uncertainty/spread";
import { chargeAt } from "../water/charge";
import { readingsOf } from "../water/equilibrium";
import { molar } from "../water/molar";
import type { Sample } from "../water/sample";
import { activity, conditionsOf, totalsOf } from "../water/sample";
import type { Call, Deed, Hand } from "./firm.fixtures";
import { FIRST_DAY, type HiddenBasin } from "./hidden-basin.fixtures";

/** Plans by what the log taught: learned anew each week, and a visit at a time between. */

const FEEDER_PRICE = { tablets: 9.7, saltCell: 9, pump: 13 } as const;

/** @param holds whether what would hold a water is taken up once its log has taught it, and looked at again */
export function byPlan({ holds = false } = {}): Hand & { learner(): FirmLearner | null } {
  let learner: FirmLearner | null = null;
  let taken = new Map<string, number>();
  let isOld = false;
  return {
    learner: () => learner,
    night(log, day) {
      if (day % 7 !== 6 && !isOld) {
        for (const { id, visits, settings } of log.basins)
          for (const visit of visits.slice(taken.get(id) ?? visits.length))
            learner?.takeIn(
              id,
              visit,
              settings?.filter(({ at }) => at > visit.at),
            );
      } else {
        learner = FirmLearner.learn(log);
        isOld = false;
      }
      taken = new Map(log.basins.map(({ id, visits }) => [id, visits.length]));
    },
    call(call) {
      const problem = problemAt(call, learner);
      const takesUp = holds && !call.basin.isHeld && call.at >= HELD_FROM ? meansFor(problem) : null;
      // Another feeder is another basin to a learner.
      isOld ||= takesUp?.some(({ code }) => code === "feeder" || code === "floater") ?? false;
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
        ...(takesUp ? { takesUp } : {}),
        ...(setting?.code === "feeder" ? { setting: setting.to } : {}),
        ...(air?.code === "air" ? { aired: air.millimoles } : {}),
        ...(plan.promised[0] ? { expected: plan.promised[0].readings } : {}),
        ...(short?.code === "chlorine-short" ? { warned: short.chance } : {}),
      } satisfies Deed;
    },
  };
}

/** Once a log has six weeks. */
const HELD_FROM = FIRST_DAY + 42 * millisecondsInDay;

/** The cheapest that promises enough; what promises most where none does; nothing where all is well. */
function meansFor(problem: HorizonProblem): readonly Means[] {
  const { asItIs, cheapest, ways } = hold(problem);
  const best = cheapest ?? [asItIs, ...ways].sort((a, b) => b.right.value - a.right.value)[0];
  return best?.means ?? [];
}

export function problemAt(
  { basin, read, readings, at, next, log }: Call,
  learner: FirmLearner | null,
): HorizonProblem {
  const { feeder, kind, outdoors } = basin;
  const input: PlanInput = {
    water: read,
    litres: basin.litres,
    goals: keptGoals(basin, goalsOf(basin.set, basin.surface, read, null, basin), read),
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
        : { kind: feeder, most: feederMost(rates.feeder), gives, pricePerKg: FEEDER_PRICE[feeder] },
    between: basin.between,
    outdoors,
    location: log.location,
    weather: log.weather,
  };
}

function keptGoals({ stabiliser }: HiddenBasin, goals: Goals, read: Sample): Goals {
  if (stabiliser === null) return goals;
  const low = stabiliser - 5;
  const steer = read.cyanuricAcid < low;
  return { ...goals, cyanuricAcid: { ...goals.cyanuricAcid, low, aim: stabiliser, steer } };
}

/** The rule that `hold` takes for whoever calls, by the same belief: what a plan is to be no worse than. */
export function byRule(): Hand {
  const planned = byPlan();
  return {
    ...planned,
    call(call) {
      const { basin, read, next, at } = call;
      const problem = problemAt(call, planned.learner());
      const walker = new Walker(problem, 48);
      const { goals } = problem.still.input;
      const regime = {
        calls: next.length > 0 ? next.slice(0, 1) : [at + 7 * millisecondsInDay],
        feeder: basin.feeder,
        fed: problem.feeder ? problem.rates.feeder : 0,
        goals,
        stabiliser: goals.cyanuricAcid.low !== null ? goals.cyanuricAcid.low : null,
        covered: false,
        between: basin.between,
      };
      const [steps] = walker.gapsOf(regime);
      const { targets } = walker.targetsOf(regime, steps as never);
      const { totals, pours } = { totals: totalsOf(read), pours: [] as Deed["pours"] };
      const kit = kitOf(WHOLE_SHELF);
      const water = { ...totals };
      const give = (
        one: (typeof kit)["acid"],
        amount: number,
        of: "alkalinity" | "chlorine" | "cyanurate",
        minute: number,
      ) => {
        const grams = (amount / Math.abs(one.perGram[of])) * basin.litres;
        if (grams <= 0) return;
        pours.push({ product: one.product, strength: one.strength, grams, minute });
        for (const name of ["alkalinity", "inorganicCarbon", "calcium", "cyanurate", "chlorine"] as const)
          water[name] += (one.perGram[name] * grams) / basin.litres;
      };
      const missing = targets.chlorine - read.freeChlorine;
      if (missing > 0.2) give(kit.chlorine, molar.chlorine(missing), "chlorine", 0);
      if (goals.totalAlkalinity.low !== null && read.totalAlkalinity < goals.totalAlkalinity.low)
        give(
          kit.alkalinity,
          molar.alkalinity(goals.totalAlkalinity.low + 10 - read.totalAlkalinity),
          "alkalinity",
          20,
        );
      if (goals.cyanuricAcid.low !== null && read.cyanuricAcid < goals.cyanuricAcid.low - 5)
        give(kit.stabiliser, molar.cyanurate(goals.cyanuricAcid.low - read.cyanuricAcid), "cyanurate", 20);
      const conditions = conditionsOf(water);
      const wanted = chargeAt(conditions, water, activity(targets.ph)).charge - water.alkalinity;
      const ph = readingsOf(water).ph;
      if (ph > targets.ph + 0.08) give(kit.acid, -wanted, "alkalinity", 40);
      else if (ph < (goals.ph.low ?? 7.2)) give(kit.base, wanted, "alkalinity", 40);
      const aim = Math.max(0, walker.lossOf(regime) * keptAt(goals));
      return {
        pours,
        minutes: 0,
        ...(problem.feeder
          ? { setting: Math.min(problem.feeder.most, aim) / (problem.feeder.gives ?? 1) }
          : {}),
      };
    },
  };
}

import { millisecondsInDay } from "date-fns/constants";
import { OUTDOOR_FIXED_BAND } from "../../ranges/sets";
import { usualSpreads } from "../../uncertainty/spread";
import type { Sample } from "../../water/sample";
import { goalsOf } from "../plan/goals";
import { type PlanProduct, WEIGHTS } from "../plan/input";
import { onShelf, WHOLE_SHELF } from "../plan/plan.fixtures";
import type { Solver } from "../plan/programme";
import type { HorizonProblem } from "./problem";
import { believedBy, usualRates } from "./rates";
import { type SolvedHorizon, solveHorizon } from "./solve";

/** Problems of a pool of 40 m³ under the sun, for the tests and the benchmark of plans over several calls. */

export const FROM = Date.UTC(2026, 5, 1, 16);
export const WATER: Sample = {
  ph: 7.5,
  totalAlkalinity: 100,
  calciumHardness: 280,
  cyanuricAcid: 40,
  freeChlorine: 3,
  borate: 0,
  temperature: 26,
  totalDissolvedSolids: 1000,
};
export const LOCATION = { latitude: 40, longitude: -105 };

interface Change {
  water?: Partial<Sample>;
  calls?: number[];
  minutes?: number;
  feeder?: "none" | "saltCell" | "tablets";
  fed?: number;
  products?: PlanProduct[];
  fill?: Sample;
  set?: typeof OUTDOOR_FIXED_BAND;
  /** How unsure the gas exchange is: a log has told of it, unless said otherwise. */
  gas?: number;
}

export function problem({
  water = {},
  calls = [3.5, 7, 10.5],
  minutes = 40,
  feeder = "none",
  ...more
}: Change): HorizonProblem {
  const sample = { ...WATER, ...water };
  const place = { kind: "pool", outdoors: true, feeder } as const;
  const { rates, unsure } = usualRates(place);
  const own = { ...rates, feeder: feeder === "none" ? rates.feeder : (more.fed ?? 1.5) };
  const set = more.set ?? OUTDOOR_FIXED_BAND;
  const goals = goalsOf(set, "plaster", sample, null, place);
  return {
    still: {
      input: {
        water: sample,
        litres: 40_000,
        goals,
        products: more.products ?? WHOLE_SHELF,
        fill: more.fill ?? null,
        mostReplaced: 0.5,
        aeration: true,
        tablets: feeder === "tablets",
        cell: feeder === "saltCell",
        weights: WEIGHTS,
      },
      setting: {
        kind: "pool",
        freshFill: false,
        surface: "other",
        sanitiserFirst: sample.freeChlorine < (goals.freeChlorine.low ?? 0),
      },
      set,
      surface: "plaster",
      spreads: usualSpreads(sample),
      leftAlone: [],
    },
    from: FROM,
    calls: calls.map((days) => FROM + days * millisecondsInDay),
    minutes,
    rates: own,
    believed: believedBy(sample, { rates: own, unsure: { ...unsure, gasExchange: more.gas ?? 0.3 } }),
    feeder: feeder === "none" ? null : { kind: feeder, most: 6, pricePerKg: 9 },
    outdoors: true,
    location: LOCATION,
    weather: [],
  };
}

/** An acid and a chlorine, two calls, no end of minutes: what a grid can go through. */
export function smallCase(
  water: Partial<Sample>,
  solver: Solver,
): { posed: HorizonProblem; solved: SolvedHorizon } {
  const products = [onShelf("hydrochloric-acid"), onShelf("sodium-hypochlorite")];
  const posed = problem({ water, calls: [3, 6], products, minutes: 120 });
  return { posed, solved: solveHorizon(posed, solver) };
}

import {
  isNoPlan,
  mayActOn,
  methodsAt,
  mixesLike,
  type NoPlan,
  type PlanProblem,
  type PlanProduct,
  planWater,
  problemFor,
  type RecipeInput,
  type ShownPlans,
} from "#core";
import type { StoredReading } from "../db/readings";
import type { Workbench } from "../work/workbench";
import { byQuantity, findingsNow, madeIn, type OpenedVisit } from "./visit";

/** What a visit's readings are planned by: the problem for a worker or for this server. */

const PRICE_UNKNOWN = 3;
/** Readings older than this say nothing about today's water. */
const CARRY_DAYS = 60;
const DAY = 86_400_000;

/** Not tested today; what was read before stands in, unless it is too old. */
export function carriedInto({ visit, readings, earlier }: OpenedVisit): StoredReading[] {
  const measured = new Set(readings.map((reading) => reading.quantity));
  return earlier.filter(
    (reading) =>
      !measured.has(reading.quantity) &&
      visit.startedAt.getTime() - reading.takenAt.getTime() < CARRY_DAYS * DAY,
  );
}

/** pH to which the kit's demand test is titrated; null when it has none. */
export function demandTarget({ kit, otherKits }: Pick<OpenedVisit, "kit" | "otherKits">): number | null {
  for (const one of [kit, ...otherKits.map((other) => other.kit)])
    for (const station of ["acidDemand", "baseDemand"] as const)
      for (const method of methodsAt(one, station))
        if (method.kind === "titration" && method.target !== undefined) return method.target;
  return null;
}

/** The products that may be used at this basin, as a planner takes them. */
export const plannedProducts = ({
  products,
  basin,
}: Pick<OpenedVisit, "products" | "basin">): PlanProduct[] =>
  products
    .filter((product) => product.planned && !basin.barred.includes(product.product))
    .map((product) => ({
      key: product.id,
      product: product.product,
      strength: product.strength,
      pricePerKg: product.pricePerKg ?? PRICE_UNKNOWN,
      stock: product.left,
    }));

/** The problem that this visit's readings pose, or why there is none. */
export function problemOf(opened: OpenedVisit): PlanProblem | NoPlan {
  const { basin, visit, rangeSet } = opened;
  const today = opened.readings.filter((reading) => mayActOn(reading.doubts));
  // A pH of another day says nothing about what goes in now.
  if (!today.some((reading) => reading.quantity === "ph")) return { reason: "needs-reading", quantity: "ph" };
  const made = madeIn(opened);
  const water = planWater(
    Object.fromEntries([...carriedInto(opened), ...today].map((one) => [one.quantity, made(one)])),
    demandTarget(opened),
  );
  if (isNoPlan(water)) return water;
  const { fillAlkalinity, fillHardness } = basin.site;
  return problemFor(water, {
    set: rangeSet,
    surface: basin.surface,
    litres: visit.litres,
    kind: mixesLike(basin.kind),
    findings: findingsNow(opened),
    products: plannedProducts(opened),
    fill:
      fillAlkalinity === null || fillHardness === null
        ? null
        : { totalAlkalinity: fillAlkalinity, calciumHardness: fillHardness },
    mostReplaced: basin.mostReplaced,
  });
}

/** What a recipe is made of at this visit, or why none can be. */
export function recipeInputOf(opened: OpenedVisit): RecipeInput | NoPlan {
  const problem = problemOf(opened);
  if ("reason" in problem) return problem;
  const combined = byQuantity(opened.readings).combinedChlorine;
  return {
    input: problem.input,
    setting: problem.setting,
    set: problem.set,
    surface: problem.surface,
    spreads: problem.spreads,
    combinedChlorine: combined?.value ?? null,
    indoors: opened.basin.indoors,
    fillRate: opened.firm.fillRate,
    persulfateDose: opened.firm.persulfateDose,
  };
}

/** The plans for a visit's readings worked out on this side, for a page whose worker cannot; null where there are none. */
export async function plansOfVisit(opened: OpenedVisit, work: Workbench): Promise<ShownPlans | null> {
  const problem = problemOf(opened);
  return "reason" in problem ? null : work.plans(problem);
}

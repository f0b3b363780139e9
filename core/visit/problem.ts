import type { Basin } from "../basin/basin";
import { PRICE_UNKNOWN } from "../dosing/plan/fetch";
import type { PlanProduct } from "../dosing/plan/input";
import { type NoPlan, problemFor, whyNoPlan } from "../dosing/plan/problem";
import type { PlanProblem } from "../dosing/plan/shown";
import { hasPersulfate } from "../doubts/chlorine";
import { isLabelled } from "../products/labels";
import { hasOwnRule, TRAITS } from "../products/traits";
import { mixesLike } from "../ranges/bathing-limits";
import type { RecipeInput } from "../recipes";
import { PH_READS_TO } from "../recipes/green-pool";
import { mayActOn } from "../testing/doubt";
import type { ShelfProduct } from "./brought";
import { byQuantity, findingsNow, type OpenedVisit } from "./visit";

/** What a visit's readings are planned by: the problem for the planner, wherever it runs. */

/** Tablets given within these hours are still in the feeder. */
const TABLETS_HOURS = 21 * 24;

/**
 * The products that may be used at this basin, as a planner takes them.
 * @example plannedProducts(opened).length // 4
 */
export const plannedProducts = ({
  products,
  basin,
}: {
  products: readonly ShelfProduct[];
  basin: Pick<Basin, "barred">;
}): PlanProduct[] =>
  products
    // What is dosed by its label moves no reading that is planned for.
    .filter(
      ({ planned, product }) =>
        planned && !basin.barred.includes(product) && !isLabelled(product) && !hasOwnRule(product),
    )
    .map((product) => ({
      key: product.id,
      product: product.product,
      strength: product.strength,
      pricePerKg: product.pricePerKg ?? PRICE_UNKNOWN,
      stock: product.left,
    }));

/**
 * The problem that this visit's readings pose, or why there is none.
 * @param recipe where it is posed for one
 * @example problemOf(opened).input.litres // 40000
 */
export function problemOf(opened: OpenedVisit, recipe?: string): PlanProblem | NoPlan {
  const { basin, visit, rangeSet, known, log } = opened;
  const why = whyNoPlan(known);
  if (why && !(recipe === "green-pool" && isPhBleached(why, known))) return why;
  const { fillAlkalinity, fillHardness } = basin.site;
  const products = plannedProducts(opened);
  return problemFor(known, {
    set: rangeSet,
    surface: basin.surface,
    litres: visit.litres,
    kind: mixesLike(basin.kind),
    outdoors: !basin.indoors,
    findings: findingsNow(opened),
    products,
    fill:
      fillAlkalinity === null || fillHardness === null
        ? null
        : { totalAlkalinity: fillAlkalinity, calciumHardness: fillHardness },
    mostReplaced: basin.mostReplaced,
    // A firm that wants it planned says so at the product.
    stabilisedChlorine: products.some(({ product }) => TRAITS[product].stabilised),
    cell: basin.sanitiser === "salt-cell" || basin.equipment.feeder === "salt-cell",
    tablets: log.doses.some(({ product, hoursAgo }) => product === "trichlor" && hoursAgo <= TABLETS_HOURS),
  });
}

/**
 * What a recipe is made of at this visit, or why none can be.
 * @example "reason" in recipeInputOf(opened) // false
 */
export function recipeInputOf(opened: OpenedVisit, recipe?: string): RecipeInput | NoPlan {
  const problem = problemOf(opened, recipe);
  if ("reason" in problem) return problem;
  const combined = byQuantity(opened.readings.filter(({ doubts }) => mayActOn(doubts))).combinedChlorine;
  return {
    input: problem.input,
    setting: problem.setting,
    set: problem.set,
    surface: problem.surface,
    spreads: problem.spreads,
    ...(opened.basin.sanitiser === "bromine" ? { bromine: bromineRead(opened) } : {}),
    combinedChlorine: combined?.value ?? null,
    combinedUnsure:
      hasPersulfate(opened.log.doses) || (combined !== undefined && combined.bound !== "within"),
    indoors: opened.basin.indoors,
    fillRate: opened.firm.fillRate,
    persulfateDose: opened.firm.persulfateDose,
  };
}

/** The chlorine of a green pool stands where no drop reads the pH: it was brought right before. */
const isPhBleached = (why: NoPlan, { standing, water }: OpenedVisit["known"]): boolean =>
  why.reason === "needs-reading" &&
  why.quantity === "ph" &&
  standing.freeChlorine === "read" &&
  water.freeChlorine > PH_READS_TO &&
  standing.totalAlkalinity !== "assumed";

function bromineRead({ readings, ranges }: OpenedVisit): { value: number; high: number } | null {
  const reading = readings.find(({ quantity, doubts }) => quantity === "bromine" && mayActOn(doubts));
  const high = ranges.bromine?.high;
  return reading && high !== undefined ? { value: reading.value, high } : null;
}

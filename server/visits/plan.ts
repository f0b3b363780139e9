import loadHighs from "highs";
import {
  ALTERNATIVES,
  type AlternativeName,
  goalsOf,
  type Highs,
  InputFault,
  mayActOn,
  type Plan,
  type PlanInput,
  plansFor,
  predicted,
  type Sample,
  solverOf,
  WEIGHTS,
} from "#core";
import { mixesLike } from "./record";
import { byQuantity, findingsNow, type OpenedVisit } from "./visit";

/** Loaded once, at the first plan. */
let loading: ReturnType<typeof load> | undefined;
const load = async () => solverOf((await loadHighs()) as unknown as Highs);

/** A plan with what it promises, as a page shows it. */
export interface ShownPlan {
  name: AlternativeName;
  cost: number;
  before: Sample;
  after: Sample;
  saturation: number;
  intervals: ReturnType<typeof predicted>;
  steps: Plan["steps"];
  missed: Plan["missed"];
}

const USUAL = {
  calciumHardness: 250,
  cyanuricAcid: 0,
  freeChlorine: 0,
  temperature: 25,
  totalDissolvedSolids: 1000,
};
const PRICE_UNKNOWN = 3;
/** No more of the water than this is replaced at a time. */
const MOST_REPLACED = 0.6;

/**
 * The plans for a visit's readings, or null: without pH and alkalinity, with one of them off its
 * scale, where the readings cannot belong to one water, or where combined chlorine comes first.
 */
export async function plansOfVisit(opened: OpenedVisit): Promise<ShownPlan[] | null> {
  const input = problemOf(opened);
  if (!input) return null;
  loading ??= load();
  const solver = await loading;
  const found = findingsNow(opened);
  try {
    return plansFor(
      input,
      {
        kind: mixesLike(opened.basin.kind),
        freshFill: false,
        surface: opened.basin.surface === "vinyl" ? "vinyl" : "other",
        sanitiserFirst: found.some((finding) => finding.code === "freeChlorine.low" && finding.closes),
      },
      solver,
    ).map(({ name, solved, steps, missed }) => ({
      name,
      cost: solved.cost,
      before: input.water,
      after: solved.after,
      saturation: solved.saturation,
      intervals: predicted(input, solved.amounts),
      steps,
      missed,
    }));
  } catch (fault) {
    if (fault instanceof InputFault) return null;
    throw fault;
  }
}

function problemOf(opened: OpenedVisit): PlanInput | null {
  const { basin, visit, rangeSet, products } = opened;
  if (findingsNow(opened).some((finding) => finding.quantity === "combinedChlorine")) return null;
  const today = opened.readings.filter((reading) => mayActOn(reading.doubts));
  const readings = { ...byQuantity(opened.earlier), ...byQuantity(today) };
  const { ph, totalAlkalinity } = readings;
  if (!ph || !totalAlkalinity || !today.some((reading) => reading.quantity === "ph")) return null;
  const steered = [ph, totalAlkalinity, readings.calciumHardness, readings.freeChlorine];
  if (steered.some((reading) => reading && reading.bound !== "within")) return null;
  const stabiliser = readings.cyanuricAcid;
  if (stabiliser?.bound === "at-least") return null;
  const value = (name: keyof typeof USUAL) => readings[name]?.value ?? USUAL[name];
  const water: Sample = {
    ph: ph.value,
    totalAlkalinity: totalAlkalinity.value,
    calciumHardness: value("calciumHardness"),
    // Under the first line of the tube lies somewhere below: half of it is the best single number.
    cyanuricAcid: stabiliser?.bound === "at-most" ? stabiliser.value / 2 : value("cyanuricAcid"),
    freeChlorine: value("freeChlorine"),
    borate: 0,
    temperature: value("temperature"),
    totalDissolvedSolids: value("totalDissolvedSolids"),
  };
  const { fillAlkalinity, fillHardness } = basin.site;
  const fill: Sample | null =
    fillAlkalinity === null || fillHardness === null
      ? null
      : {
          ...water,
          ph: 7.6,
          totalAlkalinity: fillAlkalinity,
          calciumHardness: fillHardness,
          cyanuricAcid: 0,
          freeChlorine: 0,
          totalDissolvedSolids: 300,
        };
  return {
    water,
    litres: visit.litres,
    goals: goalsOf(rangeSet, basin.surface, water),
    // Tablets feed for days; they mend nothing today.
    products: products
      .filter(({ product }) => product !== "trichlor")
      .map((product) => ({
        key: product.id,
        product: product.product,
        strength: product.strength,
        pricePerKg: product.pricePerKg ?? PRICE_UNKNOWN,
        stock: null,
      })),
    fill,
    mostReplaced: fill ? MOST_REPLACED : 0,
    aeration: true,
    weights: WEIGHTS,
  };
}

/** A dose of a plan is kept under the plan's name and the product's id. */
export const isPlanCode = (code: string): boolean => code.startsWith("plan.");

/** Grams that a plan gives of a product, by the dose's code; null when no plan holds it. */
export async function plannedGrams(opened: OpenedVisit, code: string): Promise<number | null> {
  const [, name, productId] = code.split(".");
  const plans = await plansOfVisit(opened);
  if (!ALTERNATIVES.some((known) => known === name)) return null;
  const step = plans
    ?.find((plan) => plan.name === name)
    ?.steps.find((one) => one.kind === "dose" && one.product === productId);
  return step?.kind === "dose" ? step.grams : null;
}

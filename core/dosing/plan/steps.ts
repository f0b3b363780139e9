import { PRODUCTS, type ProductId } from "../../products/products";
import { type Group, type How, isAcid, isChlorine, loadsOf, meetBadly, TRAITS } from "../../products/traits";
import type { Prospect } from "../outcome";
import { portionsOf } from "../portions";
import type { Steered } from "./goals";
import type { PlanProduct } from "./input";

/** One thing to do, with what it takes, how, and how long to wait afterwards. */
export type PlanStep = { waitMinutes: number; cautions: CautionCode[] } & (
  | { kind: "replace-water"; fraction: number; litres: number }
  | {
      kind: "dose";
      product: string;
      compound: ProductId;
      grams: number;
      portions: number;
      portionGrams: number;
      /** Jugs or buckets that each portion is poured in; plans of before did not say. */
      loads?: number;
      how: How;
    }
  | {
      kind: "aerate";
      millimoles: number;
      /** Where to stop, and about how long it takes; plans of before did not say. */
      untilPh?: number;
      minutes?: number;
    }
  /** Something to be done with the hands, nothing to be poured. */
  | { kind: "task"; task: TaskCode }
  | { kind: "retest"; quantities: Retested[]; promised?: Promised }
);

/** Readings that a retest may ask for: those a dose moves, combined chlorine after a shock, and bromine. */
export type Retested = Steered | "combinedChlorine" | "bromine";

/** What a plan says each retested reading will come to. */
export type Promised = Partial<Record<Retested, Prospect>>;

const TASK_CODES = [
  "uncover",
  "fill-to-line",
  "check-equipment",
  "circulate-a-day",
  "evening",
  "cover-watched",
  "cover-again",
  "hall-empty",
  "brush",
  "test-all",
  "wait-for-chlorine",
  "chlorine-gone-before-drain",
  "drain-part",
  "refill",
  "fill-hours",
  "plant-off",
  "plant-on",
  "no-plain-chlorine",
  "read-free-first",
  "lower-below-returns",
  "drain-lines",
  "algaecide-by-label",
  "cover-on",
  "jets-on",
  "sequestrant-by-label",
  "scoop-out",
  "brush-all",
  "filter-around-clock",
  "clean-filter-by-pressure",
  "vacuum-to-waste",
] as const;
export type TaskCode = (typeof TASK_CODES)[number];

export const CAUTION_CODES = [
  "never-mix",
  "acid-and-chlorine",
  "chlorines-apart",
  "chemical-into-water",
  "goggles-gloves",
  "nobody-in",
  "pump-on",
  "heats",
  "reads-late",
  "hydrostatic-lift",
  "liner-shrinks",
  "dechlorinate-drain",
  "closed-until",
  "cover-watched",
  "dry-scoop",
  "acid-first-into-water",
  "rinse-after",
  "ventilate",
  "electric-off",
  "cracks-when-dry",
  "cell-off",
  "needs-bromide",
  "reads-as-combined",
  "pump-off",
  "licensed-trades",
  "label-outranks",
] as const;
export type CautionCode = (typeof CAUTION_CODES)[number];

/** Minutes before the next step: jets mix a spa, a pool takes a turnover. */
export const WAIT_MINUTES = { spa: 20, pool: 240 } as const;
/** Least minutes with circulation between acid and chlorine, and between two portions. */
export const ACID_CHLORINE_MINUTES = 30;

/** Running pool: alkalinity, pH, calcium, stabiliser, sanitiser. Fresh fill: calcium first, then alkalinity, then pH. */
const ORDER: Record<"running" | "fresh", readonly Group[]> = {
  running: ["alkalinity", "ph", "calcium", "stabiliser", "sanitiser"],
  fresh: ["calcium", "alkalinity", "ph", "stabiliser", "sanitiser"],
};

export interface StepSetting {
  kind: "spa" | "pool";
  /** Under a roof fumes gather. */
  indoors?: boolean;
  freshFill: boolean;
  surface: "vinyl" | "other";
  /** Sanitiser is under its floor: it goes in first, and the basin stays closed. */
  sanitiserFirst: boolean;
}

/** Where a product stands in the order of a plan: what closes the basin first, then the school's order. */
export function rankOf(product: ProductId, setting: StepSetting, ph: number): number {
  const order = ORDER[setting.freshFill ? "fresh" : "running"];
  const { group, acid } = TRAITS[product];
  // pH over 8 before chlorine: chlorine does next to nothing there.
  const phFirst = ph > 8;
  if (setting.sanitiserFirst && group === "sanitiser") return phFirst ? -1 : -2;
  if (setting.sanitiserFirst && phFirst && acid) return -2;
  return order.indexOf(group);
}

/** The share of the water that goes, with what draining can do. */
export const replaceStep = (
  fraction: number,
  litres: number,
  { kind, surface }: Pick<StepSetting, "kind" | "surface">,
): PlanStep => ({
  kind: "replace-water",
  fraction,
  litres: fraction * litres,
  waitMinutes: WAIT_MINUTES[kind],
  cautions: [
    "hydrostatic-lift",
    ...(surface === "vinyl" ? (["liner-shrinks"] as const) : []),
    "dechlorinate-drain",
    "electric-off",
    "nobody-in",
    "closed-until",
  ],
});

/** The test that ends a plan. */
export const lastRetest = (
  used: readonly Pick<PlanProduct, "product">[],
  waterReplaced: boolean,
): PlanStep => ({
  kind: "retest",
  quantities: retested(used, waterReplaced),
  waitMinutes: 0,
  cautions: ["closed-until", "label-outranks"],
});

/** Lengthens the wait after a dose where acid and chlorine would otherwise follow one another too soon. */
export function keptApart(steps: readonly PlanStep[]): PlanStep[] {
  return steps.map((step, index) => {
    if (step.kind !== "dose") return step;
    const next = steps.findIndex((later, at) => at > index && later.kind === "dose" && clash(step, later));
    if (next < 0) return step;
    const between = steps.slice(index, next).reduce((sum, one) => sum + minutesOf(one), 0);
    const short = ACID_CHLORINE_MINUTES - between;
    return short > 0 ? { ...step, waitMinutes: step.waitMinutes + short } : step;
  });
}

/** How long a step keeps the next one waiting: its wait, and the hours of air. */
const minutesOf = (step: PlanStep): number =>
  step.waitMinutes + (step.kind === "aerate" ? (step.minutes ?? 0) : 0);

const clash = (a: { compound: ProductId }, b: { compound: ProductId }): boolean =>
  meetBadly(a.compound, b.compound);

/** One product as a step: in portions, told how, with its cautions, and the wait of such a basin. */
export function doseStep(
  product: PlanProduct,
  grams: number,
  litres: number,
  setting: Pick<StepSetting, "kind" | "sanitiserFirst" | "indoors">,
): Extract<PlanStep, { kind: "dose" }> {
  const portions = portionsOf(product, grams, litres);
  return {
    kind: "dose",
    product: product.key,
    compound: product.product,
    grams,
    portions: portions.count,
    portionGrams: portions.grams,
    loads: loadsOf(product.product, portions.grams),
    how: TRAITS[product.product].how,
    waitMinutes: WAIT_MINUTES[setting.kind],
    cautions: cautionsOf(product.product, setting),
  };
}

/** Air until the pH has come to where it stops. */
export const airStep = (millimoles: number, untilPh: number, minutes: number): PlanStep => ({
  kind: "aerate",
  millimoles,
  untilPh,
  minutes,
  waitMinutes: 0,
  cautions: ["pump-on"],
});

/**
 * What can hurt at a dose, the worst first.
 * @example cautionsOf("sodium-bicarbonate", { sanitiserFirst: false })[0] // "never-mix"
 */
export function cautionsOf(
  product: ProductId,
  setting: Pick<StepSetting, "sanitiserFirst" | "indoors"> & Partial<Pick<StepSetting, "kind">>,
): CautionCode[] {
  const cautions: CautionCode[] = ["never-mix", "goggles-gloves", "nobody-in", "pump-on"];
  if (isAcid(product)) cautions.unshift("acid-and-chlorine");
  if (isChlorine(product)) cautions.unshift("acid-and-chlorine", "chlorines-apart");
  if (product === "calcium-hypochlorite") cautions.push("dry-scoop");
  if (TRAITS[product].acid && TRAITS[product].how === "pour-along-returns") cautions.push("rinse-after");
  // A hot tub takes so little acid that it is diluted first: undiluted it lies on the shell.
  if (isAcid(product) && setting.kind === "spa") cautions.push("acid-first-into-water");
  if (setting.indoors) cautions.push("ventilate");
  if (TRAITS[product].how === "dissolve-first") cautions.push("chemical-into-water");
  if (product === "calcium-chloride") cautions.push("heats");
  if (product === "sodium-chloride") cautions.push("cell-off");
  if (product === "cyanuric-acid") cautions.push("reads-late");
  if (setting.sanitiserFirst && isChlorine(product)) cautions.push("closed-until");
  return cautions;
}

const IN_ORDER: readonly Retested[] = [
  "freeChlorine",
  "combinedChlorine",
  "ph",
  "totalAlkalinity",
  "calciumHardness",
  "cyanuricAcid",
];

/** Just what was moved is tested again; stabiliser that was added reads only after days. */
export function retested(used: readonly Pick<PlanProduct, "product">[], waterReplaced = false): Retested[] {
  const quantities = new Set<Retested>(
    waterReplaced ? ["ph", "totalAlkalinity", "calciumHardness", "cyanuricAcid", "freeChlorine"] : [],
  );
  for (const { product } of used) {
    const { alkalinity, calcium, chlorine } = PRODUCTS[product].effect;
    if (chlorine !== 0) quantities.add("freeChlorine");
    if (alkalinity !== 0 && chlorine === 0) {
      quantities.add("ph");
      quantities.add("totalAlkalinity");
    }
    if (calcium > 0 && chlorine === 0) quantities.add("calciumHardness");
  }
  return IN_ORDER.filter((quantity) => quantities.has(quantity));
}

import type { Prospect } from "../outcome";
import { portionsOf } from "../portions";
import { PRODUCTS, type ProductId } from "../products";
import type { Steered } from "./goals";
import type { HeldBack } from "./hold-back";
import type { PlanInput, PlanProduct } from "./input";
import type { Amounts } from "./solve";

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
      how: How;
      /** Of the planned amount, what waits for the retest. */
      heldBack?: HeldBack;
    }
  | { kind: "aerate"; millimoles: number }
  /** Something to be done with the hands, nothing to be poured. */
  | { kind: "task"; task: TaskCode }
  | { kind: "retest"; quantities: Retested[]; promised?: Promised }
);

/** Readings that a retest may ask for: those a dose moves, and combined chlorine after a shock. */
export type Retested = Steered | "combinedChlorine";

/** What a plan says each retested reading will come to. */
export type Promised = Partial<Record<Retested, Prospect>>;

export const TASK_CODES = [
  "uncover",
  "fill-to-line",
  "check-equipment",
  "circulate-a-day",
  "evening",
  "cover-off",
  "brush",
  "test-all",
  "wait-for-chlorine",
  "chlorine-gone-before-drain",
  "drain-part",
  "refill",
  "fill-hours",
  "lower-below-returns",
  "drain-lines",
  "algaecide-by-label",
  "cover-on",
  "jets-on",
  "sequestrant-by-label",
] as const;
export type TaskCode = (typeof TASK_CODES)[number];

export type How =
  | "pour-along-returns"
  | "dissolve-first"
  | "broadcast"
  | "in-a-sock"
  | "pour-at-return"
  | "in-a-feeder";

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

/** A persulfate oxidiser is acid salt too. */
const isAcid = (product: ProductId): boolean =>
  product === "hydrochloric-acid" || product === "sodium-bisulfate" || product === "potassium-monopersulfate";
const isChlorine = (product: ProductId): boolean => PRODUCTS[product].effect.chlorine > 0;

type Group = "alkalinity" | "ph" | "calcium" | "stabiliser" | "sanitiser";
const GROUPS: Partial<Record<ProductId, Group>> = {
  "sodium-bicarbonate": "alkalinity",
  "sodium-carbonate": "ph",
  borax: "ph",
  "boric-acid": "ph",
  "hydrochloric-acid": "ph",
  "sodium-bisulfate": "ph",
  "potassium-monopersulfate": "ph",
  "calcium-chloride": "calcium",
  "cyanuric-acid": "stabiliser",
};
export const groupOf = (product: ProductId): Group => GROUPS[product] ?? "sanitiser";

/** Running pool: alkalinity, pH, calcium, stabiliser, sanitiser. Fresh fill: calcium first, then alkalinity, then pH. */
const ORDER: Record<"running" | "fresh", readonly Group[]> = {
  running: ["alkalinity", "ph", "calcium", "stabiliser", "sanitiser"],
  fresh: ["calcium", "alkalinity", "ph", "stabiliser", "sanitiser"],
};

const HOW: Partial<Record<ProductId, How>> = {
  "hydrochloric-acid": "pour-along-returns",
  "sodium-bisulfate": "dissolve-first",
  "sodium-bicarbonate": "broadcast",
  "sodium-carbonate": "dissolve-first",
  "calcium-chloride": "dissolve-first",
  "cyanuric-acid": "in-a-sock",
  "sodium-hypochlorite": "pour-at-return",
  // Tablets dissolve over days and are never put into a bucket.
  trichlor: "in-a-feeder",
};

export interface StepSetting {
  kind: "spa" | "pool";
  freshFill: boolean;
  surface: "vinyl" | "other";
  /** Sanitiser is under its floor: it goes in first, and the basin stays closed. */
  sanitiserFirst: boolean;
}

/**
 * The amounts of a plan as steps in a safe order: water first, what closes the basin next, then the
 * school's order; in portions, with waits; acid and chlorine apart.
 */
export function stepsOf(
  input: Pick<PlanInput, "water" | "litres" | "products">,
  amounts: Amounts,
  setting: StepSetting,
): PlanStep[] {
  const steps: PlanStep[] = [];
  if (amounts.replaced > 0)
    steps.push({
      kind: "replace-water",
      fraction: amounts.replaced,
      litres: amounts.replaced * input.litres,
      waitMinutes: WAIT_MINUTES[setting.kind],
      cautions: [
        "hydrostatic-lift",
        ...(setting.surface === "vinyl" ? (["liner-shrinks"] as const) : []),
        "dechlorinate-drain",
      ],
    });

  const order = ORDER[setting.freshFill ? "fresh" : "running"];
  const used = input.products.filter((product) => (amounts.grams.get(product.key) ?? 0) > 0);
  // pH over 8 before chlorine: chlorine does next to nothing there.
  const phFirst = input.water.ph > 8;
  const rank = (product: PlanProduct): number => {
    const group = groupOf(product.product);
    if (setting.sanitiserFirst && group === "sanitiser") return phFirst ? -1 : -2;
    if (setting.sanitiserFirst && phFirst && isAcid(product.product)) return -2;
    return order.indexOf(group);
  };
  used.sort((a, b) => rank(a) - rank(b));

  let aerated = amounts.aerated <= 0;
  for (const product of used) {
    steps.push(doseStep(product, amounts.grams.get(product.key) ?? 0, input.litres, setting));
    if (!aerated && isAcid(product.product)) {
      steps.push(aeration(amounts.aerated));
      aerated = true;
    }
  }
  if (!aerated) steps.push(aeration(amounts.aerated));
  if (steps.length > 0)
    steps.push({
      kind: "retest",
      quantities: retested(used, amounts.replaced > 0),
      waitMinutes: 0,
      cautions: ["closed-until", "label-outranks"],
    });
  return keptApart(steps);
}

/** Lengthens the wait after a dose where acid and chlorine would otherwise follow one another too soon. */
export function keptApart(steps: readonly PlanStep[]): PlanStep[] {
  return steps.map((step, index) => {
    if (step.kind !== "dose") return step;
    const next = steps.findIndex((later, at) => at > index && later.kind === "dose" && clash(step, later));
    if (next < 0) return step;
    const between = steps.slice(index, next).reduce((sum, one) => sum + one.waitMinutes, 0);
    const short = ACID_CHLORINE_MINUTES - between;
    return short > 0 ? { ...step, waitMinutes: step.waitMinutes + short } : step;
  });
}

const clash = (a: { compound: ProductId }, b: { compound: ProductId }): boolean =>
  meetBadly(a.compound, b.compound);

/** Acid and chlorine make poison gas. */
export const meetBadly = (a: ProductId, b: ProductId): boolean =>
  (isAcid(a) && isChlorine(b)) || (isChlorine(a) && isAcid(b));

/** One product as a step: in portions, told how, with its cautions, and the wait of such a basin. */
export function doseStep(
  product: PlanProduct,
  grams: number,
  litres: number,
  setting: Pick<StepSetting, "kind" | "sanitiserFirst">,
): Extract<PlanStep, { kind: "dose" }> {
  const portions = portionsOf(product, grams, litres);
  return {
    kind: "dose",
    product: product.key,
    compound: product.product,
    grams,
    portions: portions.count,
    portionGrams: portions.grams,
    how: HOW[product.product] ?? "dissolve-first",
    waitMinutes: WAIT_MINUTES[setting.kind],
    cautions: cautionsOf(product.product, setting),
  };
}

const aeration = (millimoles: number): PlanStep => ({
  kind: "aerate",
  millimoles,
  waitMinutes: 0,
  cautions: ["pump-on"],
});

export function cautionsOf(product: ProductId, setting: Pick<StepSetting, "sanitiserFirst">): CautionCode[] {
  const cautions: CautionCode[] = ["goggles-gloves", "nobody-in", "pump-on"];
  if (isAcid(product)) cautions.unshift("acid-and-chlorine");
  if (isChlorine(product)) cautions.unshift("acid-and-chlorine", "chlorines-apart");
  if ((HOW[product] ?? "dissolve-first") === "dissolve-first") cautions.push("chemical-into-water");
  if (product === "calcium-chloride") cautions.push("heats");
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

import type { Sample } from "../../water/sample";
import { portionsOf } from "../portions";
import { PRODUCTS, type ProductId } from "../products";
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
    }
  | { kind: "aerate"; millimoles: number }
  | { kind: "retest"; quantities: (keyof Sample)[] }
);

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
  "label-outranks",
] as const;
export type CautionCode = (typeof CAUTION_CODES)[number];

/** Minutes before the next step: jets mix a spa, a pool takes a turnover. */
export const WAIT_MINUTES = { spa: 20, pool: 240 } as const;
/** Least minutes with circulation between acid and chlorine, and between two portions. */
export const ACID_CHLORINE_MINUTES = 30;

const isAcid = (product: ProductId): boolean =>
  product === "hydrochloric-acid" || product === "sodium-bisulfate";
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
export function stepsOf(input: PlanInput, amounts: Amounts, setting: StepSetting): PlanStep[] {
  const wait = WAIT_MINUTES[setting.kind];
  const steps: PlanStep[] = [];
  if (amounts.replaced > 0)
    steps.push({
      kind: "replace-water",
      fraction: amounts.replaced,
      litres: amounts.replaced * input.litres,
      waitMinutes: wait,
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
  used.forEach((product, index) => {
    const grams = amounts.grams.get(product.key) ?? 0;
    const portions = portionsOf(product, grams, input.litres);
    const next = used[index + 1];
    const apart =
      next &&
      ((isAcid(product.product) && isChlorine(next.product)) ||
        (isChlorine(product.product) && isAcid(next.product)));
    steps.push({
      kind: "dose",
      product: product.key,
      compound: product.product,
      grams,
      portions: portions.count,
      portionGrams: portions.grams,
      how: HOW[product.product] ?? "dissolve-first",
      waitMinutes: apart ? Math.max(wait, ACID_CHLORINE_MINUTES) : wait,
      cautions: cautionsOf(product.product, setting),
    });
    if (!aerated && isAcid(product.product)) {
      steps.push(aeration(amounts.aerated));
      aerated = true;
    }
  });
  if (!aerated) steps.push(aeration(amounts.aerated));
  if (steps.length > 0)
    steps.push({
      kind: "retest",
      quantities: retested(used),
      waitMinutes: 0,
      cautions: ["closed-until", "label-outranks"],
    });
  return steps;
}

const aeration = (millimoles: number): PlanStep => ({
  kind: "aerate",
  millimoles,
  waitMinutes: 0,
  cautions: ["pump-on"],
});

function cautionsOf(product: ProductId, setting: StepSetting): CautionCode[] {
  const cautions: CautionCode[] = ["goggles-gloves", "nobody-in", "pump-on"];
  if (isAcid(product)) cautions.unshift("acid-and-chlorine");
  if (isChlorine(product)) cautions.unshift("acid-and-chlorine", "chlorines-apart");
  if ((HOW[product] ?? "dissolve-first") === "dissolve-first") cautions.push("chemical-into-water");
  if (product === "calcium-chloride") cautions.push("heats");
  if (product === "cyanuric-acid") cautions.push("reads-late");
  if (setting.sanitiserFirst && isChlorine(product)) cautions.push("closed-until");
  return cautions;
}

/** Just what was dosed is tested again; stabiliser reads only after days. */
function retested(used: readonly PlanProduct[]): (keyof Sample)[] {
  const quantities = new Set<keyof Sample>();
  for (const { product } of used) {
    const { alkalinity, calcium, chlorine } = PRODUCTS[product].effect;
    if (chlorine > 0) quantities.add("freeChlorine");
    if (alkalinity !== 0 && chlorine === 0) {
      quantities.add("ph");
      quantities.add("totalAlkalinity");
    }
    if (calcium > 0 && chlorine === 0) quantities.add("calciumHardness");
  }
  return [...quantities];
}

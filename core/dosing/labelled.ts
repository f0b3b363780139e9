import type { Found } from "../judging/found";
import type { Quantity } from "../measure/quantity";
import { hoursSince } from "../products/hours-since";
import { isLabelled, LABELLED, type Label, type LabelKind, type LabelledId } from "../products/labels";
import type { Product, ProductId } from "../products/products";
import { isChlorine } from "../products/traits";
import { chlorineRaised } from "./single";

/** What is due by its label at a basin, and what it has to wait for. */

/** Free chlorine that is a shock, or what is left of one, mg/L. */
export const FRESH_SHOCK = 5;
/** Days for which a dose still meets what comes after it. */
const MEETS_DAYS = 7;

export interface LabelInput {
  /** In the order in which they are liked. */
  products: readonly LabelProduct[];
  /** Of this visit and those before, as far back as the longest interval. */
  doses: readonly GivenDose[];
  litres: number;
  /** A spa, a splash pad. */
  jets: boolean;
  outdoors: boolean;
  /** As it was read today; null where it was not. */
  freeChlorine: number | null;
  /** Where the newest reading of what these products are for stands; absent where it was never read. */
  found: Partial<Record<Quantity, Found>>;
  /** The hardness is to be counted today and was not yet. */
  hardnessDue: boolean;
}

export interface LabelProduct extends Product {
  id: string;
  /** Whether it may be given here. */
  planned: boolean;
  /** Grams left; null when nobody counts it. */
  left: number | null;
  label?: Label | null | undefined;
}

export interface GivenDose extends Product {
  grams: number;
  litres: number;
  hoursAgo: number;
}

/** A dose by the label. */
export interface LabelDose {
  product: string;
  compound: LabelledId;
  grams: number;
  /** Days since one of its purpose went in; null where none ever did. */
  lastDays: number | null;
  everyDays: number | null;
  isDue: boolean;
  /** The high reading that asks for it; null where it is due by its days, or not due. */
  askedBy: Quantity | null;
  /** What it waits for; it is not given before. */
  waits: LabelWait[];
  /** What is to be minded with it. */
  minds: LabelMind[];
}

export type LabelWait =
  | { code: "fresh-chlorine"; value: number; limit: number }
  | { code: "shock"; hours: number }
  | { code: "meets"; other: ProductId; days: number }
  | { code: "hardness-first"; quantity: Quantity }
  | { code: "copper-high" }
  | { code: "chlorine-unread" }
  | { code: "stock"; left: number };

export type LabelMind = "shock-apart" | "copper" | "clouds";

/**
 * What is dosed by its label here: of each purpose the first product that may be, with whether it is due.
 * @example labelDoses({ ...input, products: [], doses: [], found: {} }).length // 0
 */
export function labelDoses(input: LabelInput): LabelDose[] {
  const purposes = new Set<string>();
  return input.products.flatMap((product): LabelDose[] => {
    const { label, product: compound } = product;
    if (!label || !product.planned || !isLabelled(compound)) return [];
    const kind = LABELLED[compound];
    if (purposes.has(kind.purpose) || (input.jets && !kind.underJets)) return [];
    purposes.add(kind.purpose);
    const grams = (label.perCubicMetre * input.litres) / 1000;
    const hours = hoursSince(input.doses, (id) => isLabelled(id) && LABELLED[id].purpose === kind.purpose);
    const lastDays = hours === null ? null : hours / 24;
    const askedBy = askedFor(kind, hours, label.everyDays, input.found);
    return [
      {
        product: product.id,
        compound,
        grams,
        lastDays,
        everyDays: label.everyDays,
        isDue: askedBy !== null || isDueByDays(kind, lastDays, label.everyDays, input),
        askedBy,
        waits: waitsOf(compound, label, product.left, grams, input),
        minds: mindsOf(compound),
      },
    ];
  });
}

/** Days for which a reading of it says whether a product is needed. */
const SPEAKS_DAYS = 35;
/** A call in the morning is as good as one in the evening. */
const HALF_A_DAY = 0.5;

const isOver = (lastDays: number | null, everyDays: number): boolean =>
  lastDays === null || lastDays > everyDays - HALF_A_DAY;

/** The high reading that asks for a product, as long as none went in since it was read. */
function askedFor(
  { answers }: LabelKind,
  lastHours: number | null,
  everyDays: number | null,
  found: LabelInput["found"],
): Quantity | null {
  if (!isOver(lastHours === null ? null : lastHours / 24, everyDays ?? MEETS_DAYS)) return null;
  const asks = answers.find((quantity) => {
    const read = found[quantity];
    return read?.place === "high" && (lastHours === null || read.hoursAgo < lastHours);
  });
  return asks ?? null;
}

function isDueByDays(
  { underTheSky, answers, byReading }: LabelKind,
  lastDays: number | null,
  everyDays: number | null,
  { outdoors, found }: LabelInput,
): boolean {
  if (everyDays === null || (underTheSky && !outdoors)) return false;
  // A reading knows better than a calendar whether there is anything to take out.
  const isRead = answers.some((quantity) => (found[quantity]?.hoursAgo ?? Infinity) < 24 * SPEAKS_DAYS);
  return !(byReading && isRead) && isOver(lastDays, everyDays);
}

function waitsOf(
  compound: LabelledId,
  { apartHours }: Label,
  left: number | null,
  grams: number,
  { doses, freeChlorine, hardnessDue, found }: LabelInput,
): LabelWait[] {
  const { eatenByChlorine, meets, copper } = LABELLED[compound];
  const waits: LabelWait[] = [];
  if (eatenByChlorine) {
    const shocked = doses.find((dose) => isShock(dose) && dose.hoursAgo < apartHours);
    if (freeChlorine === null) waits.push({ code: "chlorine-unread" });
    else if (freeChlorine >= FRESH_SHOCK)
      waits.push({ code: "fresh-chlorine", value: freeChlorine, limit: FRESH_SHOCK });
    if (shocked) waits.push({ code: "shock", hours: apartHours - shocked.hoursAgo });
  }
  for (const other of meets) {
    const hours = hoursSince(doses, (id) => id === other);
    if (hours !== null && hours < MEETS_DAYS * 24)
      waits.push({ code: "meets", other, days: MEETS_DAYS - hours / 24 });
  }
  if (copper && found.copper?.place === "high") waits.push({ code: "copper-high" });
  if (copper && hardnessDue) waits.push({ code: "hardness-first", quantity: "calciumHardness" });
  if (left !== null && left < grams * (1 - 1e-6)) waits.push({ code: "stock", left });
  return waits;
}

/** Whether a dose lifts free chlorine by as much as a shock does. */
const isShock = ({ product, strength, grams, litres }: GivenDose): boolean =>
  isChlorine(product) &&
  product !== "trichlor" &&
  chlorineRaised({ product, strength }, grams, litres) >= FRESH_SHOCK;

const mindsOf = (compound: LabelledId): LabelMind[] => {
  const { eatenByChlorine, copper, clouds } = LABELLED[compound];
  return [
    ...(eatenByChlorine ? ["shock-apart" as const] : []),
    ...(copper ? ["copper" as const] : []),
    ...(clouds ? ["clouds" as const] : []),
  ];
};

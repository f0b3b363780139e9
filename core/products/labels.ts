import type { Quantity } from "../measure/quantity";
import { UNIT_SYSTEMS, type UnitSystem, type UnitsRead } from "../measure/unit-systems";
import { gramsFrom, litresFrom, millilitresFrom } from "../measure/units";
import { PRODUCT_IDS, type ProductId } from "./products";

/** Products that are dosed as their label says: so much for the water, so often. */

/** What a firm typed in once from the label. */
export interface Label {
  /** A dose, g as sold for each cubic metre. */
  perCubicMetre: number;
  /** Days from one dose to the next; null where it is given only when somebody asks for it. */
  everyDays: number | null;
  /** Hours that it keeps from a shock, before and after. */
  apartHours: number;
}

export const LABEL_LIMITS = {
  /** g for each cubic metre: a persulfate's own is 15, and no label here asks for a hundred times that. */
  perCubicMetre: { low: 0.01, high: 1500 },
  everyDays: { low: 1, high: 365 },
  apartHours: { low: 0, high: 168 },
} as const;

/** The water for which a label tells its dose, litres. */
const LABEL_WATER: Record<UnitsRead["doses"], number> = {
  metric: 10_000,
  us: litresFrom(10_000, "us-gal"),
};

/**
 * A dose as it stands on a label, as grams for each cubic metre; without a density it is weighed.
 * @param amount mL or g in 10 m³; fl oz or oz in 10,000 gallons
 * @param density g/mL, or null
 * @example perCubicMetre(100, 1.1, "metric") // 11
 */
export function perCubicMetre(amount: number, density: number | null, units: UnitSystem): number {
  const { doses } = UNIT_SYSTEMS[units];
  return (
    (1000 / LABEL_WATER[doses]) *
    (density === null
      ? gramsFrom(amount, doses === "us" ? "oz" : "g")
      : millilitresFrom(amount, doses === "us" ? "fl oz" : "mL") * density)
  );
}

/** And back. @example onLabel(11, 1.1, "metric") // 100 */
export const onLabel = (grams: number, density: number | null, units: UnitSystem): number =>
  grams / perCubicMetre(1, density, units);

/** A day, where nobody typed it: what oxidises eats what is organic. */
export const USUAL_APART_HOURS = 24;

export interface LabelKind {
  /** Products of one purpose are given one at a time: of each the first on the shelf. */
  purpose: "algae" | "metals" | "clarity" | "oils" | "phosphate";
  /** Whether it goes where jets or sprays whip the water: an algaecide foams there. */
  underJets: boolean;
  /** Whether only a basin under the open sky needs it: there algae grow. */
  underTheSky: boolean;
  /** Whether fresh chlorine destroys it. */
  eatenByChlorine: boolean;
  /** What takes it out again, or is taken out by it. */
  meets: readonly ProductId[];
  /** Brings copper: it fades the end of the hardness count, and stains. */
  copper: boolean;
  /** Clouds the water until the filter has caught it. */
  clouds: boolean;
  /** The readings that ask for it when they are high, whenever its label's days are over. */
  answers: readonly Quantity[];
  /** Asked for by those alone, as long as one is young enough to speak. */
  byReading: boolean;
}

const kind = (purpose: LabelKind["purpose"], more: Partial<LabelKind>): LabelKind => ({
  purpose,
  underJets: true,
  underTheSky: false,
  eatenByChlorine: false,
  meets: [],
  copper: false,
  clouds: false,
  answers: [],
  byReading: false,
  ...more,
});

/** How each of them gets on with the rest: the trade's usual warnings, which a label outranks. */
export const LABELLED = {
  algaecide: kind("algae", { underJets: false, underTheSky: true, eatenByChlorine: true }),
  "copper-algaecide": kind("algae", {
    underJets: false,
    underTheSky: true,
    copper: true,
    meets: ["sequestrant"],
  }),
  sequestrant: kind("metals", {
    eatenByChlorine: true,
    meets: ["phosphate-remover", "copper-algaecide"],
    answers: ["iron", "copper"],
  }),
  clarifier: kind("clarity", { clouds: true }),
  enzyme: kind("oils", { eatenByChlorine: true }),
  // A phosphonate sequestrant is a phosphate, too: one takes the other out.
  "phosphate-remover": kind("phosphate", {
    underJets: false,
    clouds: true,
    meets: ["sequestrant"],
    answers: ["phosphate"],
    byReading: true,
  }),
} as const satisfies Partial<Record<ProductId, LabelKind>>;

export type LabelledId = keyof typeof LABELLED;
export const LABELLED_IDS = Object.keys(LABELLED) as LabelledId[];

/** @example isLabelled("sequestrant") // true */
export const isLabelled = (product: ProductId): product is LabelledId =>
  LABELLED_IDS.some((id) => id === product);

/** What the readings are balanced with. A new shelf begins with these: a label has to be typed in first. */
export const BALANCING_IDS: readonly ProductId[] = PRODUCT_IDS.filter((id) => !isLabelled(id));

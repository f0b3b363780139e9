import { PRODUCTS, type Product, type ProductId } from "./products";

/**
 * What each product is for and how it is handled: the one table that the planner, the steps and the
 * portions go by. What it does to a water stands in `PRODUCTS`.
 */
export interface Traits {
  /** What a plan may choose it for; null where only a recipe, a label or a feeder has a use for it. */
  use: Use | null;
  group: Group;
  how: How;
  /** Makes poison gas with chlorine. */
  acid: boolean;
  chlorine: boolean;
  /** Brings stabiliser with its chlorine. */
  stabilised: boolean;
  /** At most at a time in 40 m³, g as sold at default strength. */
  portion: number;
}

/** The purposes of a plan; it takes at most one product for each, and never an acid and a base. */
export const USES = ["acid", "base", "alkalinity", "calcium", "stabiliser", "chlorine"] as const;
export type Use = (typeof USES)[number];

/** Where a product stands in the order of work. */
export type Group = "alkalinity" | "ph" | "calcium" | "stabiliser" | "sanitiser";

export type How =
  | "pour-along-returns"
  | "dissolve-first"
  | "broadcast"
  | "in-a-sock"
  | "pour-at-return"
  | "in-a-feeder";

/** The water that the portions speak of, litres. */
const PORTION_VOLUME = 40_000;
/** A litre of full-strength acid. */
const ACID = 1000 * (PRODUCTS["hydrochloric-acid"].density ?? 1);
/** Chlorine, in or out, that moves 40 m³ by 5 mg/L, g as Cl2. */
const FIVE_OF_CHLORINE = 5 * (PORTION_VOLUME / 1000);
/** Soda ash drives the pH up far more steeply than bicarbonate: a kilogram moves 40 m³ by some 0.3. */
const SODA_ASH = 1000;

const traits = (
  use: Use | null,
  group: Group,
  how: How,
  portion: number,
  more: Partial<Pick<Traits, "acid" | "chlorine" | "stabilised">> = {},
): Traits => ({ use, group, how, portion, acid: false, chlorine: false, stabilised: false, ...more });

/** One dose is what the label says: it has no portions of ours. */
const LABELLED = traits(null, "sanitiser", "pour-along-returns", 1e9);

/** As `LABELLED`, and an acid: most sequestrants are phosphonic acids. */
const LABELLED_ACID: Traits = { ...LABELLED, acid: true };

const byChlorine = (strength: number): number => FIVE_OF_CHLORINE / strength;

export const TRAITS: Readonly<Record<ProductId, Traits>> = {
  "hydrochloric-acid": traits("acid", "ph", "pour-along-returns", ACID, { acid: true }),
  // as many moles of acid as a litre of full-strength hydrochloric
  "sodium-bisulfate": traits("acid", "ph", "dissolve-first", (((ACID * 0.3145) / 36.461) * 120.06) / 0.932, {
    acid: true,
  }),
  "sodium-bicarbonate": traits("alkalinity", "alkalinity", "broadcast", 5000),
  "sodium-carbonate": traits("base", "ph", "dissolve-first", SODA_ASH),
  "calcium-chloride": traits("calcium", "calcium", "dissolve-first", 5000),
  "cyanuric-acid": traits("stabiliser", "stabiliser", "in-a-sock", 2000),
  "sodium-hypochlorite": traits(
    "chlorine",
    "sanitiser",
    "pour-at-return",
    byChlorine(PRODUCTS["sodium-hypochlorite"].strength),
    { chlorine: true },
  ),
  "calcium-hypochlorite": traits("chlorine", "sanitiser", "dissolve-first", byChlorine(0.65), {
    chlorine: true,
  }),
  dichlor: traits("chlorine", "sanitiser", "dissolve-first", byChlorine(0.56), {
    chlorine: true,
    stabilised: true,
  }),
  // Tablets feed for days and are never put into a bucket: they mend nothing today.
  trichlor: traits(null, "sanitiser", "in-a-feeder", byChlorine(0.9), { chlorine: true, stabilised: true }),
  // By label, as an oxidiser; an acid salt beside chlorine.
  "potassium-monopersulfate": traits(null, "ph", "dissolve-first", 1000, { acid: true }),
  // For chlorine over its limit only, half of it, by the recipe of that name.
  "sodium-thiosulfate": traits(
    null,
    "sanitiser",
    "dissolve-first",
    ((FIVE_OF_CHLORINE / 70.906 / 2) * 248.18) / 0.99,
  ),
  "boric-acid": traits(null, "ph", "dissolve-first", 5000),
  borax: traits("base", "ph", "dissolve-first", 2 * SODA_ASH),
  // A bag at a time, where it is brushed until it is gone.
  "sodium-chloride": traits(null, "sanitiser", "broadcast", 40_000),
  "sodium-bromide": traits(null, "sanitiser", "dissolve-first", 2000),
  "bromine-tablets": traits(null, "sanitiser", "in-a-feeder", byChlorine(0.28), { chlorine: true }),
  "bromine-granules": traits(null, "sanitiser", "dissolve-first", byChlorine(0.46), {
    chlorine: true,
    stabilised: true,
  }),
  algaecide: LABELLED,
  "copper-algaecide": LABELLED,
  sequestrant: LABELLED_ACID,
  clarifier: LABELLED,
  enzyme: LABELLED,
  "phosphate-remover": LABELLED,
};

/** Salt for a cell, and what makes bromine: they move none of the balanced readings and keep their own rule. */
const OWN_RULE: readonly ProductId[] = [
  "sodium-chloride",
  "sodium-bromide",
  "bromine-tablets",
  "bromine-granules",
];

/** @example hasOwnRule("sodium-chloride") // true */
export const hasOwnRule = (product: ProductId): boolean => OWN_RULE.includes(product);

export const isAcid = (product: ProductId): boolean => TRAITS[product].acid;
export const isChlorine = (product: ProductId): boolean => TRAITS[product].chlorine;

/**
 * Acid and chlorine make poison gas.
 * @example meetBadly("hydrochloric-acid", "sodium-hypochlorite") // true
 */
export const meetBadly = (a: ProductId, b: ProductId): boolean =>
  (isAcid(a) && isChlorine(b)) || (isChlorine(a) && isAcid(b));

/**
 * What arms carry and pour without a splash, g as sold: a jug, a bucket of some 12 L, a bag.
 * A bucket of calcium chloride warms by some 20 K with 1.5 kg of it (81 kJ/mol): more of it scalds.
 */
const CARRIED: Record<How, number> = {
  // A litre jug: no more acid than that is open at once.
  "pour-along-returns": ACID,
  "pour-at-return": 5000,
  "dissolve-first": 2000,
  broadcast: 5000,
  "in-a-sock": 2000,
  "in-a-feeder": 5000,
};
const CARRIED_CALCIUM = 1500;
const SALT_BAG = 20_000;

/**
 * The most of a product that is carried and poured in one go, g as sold.
 * @example carriedAtOnce("calcium-chloride") // 1500
 */
export const carriedAtOnce = (product: ProductId): number =>
  product === "calcium-chloride"
    ? CARRIED_CALCIUM
    : product === "sodium-chloride"
      ? SALT_BAG
      : CARRIED[TRAITS[product].how];

/**
 * Buckets or jugs that an amount takes.
 * @example loadsOf("calcium-chloride", 5000) // 4
 */
export const loadsOf = (product: ProductId, grams: number): number =>
  Math.max(1, Math.ceil(grams / carriedAtOnce(product) - 1e-9));

/** The most of a product that this much water takes at once, g as sold. */
export const mostAtATime = ({ product, strength }: Product, litres: number): number =>
  ((TRAITS[product].portion * PRODUCTS[product].strength) / strength) * (litres / PORTION_VOLUME);

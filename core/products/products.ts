import { known, numberWithin } from "../fault";
import { MOLAR_MASS } from "../water/molar";

/**
 * What a product does to a litre of water, by the mole of the pure compound: alkalinity (eq),
 * inorganic carbon, calcium, cyanurate, active chlorine Cl(+1) and borate (mol).
 */
export interface MolarEffect {
  alkalinity: number;
  inorganicCarbon: number;
  calcium: number;
  cyanurate: number;
  chlorine: number;
  borate: number;
  /** Chloride that comes along at once, mol; more follows when active chlorine is spent. */
  chloride: number;
  /** Dissolved solids that come along, g; companion salts of the trade product included. */
  dissolved: number;
}

export interface ProductKind {
  /** g/mol of the compound. */
  molarMass: number;
  effect: MolarEffect;
  form: "liquid" | "solid";
  /** How a label states strength: share of the pure compound by weight, or available chlorine by weight. */
  strengthOf: "compound" | "available-chlorine";
  /** Default strength, 0…1. */
  strength: number;
  /** g/mL; density of a liquid, loose bulk density of a solid; null when not known. */
  density: number | null;
}

/** What a gram does, of which a part is told: the rest is nothing. */
export const effect = (part: Partial<MolarEffect>): MolarEffect => ({
  alkalinity: 0,
  inorganicCarbon: 0,
  calcium: 0,
  cyanurate: 0,
  chlorine: 0,
  borate: 0,
  chloride: 0,
  dissolved: 0,
  ...part,
});

const pure = (
  molarMass: number,
  part: Partial<MolarEffect>,
  form: ProductKind["form"],
  strength: number,
  density: number | null,
): ProductKind => ({ molarMass, effect: effect(part), form, strengthOf: "compound", strength, density });

const chlorine = (
  molarMass: number,
  part: Partial<MolarEffect>,
  form: ProductKind["form"],
  strength: number,
  density: number | null,
): ProductKind => ({
  molarMass,
  effect: effect(part),
  form,
  strengthOf: "available-chlorine",
  strength,
  density,
});

/** What is dosed as its label says: it moves none of the readings that are balanced. */
const byLabel: ProductKind = pure(1, {}, "liquid", 1, 1);

/** Density of 12.5 % trade sodium hypochlorite, g/mL at 20 °C; 125 g/L available chlorine by definition of the trade percent. */
const HYPOCHLORITE_DENSITY = 1.168;

/** The table of compounds. Molar masses in g/mol; strengths and densities are the trade's usual ones. */
export const PRODUCTS = {
  "hydrochloric-acid": pure(
    36.461,
    { alkalinity: -1, chloride: 1, dissolved: 36.461 },
    "liquid",
    0.3145,
    1.16,
  ),
  "sodium-bisulfate": pure(120.06, { alkalinity: -1, dissolved: 120.06 }, "solid", 0.932, 1.4),
  "sodium-bicarbonate": pure(
    84.007,
    { alkalinity: 1, inorganicCarbon: 1, dissolved: 84.007 },
    "solid",
    0.99,
    1.0,
  ),
  "sodium-carbonate": pure(
    105.988,
    { alkalinity: 2, inorganicCarbon: 1, dissolved: 105.988 },
    "solid",
    0.99,
    1.05,
  ),
  "calcium-chloride": pure(110.98, { calcium: 1, chloride: 2, dissolved: 110.98 }, "solid", 0.77, 0.85),
  "cyanuric-acid": pure(129.075, { cyanurate: 1, dissolved: 129.075 }, "solid", 0.99, 0.85),
  "sodium-hypochlorite": chlorine(
    74.44,
    // Made from chlorine and lye, it holds a mole of salt for each mole of hypochlorite.
    { alkalinity: 1, chlorine: 1, chloride: 1, dissolved: 74.44 + 58.44 },
    "liquid",
    0.125 / HYPOCHLORITE_DENSITY,
    HYPOCHLORITE_DENSITY,
  ),
  "calcium-hypochlorite": chlorine(
    142.98,
    { alkalinity: 2, calcium: 1, chlorine: 2, dissolved: 142.98 },
    "solid",
    0.65,
    0.85,
  ),
  dichlor: chlorine(
    255.98,
    { alkalinity: 1, cyanurate: 1, chlorine: 2, dissolved: 219.95 },
    "solid",
    0.56,
    0.95,
  ),
  trichlor: chlorine(232.41, { cyanurate: 1, chlorine: 3, dissolved: 232.41 }, "solid", 0.9, null),
  // KHSO5 as the triple salt 2 KHSO5·KHSO4·K2SO4 (614.7 g for two): spent, it leaves one acid and brings half another.
  "potassium-monopersulfate": pure(152.17, { alkalinity: -1.5, dissolved: 307.4 }, "solid", 0.43, 1.15),
  // Takes one to four Cl(+1) by conditions; two agrees with the usual 1.8 g for a gram. Of four it leaves six acids,
  // of one a single one: S2O3−− + 4 HOCl + H2O → 2 SO4−− + 4 Cl− + 6 H+ against S2O3−− + HOCl → SO4−− + S + Cl− + H+;
  // between them 1 + 5/3 for the second. It does this to chlorine that it finds, and nothing without.
  "sodium-thiosulfate": pure(
    248.18,
    { alkalinity: -8 / 3, chlorine: -2, dissolved: 158.11 },
    "solid",
    0.99,
    1.0,
  ),
  "boric-acid": pure(61.83, { borate: 1, dissolved: 61.83 }, "solid", 0.99, 0.85),
  borax: pure(381.37, { alkalinity: 2, borate: 4, dissolved: 201.22 }, "solid", 0.99, 0.85),
  // For a salt cell: it goes in by the bag and moves nothing that is balanced but the solids.
  "sodium-chloride": pure(58.44, { chloride: 1, dissolved: 58.44 }, "solid", 0.99, 1.2),
  // The bank of a bromine basin: an oxidiser makes bromine of it.
  "sodium-bromide": pure(102.89, { dissolved: 102.89 }, "solid", 0.99, 1.6),
  // 1-bromo-3-chloro-5,5-dimethylhydantoin in tablets, for a feeder: HOBr and HOCl of each, two of what oxidises.
  "bromine-tablets": pure(241.47, { chlorine: 2, dissolved: 241.47 }, "solid", 0.96, null),
  // Dichlor with sodium bromide, one scoop for a hot tub: it makes its bromine as it dissolves, and leaves stabiliser.
  "bromine-granules": chlorine(
    255.98,
    { alkalinity: 1, cyanurate: 1, chlorine: 2, dissolved: 219.95 },
    "solid",
    0.46,
    0.95,
  ),
  algaecide: byLabel,
  "copper-algaecide": byLabel,
  sequestrant: byLabel,
  clarifier: byLabel,
  enzyme: byLabel,
  "phosphate-remover": byLabel,
} as const satisfies Record<string, ProductKind>;

export type ProductId = keyof typeof PRODUCTS;
export const PRODUCT_IDS = Object.keys(PRODUCTS) as ProductId[];

/** A product as it stands on the shelf: which compound, how strong. */
export interface Product {
  product: ProductId;
  /** 0…1; see `ProductKind.strengthOf`. */
  strength: number;
}

/**
 * The most available chlorine that a compound can hold, with a little for a label's rounding: Cl(+1) × 70.906
 * over its molar mass. An assay ("99 % trichlor") is no available chlorine: that much holds 90 %.
 */
const MOST_AVAILABLE: Partial<Record<ProductId, number>> = {
  // beyond a fifth by weight it does not stay dissolved
  "sodium-hypochlorite": 0.2,
  "calcium-hypochlorite": 1, // 0.992
  dichlor: 0.65, // 0.645 without its two waters, 0.554 with them
  trichlor: 0.92, // 0.915
  "bromine-granules": 0.65,
};

/**
 * Strengths that are sold, 0…1, by the labels of the trade; one outside is asked about before a dose rests on it:
 * "0.31" typed for 31 % multiplies every dose by a hundred. None for what is dosed by its label.
 */
const SOLD_AT: Partial<Record<ProductId, readonly [low: number, high: number]>> = {
  "hydrochloric-acid": [0.1, 0.38],
  "sodium-bisulfate": [0.85, 1],
  "sodium-bicarbonate": [0.95, 1],
  "sodium-carbonate": [0.95, 1],
  "calcium-chloride": [0.7, 1],
  "cyanuric-acid": [0.2, 1],
  "sodium-hypochlorite": [0.03, 0.16],
  "calcium-hypochlorite": [0.45, 0.8],
  dichlor: [0.5, 0.65],
  trichlor: [0.8, 0.92],
  "potassium-monopersulfate": [0.3, 0.5],
  "sodium-thiosulfate": [0.6, 1],
  "boric-acid": [0.95, 1],
  borax: [0.95, 1],
  "sodium-chloride": [0.95, 1],
  "sodium-bromide": [0.3, 1],
  "bromine-tablets": [0.9, 1],
  "bromine-granules": [0.3, 0.6],
};

/**
 * The strengths at which a compound is sold, where the one given lies outside them; else null.
 * @example oddStrength({ product: "hydrochloric-acid", strength: 0.0031 }) // [0.1, 0.38]
 */
export function oddStrength({ product, strength }: Product): readonly [low: number, high: number] | null {
  const sold = SOLD_AT[product];
  return sold && (strength < sold[0] || strength > sold[1]) ? sold : null;
}

/**
 * Density of a product at its strength, g/mL; a liquid's rises from water's in proportion, a powder's is
 * its bulk density; null when not known.
 *
 * @example densityOf({ product: "hydrochloric-acid", strength: 0.157 }) // 1.08
 */
export function densityOf({ product, strength }: Product): number | null {
  const { form, density, strength: usual } = PRODUCTS[product];
  return form === "liquid" && density !== null ? 1 + (density - 1) * (strength / usual) : density;
}

/**
 * Moles of the compound in a gram as sold. A chlorine product counts by its available chlorine, so
 * that the label, not the purity of one salt in it, decides: mol = strength / 70.906 / Cl(+1) per mole.
 *
 * @throws InputFault for an unknown product or a strength outside (0, 1]
 * @example molesPerGram({ product: "sodium-bicarbonate", strength: 0.99 }) // 0.011785
 */
export function molesPerGram({ product, strength }: Product): number {
  const kind: ProductKind = known("product", product, PRODUCTS);
  const share = numberWithin("strength", strength, 0.001, MOST_AVAILABLE[product] ?? 1);
  return kind.strengthOf === "available-chlorine"
    ? share / MOLAR_MASS.chlorineGas / kind.effect.chlorine
    : share / kind.molarMass;
}

/**
 * What a gram as sold does, mol (eq for alkalinity).
 * @example effectPerGram({ product: "hydrochloric-acid", strength: 0.3145 }).alkalinity // -0.0086257
 */
export function effectPerGram(product: Product): MolarEffect {
  const moles = molesPerGram(product);
  const perMole: MolarEffect = PRODUCTS[product.product].effect;
  const each = (key: keyof MolarEffect) => perMole[key] * moles;
  return {
    alkalinity: each("alkalinity"),
    inorganicCarbon: each("inorganicCarbon"),
    calcium: each("calcium"),
    cyanurate: each("cyanurate"),
    chlorine: each("chlorine"),
    borate: each("borate"),
    chloride: each("chloride"),
    dissolved: each("dissolved"),
  };
}

/** @example isProductId("borax") // true */
export const isProductId = (name: string): name is ProductId => PRODUCT_IDS.some((id) => id === name);

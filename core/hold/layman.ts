import { effectPerGram, PRODUCTS, type Product, type ProductId } from "../products/products";
import { asRead } from "../water/molar";

/** What people without training may handle, and in measures that a kitchen has. */

/** Chlorine that a layman may be given; never acid, unless the owner says so. */
export const LAYMAN_CHLORINE = ["sodium-hypochlorite", "calcium-hypochlorite", "dichlor"] as const;
/** What an owner may put on the list of what laymen are asked to dose. Acid burns, and gasses with chlorine. */
export const LAYMAN_CHOICE: readonly ProductId[] = [
  ...LAYMAN_CHLORINE,
  "sodium-bicarbonate",
  "sodium-bisulfate",
  "hydrochloric-acid",
];

/** mL of each; a spoon is a level tablespoon. */
export const SPOONS = { spoon: 15, cup: 240 } as const;
export interface Measured {
  /** In quarters of a cup or halves of a spoon. */
  count: number;
  measure: keyof typeof SPOONS;
  /** g as sold. */
  grams: number;
}

/** Spoons up to here, then cups. */
const MOST_SPOONS = 6;

/**
 * The nearest amount that can be measured out, no less than the smallest.
 * @example measuredOut("dichlor", 30) // { count: 2, measure: "spoon", grams: 28.5 }
 */
export function measuredOut(product: ProductId, grams: number): Measured {
  const density = PRODUCTS[product].density ?? 1;
  const spoons = Math.max(0.5, Math.round((2 * grams) / density / SPOONS.spoon) / 2);
  if (spoons <= MOST_SPOONS)
    return { count: spoons, measure: "spoon", grams: spoons * SPOONS.spoon * density };
  const cups = Math.max(0.5, Math.round((4 * grams) / density / SPOONS.cup) / 4);
  return { count: cups, measure: "cup", grams: cups * SPOONS.cup * density };
}

/** Chlorine as Cl2 in a gram as sold, g; none in what brings none. @example chlorineIn({ product: "dichlor", strength: 0.56 }) // 0.56 */
export const chlorineIn = (product: Product): number =>
  Math.max(0, asRead.chlorine(effectPerGram(product).chlorine) / 1000);

/** Grams as sold that raise free chlorine by so much. @example gramsFor({ product: "dichlor", strength: 0.56 }, 2, 1000) // 3.57 */
export const gramsFor = (product: Product, milligrams: number, litres: number): number =>
  (milligrams * litres) / asRead.chlorine(effectPerGram(product).chlorine);

import { InputFault, numberWithin } from "../fault";
import { basinLitres } from "../measure/units";
import { effectPerGram, PRODUCTS, type Product } from "../products/products";
import { asRead } from "../water/molar";

/**
 * What keeps its own simple rule beside the balance: bromine, and salt for a cell. Each moves one reading, in
 * proportion.
 */

/** g/mol of Br2; HOBr is told as it, as HOCl is told as Cl2. */
const BROMINE_GAS = 159.81;
/** g/mol of Cl2. One mole of HOCl makes one of HOBr where bromide is there, at once and whole. */
const CHLORINE_GAS = 70.906;

/**
 * Bromine that a gram as sold makes, g as Br2, in a water that holds bromide enough: chlorine and persulfate
 * oxidise it mole by mole, a bromine tablet brings two of its own. Sodium bromide alone makes none.
 * @example brominePerGram({ product: "sodium-hypochlorite", strength: 0.107 }) // 0.2412
 */
export function brominePerGram(product: Product): number {
  if (product.product === "potassium-monopersulfate")
    return (BROMINE_GAS * product.strength) / PRODUCTS["potassium-monopersulfate"].molarMass;
  return (asRead.chlorine(effectPerGram(product).chlorine) / 1000) * (BROMINE_GAS / CHLORINE_GAS);
}

/**
 * Grams as sold that change bromine by so much, mg/L; below zero with a reducer.
 * @throws InputFault when the product does not move bromine that way
 * @example gramsForBromine({ product: "sodium-hypochlorite", strength: 0.107 }, 2, 1500) // 12.4
 */
export function gramsForBromine(product: Product, change: number, litres: number): number {
  const wanted = numberWithin("change", change, -500, 500);
  const perGram = brominePerGram(product);
  if (wanted === 0) return 0;
  if (perGram * wanted <= 0) throw new InputFault("inconsistent", "product", product.product, "bromine");
  return (wanted * basinLitres("litres", litres)) / 1000 / perGram;
}

/**
 * Grams of salt as sold that raise it by so much, mg/L.
 * @example gramsForSalt({ product: "sodium-chloride", strength: 0.99 }, 500, 40_000) // 20202
 */
export function gramsForSalt({ product, strength }: Product, change: number, litres: number): number {
  if (product !== "sodium-chloride") throw new InputFault("inconsistent", "product", product, "salt");
  return (numberWithin("change", change, 0, 40_000) * basinLitres("litres", litres)) / 1000 / strength;
}

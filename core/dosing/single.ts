import { InputFault, numberWithin } from "../fault";
import { basinLitres } from "../measure/units";
import { addShares } from "../products/effects";
import { effectPerGram, type Product } from "../products/products";
import { chargeAt } from "../water/charge";
import { molar } from "../water/molar";
import { activity, carbonCharge, conditionsOf, type Sample, totalsOf } from "../water/sample";

/**
 * The amount of one product for one reading, by mole balance, whatever it does to the others.
 * Amounts are grams as sold.
 */

/** Readings that one product raises in proportion, and the total that each counts. */
const RAISED_BY = {
  freeChlorine: { total: "chlorine", moles: molar.chlorine },
  calciumHardness: { total: "calcium", moles: molar.calcium },
  cyanuricAcid: { total: "cyanurate", moles: molar.cyanurate },
  totalAlkalinity: { total: "alkalinity", moles: molar.alkalinity },
} as const;

export type Proportional = keyof typeof RAISED_BY;

/**
 * Grams that change a reading by `change` mg/L: moles wanted / moles a gram brings.
 * Alkalinity may be lowered by an acid (change below zero); nothing lowers the others.
 *
 * @param change mg/L of the reading
 * @param litres of the basin
 * @throws InputFault when the product does not move this reading that way
 * @example gramsForChange({ product: "sodium-bicarbonate", strength: 1 }, "totalAlkalinity", 10, 10_000) // 167.9
 */
export function gramsForChange(
  product: Product,
  reading: Proportional,
  change: number,
  litres: number,
): number {
  const wanted = numberWithin("change", change, -5000, 5000);
  const volume = basinLitres("litres", litres);
  const { total, moles } = RAISED_BY[reading];
  const perGram = effectPerGram(product)[total];
  if (wanted === 0) return 0;
  if (perGram * wanted <= 0) throw new InputFault("inconsistent", "product", product.product, reading);
  return (moles(wanted) * volume) / perGram;
}

/**
 * Grams that bring the pH to `target`. At a fixed pH the charge is linear in the totals, so with
 * alkalinity +a and carbon +d per mole the amount follows at once:
 * n = (charge at target − Alk) / (a − d·z), z the mean carbon charge at the target. The salts that come
 * along shift the constants a little: a few more rounds at the water that results meet the target.
 *
 * @param sample all readings of the water now
 * @returns grams as sold, zero or more
 * @throws InputFault when the product moves the pH the other way
 */
export function gramsForPh(product: Product, sample: Sample, target: number, litres: number): number {
  numberWithin("targetPh", target, 6.5, 8.5);
  const volume = basinLitres("litres", litres);
  const start = totalsOf(sample);
  const effect = effectPerGram(product);
  const { alkalinity, inorganicCarbon, chlorine, cyanurate, calcium } = effect;
  if (chlorine !== 0 || cyanurate !== 0 || calcium !== 0)
    throw new InputFault("inconsistent", "product", product.product, "ph");
  let grams = 0;
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const totals = { ...start };
    addShares(totals, [effect], [grams / volume]);
    const conditions = conditionsOf(totals);
    const gap = chargeAt(conditions, totals, activity(target)).charge - totals.alkalinity;
    const perGram = alkalinity - inorganicCarbon * carbonCharge(conditions, target);
    if (Math.abs(gap) < 1e-15) break;
    if (round === 0 && gap * perGram <= 0)
      throw new InputFault("inconsistent", "product", product.product, target);
    grams = Math.max(0, grams + (gap / perGram) * volume);
  }
  return grams;
}

const MOST_ROUNDS = 8;

/**
 * Free chlorine that an amount brings, mg/L.
 * @param grams as sold
 * @example chlorineRaised({ product: "calcium-hypochlorite", strength: 0.65 }, 308, 40_000) // 5.0
 */
export const chlorineRaised = (product: Product, grams: number, litres: number): number =>
  (effectPerGram(product).chlorine * grams) / molar.chlorine(1) / litres;

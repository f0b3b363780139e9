import {
  gramsFrom,
  litresFrom,
  massIn,
  type ProductId,
  productForm,
  UNIT_SYSTEMS,
  type UnitSystem,
  volumeIn,
} from "#core";
import { everydayUnit, numberText } from "../words";

/** A product as it is counted on a shelf or a truck. */
export interface Counted {
  product: ProductId;
  /** g/mL; null for what is weighed. */
  density: number | null;
}

interface StockUnit {
  name: string;
  fromGrams: (grams: number) => number;
  toGrams: (amount: number) => number;
}

/** In what a stock is counted: what is poured by volume, for nobody weighs a jug, and the rest by weight. */
export function stockUnit({ product, density }: Counted, units: UnitSystem): StockUnit {
  const { doses } = UNIT_SYSTEMS[units];
  if (productForm(product).form === "liquid" && density !== null) {
    const unit = doses === "us" ? "us-gal" : "L";
    return {
      name: everydayUnit(doses === "us" ? "gal" : "L"),
      fromGrams: (grams) => volumeIn(grams / 1000 / density, unit),
      toGrams: (amount) => litresFrom(amount, unit) * 1000 * density,
    };
  }
  const unit = doses === "us" ? "lb" : "kg";
  return {
    name: everydayUnit(unit),
    fromGrams: (grams) => massIn(grams, unit),
    toGrams: (amount) => gramsFrom(amount, unit),
  };
}

/** A stock as somebody reads it off the shelf, to three figures. @example stockText(bleach, 11_600, "us") // "2.64 gal" */
export function stockText(product: Counted, grams: number, units: UnitSystem): string {
  const unit = stockUnit(product, units);
  return `${numberText(Number(unit.fromGrams(grams).toPrecision(3)), 2)} ${unit.name}`;
}

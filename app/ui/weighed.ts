import {
  everydayAmount,
  gramsFrom,
  massIn,
  millilitresFrom,
  millilitresIn,
  type ProductForm,
  UNIT_SYSTEMS,
  type UnitSystem,
} from "#core";
import { everydayUnit } from "../words";

/** The plain unit in which an amount given is typed. */
export interface Weighed {
  name: string;
  fromGrams: (grams: number, density: number | null) => number;
  toGrams: (amount: number, density: number | null) => number;
}

/** The unit for an amount of this size, in the firm's system; what is told in grams or mL is typed so. */
export function weighed(form: ProductForm, units: UnitSystem, grams: number): Weighed {
  const told = everydayAmount(grams, form, units).parts[0]?.unit;
  const isMetric = UNIT_SYSTEMS[units].doses === "metric" || told === "g" || told === "mL";
  if (form.form === "solid") {
    const unit = isMetric ? "g" : grams < 2 * gramsFrom(1, "lb") ? "oz" : "lb";
    return {
      name: everydayUnit(unit),
      fromGrams: (mass) => massIn(mass, unit),
      toGrams: (amount) => gramsFrom(amount, unit),
    };
  }
  const unit = isMetric ? "mL" : "fl oz";
  return {
    name: everydayUnit(isMetric ? "mL" : "fl-oz"),
    fromGrams: (mass, density) => millilitresIn(mass / (density ?? 1), unit),
    toGrams: (amount, density) => millilitresFrom(amount, unit) * (density ?? 1),
  };
}

import { gramsFrom, massIn, millilitresFrom, millilitresIn, UNIT_SYSTEMS, type UnitSystem } from "#core";
import { everydayUnit } from "../words";

/** The plain unit in which an amount given is typed. */
export interface Weighed {
  name: string;
  fromGrams: (grams: number, density: number | null) => number;
  toGrams: (amount: number, density: number | null) => number;
}

/** The unit for an amount of this size, in the firm's system. */
export function weighed(form: "liquid" | "solid", units: UnitSystem, grams: number): Weighed {
  const { doses } = UNIT_SYSTEMS[units];
  if (form === "solid") {
    const unit = doses === "metric" ? "g" : grams < 2 * gramsFrom(1, "lb") ? "oz" : "lb";
    return {
      name: everydayUnit(unit),
      fromGrams: (mass) => massIn(mass, unit),
      toGrams: (amount) => gramsFrom(amount, unit),
    };
  }
  const unit = doses === "us" ? "fl oz" : "mL";
  return {
    name: everydayUnit(doses === "us" ? "fl-oz" : "mL"),
    fromGrams: (mass, density) => millilitresIn(mass / (density ?? 1), unit),
    toGrams: (amount, density) => millilitresFrom(amount, unit) * (density ?? 1),
  };
}

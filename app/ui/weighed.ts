import { gramsFrom, massIn, millilitresFrom, millilitresIn } from "#core";
import { everydayUnit } from "../words";

/** The plain unit in which an amount given is typed. */
export interface Weighed {
  name: string;
  fromGrams: (grams: number, density: number | null) => number;
  toGrams: (amount: number, density: number | null) => number;
}

/** The unit for an amount of this size, in the firm's system. */
export function weighed(form: "liquid" | "solid", units: "us" | "metric", grams: number): Weighed {
  if (form === "solid") {
    const unit = units === "metric" ? "g" : grams < 2 * gramsFrom(1, "lb") ? "oz" : "lb";
    return {
      name: everydayUnit(unit),
      fromGrams: (mass) => massIn(mass, unit),
      toGrams: (amount) => gramsFrom(amount, unit),
    };
  }
  const unit = units === "us" ? "fl oz" : "mL";
  return {
    name: everydayUnit(units === "us" ? "fl-oz" : "mL"),
    fromGrams: (mass, density) => millilitresIn(mass / (density ?? 1), unit),
    toGrams: (amount, density) => millilitresFrom(amount, unit) * (density ?? 1),
  };
}

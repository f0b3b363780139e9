import type { UnitSystem } from "#core";
import { productName, quantityName, type Writers } from "../words";
import { hoursText, massText, plain, signed, toldLimit, withUnit } from "./format";
import { useFirm } from "./use-firm";

/** Numbers with their units, as the member has them. @param given others: the firm's, in what a customer reads */
export function useWriters(given?: UnitSystem): Writers {
  const own = useFirm().units;
  const units = given ?? own;
  return {
    value: (quantity, value) => withUnit(quantity, value, units),
    limit: (quantity, value) => withUnit(quantity, toldLimit(quantity, value), units),
    name: quantityName,
    signed,
    plain,
    mass: (grams) => massText(grams, units),
    days: (days) => hoursText(days * 24),
    product: (one) => productName(one.product),
  };
}

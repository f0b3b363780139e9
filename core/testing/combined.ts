import { InputFault } from "../fault";
import { type Measurement, tidy } from "../measure/quantity";

/**
 * Combined chlorine from a total and a free reading: CC = TC − FC. A total under the free reading
 * cannot be; it is refused when even the brackets do not overlap.
 */
export function combinedFrom(total: Measurement, free: Measurement): Measurement {
  const totalHigh = total.high ?? Number.POSITIVE_INFINITY;
  const freeLow = free.low ?? 0;
  if (total.value < free.value && totalHigh <= freeLow)
    throw new InputFault("inconsistent", "totalChlorine", total.value, free.value);
  const value = Math.max(0, tidy(total.value - free.value));
  const low = tidy(Math.max(0, (total.low ?? 0) - (free.high ?? free.value)));
  if (total.bound === "at-least") return { value, unit: "mg/L", low, high: null, bound: "at-least" };
  return { value, unit: "mg/L", low, high: tidy(Math.max(value, totalHigh - freeLow)), bound: "within" };
}

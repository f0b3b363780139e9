import { numberWithin } from "../fault";
import { type Measurement, QUANTITIES, type Quantity, tidy } from "../measure/quantity";
import type { MeterMethod } from "./kit";

/**
 * A number read off an instrument, bracketed by its stated accuracy.
 * @param value as the display shows it
 * @param dilution how many times the sample was diluted: number and bracket are multiplied by it
 */
export function readMeter(
  method: Pick<MeterMethod, "quantity" | "accuracy" | "relative">,
  value: unknown,
  dilution = 1,
): Measurement {
  const { unit, low, high } = QUANTITIES[method.quantity];
  const read = numberWithin(method.quantity, value, low, high);
  const error = Math.max(method.accuracy, (method.relative ?? 0) * read);
  return {
    value: tidy(read * dilution),
    unit,
    low: tidy(Math.max(low, read - error) * dilution),
    high: tidy((read + error) * dilution),
    bound: "within",
  };
}

/**
 * Checks that a result can be a reading of pool water at all; returns it unchanged.
 * A bound that lies off the scale is as impossible as a number.
 */
export function plausible(quantity: Quantity, measured: Measurement): Measurement {
  const { low, high } = QUANTITIES[quantity];
  numberWithin(quantity, measured.value, low, high);
  return measured;
}

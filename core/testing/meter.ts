import { numberWithin } from "../fault";
import { type Measurement, QUANTITIES, type Quantity, tidy } from "../measure/quantity";
import type { MeterMethod } from "./kit";

/** A number read off an instrument, bracketed by its stated accuracy. */
export function readMeter(
  method: Pick<MeterMethod, "quantity" | "accuracy" | "relative">,
  value: unknown,
): Measurement {
  const { unit, low, high } = QUANTITIES[method.quantity];
  const read = numberWithin(method.quantity, value, low, high);
  const error = Math.max(method.accuracy, (method.relative ?? 0) * read);
  return {
    value: tidy(read),
    unit,
    low: tidy(Math.max(low, read - error)),
    high: tidy(read + error),
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

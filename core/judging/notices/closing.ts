import type { Quantity } from "../../measure/quantity";
import type { Sanitiser } from "../../measure/sanitiser";
import type { Range } from "../../ranges/range-set";
import { type Bathing, testsThatOpen } from "../bathing";
import type { Notice } from "./notice";

/**
 * What keeps bathers out, and the tests that let them in again: sanitiser and pH inside their ranges, and
 * whatever else closed the basin. What may not be left as it is stands beside it.
 */
export function closing(
  bathing: Bathing,
  sanitiser: Sanitiser,
  ranges: Partial<Record<Quantity, Range>>,
): Notice[] {
  const urgent = bathing.urgent.map((trouble): Notice => ({ code: "basin.urgent", trouble }));
  const { state, because } = bathing;
  if (state !== "closed" && state !== "untested") return urgent;
  const reopens = testsThatOpen(bathing, sanitiser).flatMap((quantity) => {
    const range = ranges[quantity];
    const low = range?.low ?? range?.closeBelow ?? null;
    const high = range?.high ?? range?.closeAbove ?? null;
    return low === null && high === null ? [] : [{ quantity, low, high }];
  });
  return [
    state === "closed"
      ? { code: "basin.closed", because, reopens }
      : { code: "basin.untested", because, reopens },
    ...urgent,
  ];
}

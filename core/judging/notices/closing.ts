import type { Quantity } from "../../measure/quantity";
import type { Range } from "../../ranges/range-set";
import type { Finding } from "../findings";
import type { Notice } from "./notice";

/**
 * The basin is closed while any finding closes it; it reopens once free chlorine and pH, and whatever
 * else closed it, read inside their ranges.
 */
export function closing(findings: readonly Finding[], ranges: Partial<Record<Quantity, Range>>): Notice[] {
  const because = findings.filter((finding) => finding.closes);
  if (because.length === 0) return [];
  const wanted = new Set<Quantity>([...because.map((finding) => finding.quantity), "freeChlorine", "ph"]);
  return [
    {
      code: "basin.closed",
      because: because.map((finding) => finding.code),
      reopens: [...wanted].flatMap((quantity) => {
        const range = ranges[quantity];
        return range ? [{ quantity, low: range.low ?? null, high: range.high ?? null }] : [];
      }),
    },
  ];
}

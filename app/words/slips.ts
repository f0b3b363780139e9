import type { Slip } from "#core";
import { words } from "./language";
import { shipped } from "./names";
import { numberText } from "./numbers";

const percent = (share: number): string => numberText(Math.abs(100 * share), 0);

/** What was wrong at the practice bench, and why it matters. */
export function slipText(slip: Slip): [what: string, why: string] {
  const said = words.slips;
  switch (slip.code) {
    case "over-filled":
    case "under-filled":
      return [said[slip.code].what({ share: percent(slip.share) }), said[slip.code].why];
    case "heaped":
    case "scant":
      return [
        said[slip.code].what({ reagent: shipped(slip.reagent), share: percent(slip.share) }),
        said[slip.code].why,
      ];
    case "wrong-amount":
      return [
        said[slip.code].what({ reagent: shipped(slip.reagent), given: slip.given, amount: slip.amount }),
        said[slip.code].why,
      ];
    case "left-out":
    case "wrong-order":
    case "wrong-reagent":
    case "not-mixed":
      return [said[slip.code].what({ reagent: shipped(slip.reagent) }), said[slip.code].why];
    case "shaken":
    case "not-swirled":
    case "sun":
    case "tinted":
      return [said[slip.code].what, said[slip.code].why];
    case "too-short":
      return [
        said[slip.code].what({
          reagent: shipped(slip.reagent),
          seconds: Math.round(slip.seconds),
          wanted: slip.wanted,
        }),
        said[slip.code].why,
      ];
    case "slanted":
      return [
        said[slip.code].what({ angle: Math.round(slip.angle) }),
        said[slip.code].why({ share: percent(slip.share) }),
      ];
    case "waited":
      return [said[slip.code].what({ minutes: Math.round(slip.seconds / 60) }), said[slip.code].why];
    case "past-end":
    case "short-of-end":
      return [said[slip.code].what({ drops: slip.drops }), said[slip.code].why];
    case "miscounted":
      return [said[slip.code].what({ fell: slip.fell, counted: slip.counted }), said[slip.code].why];
  }
}

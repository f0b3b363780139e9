import type { Quantity, Readings } from "../../measure/quantity";
import type { Sanitiser } from "../../measure/sanitiser";
import type { Range, RangeSet } from "../../ranges/range-set";
import { demandNotices } from "../../reading/demand-model";
import type { WaterBalance } from "../balance";
import type { Bathing } from "../bathing";
import type { Finding } from "../findings";
import { type CauseInput, causes } from "./causes";
import { chlorineAgainstStabiliser } from "./chlorine";
import { closing } from "./closing";
import { cell, heat } from "./heat";
import { inOrder, type Notice } from "./notice";
import { saturated } from "./saturated";
import { traces } from "./traces";

export * from "./notice";
export { USUAL_WINDOW } from "./saturated";

export interface NoticeInput extends Omit<CauseInput, "readings"> {
  findings: readonly Finding[];
  /** Today's. */
  readings: Readings;
  /** Not tested today, with their age. */
  carried: readonly { quantity: Quantity; value: number; daysAgo: number }[];
  balance: WaterBalance | null;
  bathing: Bathing;
  set: RangeSet;
  ranges: Partial<Record<Quantity, Range>>;
  litres: number;
  /** pH that a drop of the demand test is titrated to; null when none was made. */
  demandTarget: number | null;
}

/** Everything the water and its log say beyond single readings, what must be done first foremost. */
export function noticesOf(input: NoticeInput): Notice[] {
  const { readings, carried, balance, set, ranges, litres, sanitiser } = input;
  return inOrder([
    ...closing(input.bathing, sanitiser, ranges),
    ...heat(readings.temperature),
    ...cell(sanitiser, readings.salt, ranges.salt?.low, readings.temperature),
    ...otherSanitiser(readings, sanitiser),
    ...traces(readings, ranges),
    ...(balance ? chlorineAgainstStabiliser(balance.water, set, sanitiser === "salt-cell") : []),
    ...(balance ? saturated(balance, set, litres) : []),
    ...(balance && input.demandTarget !== null
      ? demandNotices(balance.water, balance.spreads, readings, input.demandTarget)
      : []),
    ...causes({ ...input, readings: withCarried(readings, carried) }),
    ...bounded(readings),
    ...carried.map((one): Notice => ({ code: "reading.carried", ...one })),
  ]);
}

/** Chlorine that was read in a bromine basin, or the other way round. */
const otherSanitiser = (readings: Readings, sanitiser: Sanitiser): Notice[] =>
  (sanitiser === "bromine"
    ? (["freeChlorine", "combinedChlorine"] as const)
    : (["bromine"] as const)
  ).flatMap((quantity) => {
    const reading = readings[quantity];
    return reading ? [{ code: "reading.other-sanitiser" as const, quantity, value: reading.value }] : [];
  });

const bounded = (readings: Readings): Notice[] =>
  (Object.entries(readings) as [Quantity, NonNullable<Readings[Quantity]>][]).flatMap(
    ([quantity, { value, bound }]) =>
      bound === "within" ? [] : [{ code: "reading.bounded", quantity, value, bound }],
  );

const withCarried = (readings: Readings, carried: NoticeInput["carried"]): Readings => ({
  ...Object.fromEntries(
    carried.map(({ quantity, value }) => [
      quantity,
      { value, unit: "mg/L", low: value, high: value, bound: "within" },
    ]),
  ),
  ...readings,
});

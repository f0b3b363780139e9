import type { Quantity, Readings } from "../../measure/quantity";
import type { Range, RangeSet } from "../../ranges/range-set";
import { demandNotices } from "../../reading/demand-model";
import type { WaterBalance } from "../balance";
import type { Finding } from "../findings";
import { type CauseInput, causes } from "./causes";
import { chlorineAgainstStabiliser } from "./chlorine";
import { closing } from "./closing";
import { inOrder, type Notice } from "./notice";
import { saturated } from "./saturated";

export * from "./notice";
export { USUAL_WINDOW } from "./saturated";

export interface NoticeInput extends Omit<CauseInput, "readings"> {
  findings: readonly Finding[];
  /** Today's. */
  readings: Readings;
  /** Not tested today, with their age. */
  carried: readonly { quantity: Quantity; value: number; daysAgo: number }[];
  balance: WaterBalance | null;
  set: RangeSet;
  ranges: Partial<Record<Quantity, Range>>;
  litres: number;
  /** pH that a drop of the demand test is titrated to; null when none was made. */
  demandTarget: number | null;
}

/** Everything the water and its log say beyond single readings, what must be done first foremost. */
export function noticesOf(input: NoticeInput): Notice[] {
  const { findings, readings, carried, balance, set, ranges, litres, sanitiser } = input;
  return inOrder([
    ...closing(findings, ranges),
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

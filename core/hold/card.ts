import type { LoggedDose, LoggedReading, LoggedVisit } from "../learning/log";
import type { Product } from "../products/products";
import { addDays, daysBetween } from "../schedule/days";

/** The card by the water: a dose between the calls, on its days, and what the people there say of it. */

export interface CardContent extends Product {
  /** g as sold, each time. */
  grams: number;
  /** After so many days without a call, again and again. */
  everyDays: number;
  /** What the people there read, as their site had it when the card was made; null as their browser asks. */
  language?: string | null;
}

/** Days between two doses that a card may ask for; half a day is morning and evening. */
export const CARD_DAYS = [0.5, 1, 2, 3, 4, 7] as const;

/** What somebody there said. Of a dose that it was given; of a strip what it read. */
export interface CardEntry {
  kind: "given" | "strip";
  /** The dose or the day that it is said of, as `slotsBetween` names it. */
  slot: string;
  /** ms since 1970 */
  at: number;
  /** mg/L and pH of a strip. */
  read: Partial<Record<StripQuantity, number>>;
}

/** What a strip tells well enough to be kept. */
export const STRIP_QUANTITIES = ["freeChlorine", "ph"] as const;
export type StripQuantity = (typeof STRIP_QUANTITIES)[number];
export const STRIP_LIMITS = { freeChlorine: { low: 0, high: 20 }, ph: { low: 6, high: 9 } } as const;

/** A dose that is due: on a day, and twice a day in a half of it. */
export interface Slot {
  /** As 2026-05-01, or 2026-05-01 am. */
  name: string;
  day: string;
  half: "am" | "pm" | null;
}

/**
 * The doses that are due after a call, day by day, and before the next.
 * @param last day of the call before; null where there was none yet: the first dose is due on `from`
 * @example slotsAfter("2026-05-04", 2, "2026-05-11").map(({ day }) => day) // ["2026-05-06", "2026-05-08", "2026-05-10"]
 */
export function slotsAfter(last: string, everyDays: number, before: string): Slot[] {
  const days = daysBetween(last, before);
  if (everyDays < 1) {
    const halves: Slot[] = [slotOf(last, "pm")];
    for (let away = 1; away < days; away++)
      halves.push(slotOf(addDays(last, away), "am"), slotOf(addDays(last, away), "pm"));
    return days > 0 ? halves : [];
  }
  const slots: Slot[] = [];
  for (let away = everyDays; away < days; away += everyDays)
    slots.push(slotOf(addDays(last, Math.round(away)), null));
  return slots;
}

const slotOf = (day: string, half: Slot["half"]): Slot => ({
  name: half ? `${day} ${half}` : day,
  day,
  half,
});

/**
 * The doses that are due from one day to another, both ends included, with calls on these days.
 * @param madeOn the day on which the card was made: nothing is due before
 * @example slotsBetween(2, { from: "2026-05-04", to: "2026-05-08", madeOn: "2026-05-04", calls: [] }).length // 2
 */
export function slotsBetween(
  everyDays: number,
  { from, to, madeOn, calls }: { from: string; to: string; madeOn: string; calls: readonly string[] },
): Slot[] {
  const all = [...new Set([madeOn, ...calls.filter((day) => day >= madeOn)])].sort();
  return all
    .flatMap((day, index) => slotsAfter(day, everyDays, all[index + 1] ?? addDays(to, 1)))
    .filter(({ day }) => day >= from && day <= to);
}

/** A dose that was said to be given; and one of which nobody said a word: it may have been. */
const SAID = 0.98;
const UNSAID = 0.5;
/** Of a strip, by its colours: a share of the chlorine, at least so many mg/L; and of the pH. */
const STRIP_SHARE = 0.4;
const STRIP_CHLORINE = 1;
const STRIP_PH = 0.4;

/**
 * What a card brings to a log: doses with how likely each was given, and strips with their own wide scatter.
 * @param slots that are past, each with its moment where nobody said another, ms since 1970
 * @example loggedOf({ product: "dichlor", strength: 0.56, grams: 10, everyDays: 1 }, [], []).length // 0
 */
export function loggedOf(
  card: CardContent,
  slots: readonly (Slot & { at: number })[],
  entries: readonly CardEntry[],
): LoggedVisit[] {
  const { product, strength, grams } = card;
  const given = new Map(entries.filter(({ kind }) => kind === "given").map((one) => [one.slot, one]));
  const dose = (at: number, chance: number): LoggedDose => ({ at, product, strength, grams, chance });
  const due = slots.filter(({ name }) => !given.has(name)).map(({ at }) => dose(at, UNSAID));
  const said = [...given.values()].map(({ at }) => dose(at, SAID));
  return [
    ...[...due, ...said].map((one): LoggedVisit => ({ at: one.at, readings: [], doses: [one] })),
    ...entries
      .filter(({ kind }) => kind === "strip")
      .map(({ at, read }): LoggedVisit => ({ at, readings: stripReadings(read), doses: [] })),
  ].sort((a, b) => a.at - b.at);
}

function stripReadings({ freeChlorine, ph }: CardEntry["read"]): LoggedReading[] {
  const readings: LoggedReading[] = [];
  if (freeChlorine !== undefined) {
    const off = Math.max(STRIP_CHLORINE, STRIP_SHARE * freeChlorine);
    readings.push({
      quantity: "freeChlorine",
      value: freeChlorine,
      low: Math.max(0, freeChlorine - off),
      high: freeChlorine + off,
    });
  }
  if (ph !== undefined) readings.push({ quantity: "ph", value: ph, low: ph - STRIP_PH, high: ph + STRIP_PH });
  return readings;
}

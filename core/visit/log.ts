import { millisecondsInDay, millisecondsInHour } from "date-fns/constants";
import type { BottleState, LogView } from "../doubts/context";
import { type ForecastPoint, pointAt } from "../learning/outlook";
import { isLabelled, LABELLED } from "../products/labels";
import { dayIn, daysBetween } from "../schedule/days";
import { leftIn, ofLastSeason } from "../testing/reagents";
import type { Brought, Firm, ShelfBottle } from "./brought";
import type { Written } from "./written";

/** What the log knows at this moment for the tests of a visit. */
export function logView(brought: Brought, written: Written, now: Date): LogView {
  const { firm, visit, earlier, dosesBefore, products, shifts } = brought;
  const since = (at: Date, unit: number) => (now.getTime() - at.getTime()) / unit;
  const own = written.doses.flatMap(({ productId, givenGrams, givenAt }) => {
    const product = products.find(({ id }) => id === productId);
    return product && givenGrams > 0
      ? [
          {
            product: product.product,
            strength: product.strength,
            grams: givenGrams,
            litres: visit.litres,
            givenAt,
          },
        ]
      : [];
  });
  return {
    last: Object.fromEntries(
      earlier.map((reading) => [
        reading.quantity,
        { ...reading, daysAgo: Math.max(0, since(reading.takenAt, millisecondsInDay)) },
      ]),
    ),
    doses: [...own, ...dosesBefore]
      .sort((a, b) => b.givenAt.getTime() - a.givenAt.getTime())
      .map(({ givenAt, ...dose }) => ({ ...dose, hoursAgo: since(givenAt, millisecondsInHour) })),
    look: written.look,
    bottles: bottleStates(firm, bottlesNow(brought, written), now),
    metalsSeen:
      brought.metalsSeen ||
      written.readings.some(({ observation: seen }) => isAhead(seen)) ||
      [...own, ...dosesBefore].some(({ product }) => isLabelled(product) && LABELLED[product].copper),
    shifts,
    // What was dosed here makes another water of it, and that is the plan's to promise.
    expected: own.length > 0 ? {} : figuresOf(pointAt(brought.learned?.forecast ?? [], now.getTime())),
    habits: brought.learned?.habits ?? null,
  };
}

const figuresOf = (point: ForecastPoint | null): LogView["expected"] => {
  const { at: _, ...figures } = point ?? { at: 0 };
  return figures;
};

const isAhead = (seen: Written["readings"][number]["observation"]): boolean =>
  seen.kind === "drops" && (seen.ahead ?? 0) > 0;

/** The bottles with what this visit took out of them. */
export const bottlesNow = ({ bottles }: Brought, { uses }: Pick<Written, "uses">): ShelfBottle[] =>
  bottles.map((bottle) => ({
    ...bottle,
    used: uses.reduce((sum, use) => (use.bottleId === bottle.id ? sum + use.amount : sum), bottle.used),
  }));

/**
 * The bottles in use, one for each reagent: the one opened first that still holds something.
 * @example bottleStates({ timeZone: "UTC", seasonStart: "04-01" }, [], at).length // 0
 */
export function bottleStates(
  { timeZone, seasonStart }: Pick<Firm, "timeZone" | "seasonStart">,
  bottles: readonly ShelfBottle[],
  now: Date,
): BottleState[] {
  const today = dayIn(now, timeZone);
  const names = new Set(bottles.flatMap(({ reagent, openedOn }) => (openedOn === null ? [] : [reagent])));
  return [...names].flatMap((reagent) => {
    const bottle = bottleInUse(bottles, reagent);
    return bottle
      ? [
          {
            reagent,
            daysExpired: bottle.expiresOn ? daysBetween(bottle.expiresOn, today) : null,
            lastSeason: ofLastSeason(bottle.openedOn, today, seasonStart),
            left: leftIn(bottle),
          },
        ]
      : [];
  });
}

/**
 * The bottle of a reagent that a test takes from; undefined where none was opened.
 * @example bottleInUse([], "acid titrant") // undefined
 */
export function bottleInUse(bottles: readonly ShelfBottle[], reagent: string): ShelfBottle | undefined {
  const own = bottles.filter((bottle) => bottle.reagent === reagent && bottle.openedOn !== null);
  return own.find((one) => leftIn(one) > 0) ?? own.at(-1);
}

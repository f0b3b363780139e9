import type { Quantity } from "../measure/quantity";
import type { Range } from "../ranges/range-set";
import type { Figure } from "../uncertainty/figure";
import { NINE_IN_TEN, NINETY, normalUnder } from "../uncertainty/normal";
import { LEARNED, type Learned } from "./log";

/** The water as it is expected at a moment, ms since 1970. */
export type ForecastPoint = { at: number } & Partial<Record<Learned, Figure>>;

/** An edge that a reading will pass, more likely than not. */
export interface Crossing {
  quantity: Learned;
  edge: "low" | "high";
  limit: number;
  /** From when on it is likelier beyond the edge than not, ms since 1970. */
  at: number;
  /** How likely it is at worst, 0.5…1. */
  chance: number;
}

/** From this chance on an edge is said to be passed. */
const LIKELY = 0.5;

/**
 * How likely a number lies under a limit. A figure that was cut off at nothing has its scatter above.
 * @example chanceUnder({ value: 2, low: 1, high: 3 }, 2) // 0.5
 */
export function chanceUnder({ value, low, high }: Figure, limit: number): number {
  const half = Math.max(high - value, value - low);
  if (half <= 0) return value < limit ? 1 : 0;
  return normalUnder((limit - value) / (half / NINETY));
}

/**
 * What is expected of a reading at a moment, between the two points around it; null outside the forecast.
 * @example figureAt([{ at: 0, ph: { value: 7, low: 6.9, high: 7.1 } }, { at: 2, ph: { value: 8, low: 7.7, high: 8.3 } }], "ph", 1)?.value // 7.5
 */
export function figureAt(forecast: readonly ForecastPoint[], quantity: Learned, at: number): Figure | null {
  const after = forecast.findIndex((point) => point.at >= at);
  const [before, next] = [forecast[after - 1], forecast[after]];
  if (next?.at === at) return next[quantity] ?? null;
  const [from, to] = [before?.[quantity], next?.[quantity]];
  if (!before || !next || !from || !to) return null;
  const share = (at - before.at) / (next.at - before.at);
  const between = (a: number, b: number) => a + share * (b - a);
  return {
    value: between(from.value, to.value),
    low: between(from.low, to.low),
    high: between(from.high, to.high),
  };
}

/**
 * What is expected of every reading at a moment; null where nothing is.
 * @example pointAt([], 0) // null
 */
export function pointAt(forecast: readonly ForecastPoint[], at: number): ForecastPoint | null {
  const point: ForecastPoint = { at };
  for (const quantity of LEARNED) {
    const figure = figureAt(forecast, quantity, at);
    if (figure) point[quantity] = figure;
  }
  return Object.keys(point).length > 1 ? point : null;
}

/**
 * The edges that readings will pass by a day, the likeliest first.
 * @param until ms since 1970: the next call
 * @example crossingsBefore([{ at: 5, ph: { value: 8, low: 7.9, high: 8.1 } }], { ph: { low: 7.2, high: 7.8 } }, 9)[0]?.edge // "high"
 */
export function crossingsBefore(
  forecast: readonly ForecastPoint[],
  ranges: Partial<Record<Quantity, Range>>,
  until: number,
): Crossing[] {
  const crossings = LEARNED.flatMap((quantity) =>
    (["low", "high"] as const).flatMap((edge) => {
      const limit = ranges[quantity]?.[edge];
      const found = limit === undefined ? null : passing(forecast, quantity, edge, limit, until);
      return limit === undefined || !found ? [] : [{ quantity, edge, limit, ...found }];
    }),
  );
  return crossings.sort((a, b) => b.chance - a.chance || a.at - b.at);
}

/** When and how likely a reading is beyond an edge; null while that is not likelier than not. */
function passing(
  forecast: readonly ForecastPoint[],
  quantity: Learned,
  edge: "low" | "high",
  limit: number,
  until: number,
): Pick<Crossing, "at" | "chance"> | null {
  let at: number | null = null;
  let most = 0;
  let before: { at: number; chance: number } | null = null;
  for (const time of momentsOf(forecast, until)) {
    const figure = figureAt(forecast, quantity, time);
    if (!figure) continue;
    const under = chanceUnder(figure, limit);
    const chance = edge === "low" ? under : 1 - under;
    if (chance >= LIKELY && at === null)
      at = before
        ? before.at + ((LIKELY - before.chance) / (chance - before.chance)) * (time - before.at)
        : time;
    most = Math.max(most, chance);
    before = { at: time, chance };
  }
  return at === null ? null : { at, chance: most };
}

/** The points of a forecast up to a moment, and that moment. */
function momentsOf(forecast: readonly ForecastPoint[], until: number): number[] {
  const within = forecast.map(({ at }) => at).filter((at) => at <= until);
  const reaches = (forecast.at(-1)?.at ?? Number.NEGATIVE_INFINITY) >= until;
  return reaches && within.at(-1) !== until ? [...within, until] : within;
}

/**
 * How much a water that passes an edge wants somebody: chlorine under its floor makes people ill, acid and
 * alkaline water hurts them and the basin, the rest is slow.
 */
const WEIGHT: Record<Learned, Record<Crossing["edge"], number>> = {
  freeChlorine: { low: 4, high: 1 },
  ph: { low: 2, high: 2 },
  totalAlkalinity: { low: 0.5, high: 0.5 },
  calciumHardness: { low: 0.25, high: 0.25 },
  cyanuricAcid: { low: 0.25, high: 0.25 },
};

/**
 * How much a basin wants to be called at, to put a day in order; 0 where nothing is wrong or expected to be.
 * @param found what the last visit found: how many readings were out, and whether one of them closes
 * @example needOf([], { out: 0, closes: false }) // 0
 */
export const needOf = (
  crossings: readonly Crossing[],
  { out, closes }: { out: number; closes: boolean },
): number =>
  (closes ? 8 : 0) +
  0.5 * out +
  crossings.reduce((sum, { quantity, edge, chance }) => sum + WEIGHT[quantity][edge] * chance, 0);

/** More chlorine than this nobody leaves. mg/L */
const MOST_LEFT = 100;

/** What is known of a basin's chlorine on the way to a call. */
export interface ChlorineAhead {
  /** Free chlorine at the start of the forecast, mg/L. */
  now: number;
  /** What the call will find of it. */
  atCall: Figure;
  /** Share of it that is lost in a day. */
  loss: Figure;
  days: number;
}

/**
 * Free chlorine to leave so that it still stands over a floor at the call with nine chances in ten. A mg/L more
 * at the start leaves (1 − loss)^days of itself, and how sure that is hangs on how sure the loss is; what is
 * fed on the way, and its scatter, stand in the forecast.
 * @returns mg/L; null where no chlorine would do
 * @example chlorineToLeave({ now: 4, atCall: { value: 1, low: 1, high: 1 }, loss: { value: 0.5, low: 0.5, high: 0.5 }, days: 2 }, 2) // 8
 */
export function chlorineToLeave({ now, atCall, loss, days }: ChlorineAhead, floor: number): number | null {
  const kept = Math.max(1e-3, 1 - loss.value);
  const stays = kept ** days;
  const unsure = (stays * days * (loss.high - loss.low)) / (2 * NINETY * kept);
  const spread = (atCall.high - atCall.value) / NINETY;
  // What stands there nine times in ten, of so much left.
  const least = (left: number): number =>
    atCall.value + stays * (left - now) - NINE_IN_TEN * Math.hypot(spread, unsure * (left - now));
  if (least(MOST_LEFT) < floor) return null;
  let [low, high] = [0, MOST_LEFT];
  while (high - low > 1e-9) {
    const middle = (low + high) / 2;
    if (least(middle) < floor) low = middle;
    else high = middle;
  }
  return Math.max(floor, high);
}

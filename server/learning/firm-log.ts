import { millisecondsInDay } from "date-fns/constants";
import {
  type Basin,
  dayIn,
  daylightHours,
  type FeederSetting,
  type FirmLog,
  type FreshWater,
  feederKindOf,
  isProductId,
  isQuantity,
  type LoggedDose,
  type LoggedReading,
  type LoggedVisit,
  locationOf,
  mixesLike,
  nextCall,
  type WeatherDay,
  type WeatherOfDay,
  waterUse,
} from "#core";
import type { Delivery } from "../db/deliveries";
import type { LogRow } from "../db/learned";

/** Learned from so much of the past: what was before is another water. */
export const LOG_DAYS = 730;
/** The forecast reaches at least so far, and a point a day. */
const AHEAD_DAYS = 14;
export const MOST_AHEAD_DAYS = 30;

/**
 * The firm's book as the learner reads it, with the days ahead of each basin.
 * @param deliveries of all products, the newest first
 * @param expected the weather of the days to come, as far as a service tells it
 * @param theirs what the people at each basin gave and read
 */
export function firmLogOf(
  basins: readonly Basin[],
  rows: readonly LogRow[],
  deliveries: readonly Delivery[],
  expected: readonly WeatherDay[],
  theirs: ReadonlyMap<string, LoggedVisit[]>,
  now: Date,
  timeZone: string,
): FirmLog {
  const today = dayIn(now, timeZone);
  const location = locationOf(timeZone, now);
  const weather = new Map<string, WeatherOfDay>();
  for (const day of [...expected, ...rows.map((row) => row.weather as WeatherDay | null)])
    if (day) weather.set(day.day, weatherOf(day, location));
  return {
    basins: basins.map((basin) => ({
      id: basin.id,
      kind: mixesLike(basin.kind),
      outdoors: !basin.indoors,
      feeder: feederKindOf(basin),
      litres: basin.litres,
      fill: {
        ...(basin.site.fillAlkalinity === null ? {} : { totalAlkalinity: basin.site.fillAlkalinity }),
        ...(basin.site.fillHardness === null ? {} : { calciumHardness: basin.site.fillHardness }),
      },
      visits: [
        ...rows
          .filter((row) => row.basinId === basin.id)
          .map(greenMarked())
          .map(metered(basin.litres))
          .map(({ row, green, fresh }) => ({
            at: row.at.getTime(),
            ...(green ? { green } : {}),
            ...(row.replaced ? { replaced: row.replaced } : {}),
            ...(fresh ? { fresh } : {}),
            readings: row.readings.flatMap(readingOf),
            doses: row.doses.flatMap((dose) => doseOf(dose, deliveries, timeZone)),
          })),
        ...(theirs.get(basin.id) ?? []),
      ].sort((a, b) => a.at - b.at),
      ...settingsOf(rows.filter((row) => row.basinId === basin.id)),
      ahead: daysAhead(basin, now, today),
    })),
    weather: [...weather.values()],
    location,
  };
}

/** Tells of each row of a basin, in the order of time, whether a green pool was being cleared there. */
function greenMarked(): (row: LogRow) => { row: LogRow; green: boolean } {
  const open = new Set<string>();
  return (row) => {
    const green = (row.jobs ?? []).filter(({ kind }) => kind === "green");
    for (const { id } of green) open.add(id);
    const marked = { row, green: open.size > 0 };
    for (const { id, over } of green) if (over !== null) open.delete(id);
    return marked;
  };
}

/**
 * Tells of each row of a basin, in the order of time, the fresh water since the meter was read before. Water that
 * was replaced came through it, too, after the reading of its own visit.
 */
function metered<Marked extends { row: LogRow }>(
  litres: number,
): (marked: Marked) => Marked & { fresh: FreshWater | null } {
  let before: LogRow["meter"] = null;
  let replaced = 0;
  return (marked) => {
    const { meter, replaced: share } = marked.row;
    let fresh: FreshWater | null = null;
    if (meter) {
      const read = (one: NonNullable<LogRow["meter"]>) => ({ ...one, at: new Date(one.at).getTime() });
      const [use] = before ? waterUse([read(before), read(meter)]) : [];
      if (use) fresh = { litresADay: 1000 * use.perDay - replaced / use.days, days: use.days };
      before = meter;
      replaced = 0;
    }
    replaced += (share ?? 0) * litres;
    return { ...marked, fresh };
  };
}

/** What its feeder was left at, where somebody wrote it down. */
function settingsOf(rows: readonly LogRow[]): { settings?: FeederSetting[] } {
  const settings = rows.flatMap(({ at, feederSetting }) =>
    feederSetting === null ? [] : [{ at: at.getTime(), value: feederSetting }],
  );
  return settings.length > 0 ? { settings } : {};
}

const readingOf = ({
  quantity,
  value,
  low,
  high,
  bound,
  bottle,
}: LogRow["readings"][number]): LoggedReading[] =>
  isQuantity(quantity)
    ? [
        {
          quantity,
          value,
          low: bound === "at-most" ? Number.NEGATIVE_INFINITY : (low ?? value),
          high: bound === "at-least" ? Number.POSITIVE_INFINITY : (high ?? value),
          ...(bottle ? { lot: bottle } : {}),
        },
      ]
    : [];

/** A dose comes from the delivery that was in use on its day; what was poured before the first is of none. */
function doseOf(
  { at, productId, product, strength, grams }: LogRow["doses"][number],
  deliveries: readonly Delivery[],
  timeZone: string,
): LoggedDose[] {
  if (!isProductId(product)) return [];
  const day = dayIn(new Date(at), timeZone);
  const delivery = deliveries.find((one) => one.productId === productId && one.usedFrom <= day);
  return [{ at: Date.parse(at), product, strength, grams, ...(delivery ? { lot: delivery.id } : {}) }];
}

/** What drift needs of a day's weather: sunshine as a share of its daylight. */
export const weatherOf = (
  { day, low, high, sun }: WeatherDay,
  location: FirmLog["location"],
): WeatherOfDay => ({
  day,
  air: (low + high) / 2,
  sun: Math.min(1, Math.max(0, sun / daylightHours(Date.parse(`${day}T12:00:00Z`), location))),
});

/** Now and a time a day, to the next call and beyond it. */
function daysAhead({ calls }: Basin, now: Date, today: string): number[] {
  const next = nextCall(calls, today);
  const until = next ? (Date.parse(next) - Date.parse(today)) / millisecondsInDay : 0;
  const days = Math.min(MOST_AHEAD_DAYS, Math.max(AHEAD_DAYS, until + 1));
  return Array.from({ length: days + 1 }, (_, index) => now.getTime() + index * millisecondsInDay);
}

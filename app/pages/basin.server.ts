import { millisecondsInDay } from "date-fns/constants";
import {
  type Basin,
  chlorineToLeave,
  crossingsBefore,
  dayIn,
  type ForecastPoint,
  fillWater,
  type HabitFigures,
  type Habits,
  lastWater,
  locationOf,
  nextCall,
  noonIn,
  PROMISED,
  placeOf,
  pointAt,
  type Range,
  rangesOf,
  type Suspicion,
  setForBasin,
  surroundingsOf,
  USUAL_WINDOW,
  usualHabits,
  type VisitReading,
} from "#core";
import { isUuid } from "#server/commands/fields";
import { basinById } from "#server/db/basins";
import { reading } from "#server/db/batch";
import { cardOf, entriesOf } from "#server/db/cards";
import type { FirmScope } from "#server/db/connection";
import { dosesOfVisits, findingsOfVisits } from "#server/db/doses";
import { firmOf } from "#server/db/firms";
import { kitVersion } from "#server/db/kits";
import { type KeptLearning, learnedOf, suspicionsOf, weatherSince } from "#server/db/learned";
import { photosOfBasin } from "#server/db/photos";
import { outcomesAt } from "#server/db/plans";
import { rangeSetVersion } from "#server/db/range-sets";
import { lastReadings } from "#server/db/readings";
import { costByMonth, doseSeries, plantSeries, readingSeries } from "#server/db/series";
import type { SignedIn } from "#server/db/sessions";
import { openVisitAt, visitsOfBasin } from "#server/db/visits";
import { volumesOf } from "#server/db/volumes";
import { weatherOf } from "#server/learning/firm-log";
import { basinWater } from "#server/visits/basin-water";
import { methodsOf } from "#server/visits/methods";

/** What the pages of a basin are made of; a device takes the same along. */

const PAGE = 20;
interface BasinQuery {
  before?: Date | null;
  reader?: boolean;
}

/** The page of a basin, with its visits from the newest or from before a moment; undefined where there is none. */
export const basinPage = async (scope: FirmScope, id: string, now: Date, query: BasinQuery = {}) =>
  isUuid(id) ? reading(scope, (reads) => readBasin(reads, id, now, query)) : undefined;

async function readBasin(
  scope: FirmScope,
  id: string,
  now: Date,
  { before = null, reader = false }: BasinQuery,
) {
  const none = Promise.resolve(null);
  const [basin, visits, last, photos, open, firm, kept, suspicions, card] = await Promise.all([
    basinById(scope, id),
    visitsOfBasin(scope, id, PAGE + 1, before),
    lastReadings(scope, id, now),
    photosOfBasin(scope, id),
    openVisitAt(scope, id),
    firmOf(scope),
    reader ? none : learnedOf(scope, id),
    reader ? none : suspicionsOf(scope),
    reader ? none : cardSection(scope, id),
  ]);
  if (!basin) return undefined;
  const shown = visits.slice(0, PAGE);
  const ids = shown.map((visit) => visit.id);
  const [found, doses, kit, judged] = await Promise.all([
    findingsOfVisits(scope, ids),
    dosesOfVisits(scope, ids),
    kitVersion(scope, basin.kitId),
    judgedBy(scope, basin, last),
  ]);
  return {
    now,
    basin,
    kit: kit.name,
    learned:
      kept && suspicions
        ? habitsPage(basin, kept, suspicions, judged.ranges, { now, timeZone: firm.timeZone })
        : null,
    card: card && { ...card, laymen: firm.laymen },
    photos,
    ...judged,
    open: open ?? null,
    visits: shown.map((visit) => ({
      ...visit,
      findings: found.filter((one) => one.visitId === visit.id).map((one) => one.finding),
      doses: doses.filter((dose) => dose.visitId === visit.id && dose.givenGrams > 0).length,
    })),
    older: visits.length > PAGE ? (shown.at(-1)?.startedAt ?? null) : null,
  };
}

/** So many of the last words of the people there are shown. */
const LAST_ENTRIES = 10;

/** The card that hangs by the water, and what was told of it last. */
async function cardSection(scope: FirmScope, basinId: string) {
  const hangs = await cardOf(scope, basinId);
  const entries = hangs ? await entriesOf(scope, [hangs.id]) : [];
  return { hangs, entries: entries.slice(-LAST_ENTRIES).reverse() };
}

/** What the basin's log taught, with what is expected at its next call. */
function habitsPage(
  basin: Basin,
  { habits, learnedAt, visits, forecast, doses, hold }: KeptLearning,
  suspicions: Suspicion[],
  ranges: Awaited<ReturnType<typeof judgedBy>>["ranges"],
  { now, timeZone }: { now: Date; timeZone: string },
) {
  const next = nextCall(basin.calls, dayIn(now, timeZone));
  // Without a call to come, of the day after it was learned: what lies on a device is not new at every look.
  const call = next ? noonIn(next, timeZone) : learnedAt.getTime() + millisecondsInDay;
  const suspected = suspicions.filter((one) => one.basin === basin.id);
  return {
    habits,
    learnedAt,
    visits,
    doses,
    hold,
    next,
    forecast,
    call,
    atCall: pointAt(forecast, call),
    crossings: crossingsBefore(forecast, ranges, call),
    leave: leaveOf(forecast, habits, ranges.freeChlorine, call),
    volume: suspected.find(({ code }) => code === "volume") ?? null,
    unwritten: suspected.filter(
      ({ code, at }) =>
        code === "unwritten" && at !== undefined && now.getTime() - at < UNWRITTEN_DAYS * millisecondsInDay,
    ),
  };
}

/** What chlorine to leave until the call, with the limits that it is held against; null where nothing is expected. */
function leaveOf(
  forecast: readonly ForecastPoint[],
  { chlorineLoss: loss }: HabitFigures,
  range: Range | undefined,
  call: number,
) {
  const atCall = pointAt(forecast, call)?.freeChlorine;
  const start = forecast[0];
  if (range?.low === undefined || !atCall || !start?.freeChlorine) return null;
  const days = (call - start.at) / millisecondsInDay;
  const chlorine = chlorineToLeave({ now: start.freeChlorine.value, atCall, loss, days }, range.low);
  return { chlorine, floor: range.low, most: range.high ?? null };
}

/** What nobody wrote down is told for so long. */
const UNWRITTEN_DAYS = 21;

/** The last readings, and the ranges as they apply to this basin and that water. */
async function judgedBy(scope: FirmScope, basin: Basin, last: VisitReading[]) {
  const [version, methods] = await Promise.all([
    rangeSetVersion(scope, basin.rangeSetId),
    methodsOf(scope, last),
  ]);
  const rangeSet = setForBasin(version, basin, basin.rangeOverrides);
  const { water } = lastWater(basin, last, methods);
  return { last, rangeSet, ranges: rangesOf(rangeSet, basin.surface, water) };
}

const MOST_DAYS = 3660;
const MOST_OUTCOMES = 40;

/** A basin over the last so many days, for its charts. */
export const seriesPage = async (scope: FirmScope, member: SignedIn, id: string, now: Date, asked = 365) =>
  isUuid(id) ? reading(scope, (reads) => readSeries(reads, member, id, now, asked)) : undefined;

async function readSeries(scope: FirmScope, member: SignedIn, id: string, now: Date, asked: number) {
  const days = Number.isFinite(asked) ? Math.min(MOST_DAYS, Math.max(1, asked)) : 365;
  const from = new Date(now.getTime() - days * millisecondsInDay);
  const [basin, firm, readings, doses, plant, outcomes, volumes] = await Promise.all([
    basinById(scope, id),
    firmOf(scope),
    readingSeries(scope, id, from),
    doseSeries(scope, id, from),
    // Gauges are the firm's own.
    member.role === "reader" ? [] : plantSeries(scope, id, from),
    outcomesAt(scope, id, MOST_OUTCOMES),
    volumesOf(scope, id),
  ]);
  if (!basin) return undefined;
  return {
    from,
    to: now,
    readings,
    doses,
    plant,
    // What the firm pays is not a customer's.
    costs: member.role === "reader" ? [] : await costByMonth(scope, basin.id, from, firm.timeZone),
    outcomes,
    volumes: volumes.filter((one) => one.knownFrom >= from),
  };
}

/** Months of a season that a basin is told for, at most, and how far back its weather is looked at. Weeks, days */
const SEASON_WEEKS = 52;
const WEATHER_DAYS = 730;

/** A basin's months to come: its water and habits, the weeks' sun and warmth, and what things cost. */
export async function seasonPage(scope: FirmScope, id: string, now: Date) {
  const found = isUuid(id) ? await basinWater(scope, id, now) : undefined;
  if (!found) return undefined;
  const { basin, rangeSet, products, fill, water, enough } = found;
  const place = placeOf(basin);
  const since = new Date(now.getTime() - WEATHER_DAYS * millisecondsInDay);
  const temperatures = (await readingSeries(scope, basin.id, since)).flatMap(({ quantity, at, value }) =>
    quantity === "temperature" ? [{ at: at.getTime(), value }] : [],
  );
  const firm = await firmOf(scope);
  const location = locationOf(firm.timeZone, now);
  const weather = (await weatherSince(scope, since)).map((day) => weatherOf(day, location));
  const around = surroundingsOf({ ...place, feeder: "none" }, location, weather, temperatures);
  const learned = await learnedOf(scope, basin.id);
  return {
    now,
    basin,
    outdoors: place.outdoors,
    rangeSet,
    water: enough ? water.water : null,
    fill: fill ?? (enough ? fillWater(USUAL_FILL, water.water.temperature) : null),
    fillKnown: fill !== null,
    /** By the basin's own log; null where there is none yet. */
    visits: learned?.visits ?? null,
    rates: learned?.rates ?? usualRates(place),
    hold: learned?.hold && learned.hold.asItIs.right.value < PROMISED ? learned.hold : null,
    location,
    weeks: Array.from({ length: SEASON_WEEKS + 1 }, (_, week) => {
      const at = now.getTime() + week * 7 * millisecondsInDay;
      return { temperature: seasonal(temperatures, at) ?? around.temperature(at), sun: around.clearness(at) };
    }),
    products: products.map(({ product, strength, pricePerKg, name }) => ({
      product,
      strength,
      pricePerKg,
      name,
    })),
  };
}

/** Where nobody said what comes out of the tap. mg/L */
const USUAL_FILL = { totalAlkalinity: 80, calciumHardness: 120 };

const usualRates = (place: { kind: "pool" | "spa"; outdoors: boolean }): Habits => {
  const usual = usualHabits({ ...place, feeder: "none" });
  const rates = Object.entries(usual).map(([name, { median }]) => [name, median]);
  return Object.fromEntries(rates) as Habits;
};

/** Days around a day of the year of which what was read then is taken for it. */
const SEASON_DAYS = 14;
const YEAR_DAYS = 365;

/** What the water's temperature was about that time of the year; null where nobody read it then. */
function seasonal(read: readonly { at: number; value: number }[], at: number): number | null {
  const near = read.filter((one) => {
    const apart = Math.abs((one.at - at) / millisecondsInDay) % YEAR_DAYS;
    return Math.min(apart, YEAR_DAYS - apart) <= SEASON_DAYS;
  });
  return near.length === 0 ? null : near.reduce((sum, { value }) => sum + value, 0) / near.length;
}

/** The basin's water as it was last read, and what may go into it. */
export async function whatIfPage(scope: FirmScope, id: string, now: Date) {
  const found = isUuid(id) ? await basinWater(scope, id, now) : undefined;
  if (!found) return undefined;
  const { basin, open, ranges, rangeSet, planned, products, fill, water, enough } = found;
  return {
    basin,
    litres: open?.litres ?? basin.litres,
    open: open?.id ?? null,
    ranges,
    window: rangeSet.saturation ?? USUAL_WINDOW,
    planned: planned.map((product) => ({
      ...product,
      name: products.find((one) => one.id === product.key)?.name ?? product.product,
      density: products.find((one) => one.id === product.key)?.density ?? null,
    })),
    fill,
    water: enough ? water.water : null,
  };
}

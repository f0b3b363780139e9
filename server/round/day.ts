import { millisecondsInDay, millisecondsInHour } from "date-fns/constants";
import {
  addDays,
  adviseSample,
  type Basin,
  type Crossing,
  cadenceWith,
  calledOn,
  crossingsBefore,
  type DatedReading,
  type Due,
  type DueTask,
  dayIn,
  dueTasks,
  dueTests,
  type Finding,
  type Firm,
  type ForecastPoint,
  hasJets,
  isLabelled,
  type Kit,
  LABEL_DOSE_DAYS,
  type LabelDose,
  labelDoses,
  lastCall,
  methodsAt,
  needOf,
  noonIn,
  placeOf,
  QUANTITIES,
  type Quantity,
  type RangeSet,
  type ReagentUse,
  rangeFor,
  rangesOf,
  reagentsNeeded,
  type ShelfProduct,
  shelfFor,
  stationsWith,
  TASKS,
  waterFromReadings,
  withOverrides,
} from "#core";
import { basinsInOrder } from "../db/basins";
import type { FirmScope } from "../db/connection";
import { findingsOfVisits } from "../db/doses";
import { kitVersion } from "../db/kits";
import { forecastsOf } from "../db/learned";
import { plannedCalls } from "../db/plans";
import { productsOf } from "../db/products";
import { rangeSetVersion } from "../db/range-sets";
import { type LastValue, lastValues } from "../db/readings";
import {
  type LastVisit,
  type LateDose,
  labelledDoses,
  lastVisitsOf,
  lateDoses,
  notSeenSince,
} from "../db/recent";
import {
  type BasinEvent,
  type CallChange,
  callChanges,
  eventsBetween,
  roundVersion,
  skippedSince,
  tasksDone,
} from "../db/rounds";
import { openVisits } from "../db/visits";
import { grouped } from "../grouped";

/** Days back of which doses make a basin's habits. */
const HABIT_DAYS = 42;
/** After noon, by which a day's calls are made. ms */
const LATEST_CALL = 6 * millisecondsInHour;
/** Days ahead of which events are told. */
const EVENT_DAYS = 7;
/** Days back for which a call that nobody made is asked after. */
const ASK_DAYS = 14;

export interface RoundCall {
  basin: Basin;
  memberId: string | null;
  /** The visit under way, and whose it is. */
  open: { id: string; memberName: string } | null;
  last: { id: string; finishedAt: Date } | null;
  done: boolean;
  skipped: CallChange["skipped"];
  /** What was found last time. */
  findings: Finding[];
  /** What is expected to have passed its edge by the call, the likeliest first. */
  crossings: Crossing[];
  /** How much the basin wants somebody, see `needOf`. */
  need: number;
  due: Due[];
  tasks: DueTask[];
  /** What is due by its label. */
  labelled: (LabelDose & Pick<ShelfProduct, "name" | "density">)[];
  events: BasinEvent[];
  /** What a call there usually takes. */
  load: Load[];
}

export interface Load {
  productId: string;
  grams: number;
}

/** A day's calls in their order, what they need, and what was left open before. */
export interface RoundDay {
  day: string;
  today: string;
  version: number;
  calls: RoundCall[];
  /** For calls that are still to make: what to have on the truck. */
  load: (Load &
    Pick<ShelfProduct, "name" | "product" | "density" | "left"> & {
      /** Money; null where the price is not known. */
      cost: number | null;
    })[];
  reagents: ReagentUse[];
  /** Calls of the last days that nobody made and nobody explained. */
  missed: { basinId: string; name: string; day: string }[];
}

/** The round of a day. */
export async function roundOn(scope: FirmScope, firm: Firm, day: string, now: Date): Promise<RoundDay> {
  const all = await basinsInOrder(scope);
  const changes = await callChanges(scope, day);
  const events = await eventsBetween(scope, day, addDays(day, EVENT_DAYS));
  const basins = ordered(all, changes).filter(
    (basin) =>
      calledOn(basin.calls, day) ||
      changes.some((change) => change.basinId === basin.id) ||
      // Before a party the water is tested the day before.
      events.some((event) => event.basinId === basin.id && event.day === addDays(day, 1)),
  );
  const products = await productsOf(scope);
  const last = await lastVisitsOf(
    scope,
    basins.map((basin) => basin.id),
    day,
    firm.timeZone,
  );
  const known = await contextOf(scope, { firm, basins, day, now, products, last });
  const calls = basins.map((basin) => callOf(basin, day, known, changes, events));
  const ahead = calls.filter((call) => !call.done && !call.skipped);
  const today = dayIn(now, firm.timeZone);
  return {
    day,
    today,
    version: await roundVersion(scope, day),
    calls,
    load: loadOf(ahead, products),
    reagents: reagentsOf(ahead, known),
    missed: await missedCalls(scope, firm, all, today),
  };
}

/** As the basins stand, and where the day says otherwise, as the day says. */
function ordered(basins: Basin[], changes: CallChange[]): Basin[] {
  const place = new Map(changes.map((change) => [change.basinId, change.position]));
  return basins
    .map((basin, index) => ({ basin, at: place.get(basin.id) ?? index + 0.5 }))
    .sort((a, b) => a.at - b.at)
    .map(({ basin }) => basin);
}

interface DayContext {
  kits: Map<string, Kit>;
  sets: Map<string, RangeSet>;
  open: Map<string, { id: string; memberName: string }>;
  last: Map<string, LastVisit>;
  findings: Map<string, { finding: Finding }[]>;
  readings: Map<string, LastValue[]>;
  doses: Map<string, LateDose[]>;
  done: Map<string, { task: string; at: Date }[]>;
  compounds: Map<string, ShelfProduct["product"]>;
  forecasts: Map<string, ForecastPoint[]>;
  planned: Awaited<ReturnType<typeof plannedCalls>>;
  labelled: Map<string, Awaited<ReturnType<typeof labelledDoses>>>;
  products: ShelfProduct[];
  firm: Firm;
  at: Date;
}

interface DayQuery {
  firm: Firm;
  basins: Basin[];
  day: string;
  now: Date;
  products: ShelfProduct[];
  last: LastVisit[];
}

async function contextOf(
  scope: FirmScope,
  { firm, basins, day, now, products, last }: DayQuery,
): Promise<DayContext> {
  const ids = basins.map((basin) => basin.id);
  const visitOf = new Map(last.map((one) => [one.id, one.basinId]));
  const found = await findingsOfVisits(scope, [...visitOf.keys()]);
  const kits = new Map<string, Kit>();
  const sets = new Map<string, RangeSet>();
  for (const basin of basins) {
    if (!kits.has(basin.kitId)) kits.set(basin.kitId, await kitVersion(scope, basin.kitId));
    if (!sets.has(basin.rangeSetId))
      sets.set(basin.rangeSetId, await rangeSetVersion(scope, basin.rangeSetId));
  }
  return {
    kits,
    sets,
    open: await openVisits(scope),
    last: new Map(last.map((one) => [one.basinId, one])),
    findings: grouped(found, (one) => visitOf.get(one.visitId) ?? ""),
    readings: grouped(await lastValues(scope, ids, now), (one) => one.basinId),
    doses: grouped(
      await lateDoses(scope, ids, new Date(now.getTime() - HABIT_DAYS * millisecondsInDay)),
      (one) => one.basinId,
    ),
    done: grouped(await tasksDone(scope, ids), (one) => one.basinId),
    compounds: new Map(products.map((product) => [product.id, product.product])),
    forecasts: await forecastsOf(scope, ids),
    planned: await plannedCalls(scope, ids),
    labelled: grouped(
      await labelledDoses(scope, ids, new Date(now.getTime() - LABEL_DOSE_DAYS * millisecondsInDay)),
      (one) => one.basinId,
    ),
    products,
    firm,
    at: new Date(Math.max(now.getTime(), Date.parse(`${day}T12:00:00Z`))),
  };
}

function callOf(
  basin: Basin,
  day: string,
  known: DayContext,
  changes: CallChange[],
  events: BasinEvent[],
): RoundCall {
  const change = changes.find((one) => one.basinId === basin.id);
  const last = known.last.get(basin.id);
  const findings = (known.findings.get(basin.id) ?? []).map(({ finding }) => finding);
  const { timeZone } = known.firm;
  const done = last !== undefined && dayIn(last.startedAt, timeZone) === day;
  const crossings = done ? [] : crossingsAt(basin, day, known);
  const labelled = done ? [] : labelledOn(basin, known);
  return {
    basin,
    memberId: change?.memberId ?? basin.callerId,
    open: known.open.get(basin.id) ?? null,
    last: last ? { id: last.id, finishedAt: last.finishedAt } : null,
    done,
    skipped: change?.skipped ?? null,
    findings,
    crossings,
    need: needOf(crossings, { out: findings.length, closes: findings.some(({ closes }) => closes) }),
    due: dueAt(basin, known, findings),
    tasks: tasksAt(basin, day, known),
    labelled,
    events: events.filter((event) => event.basinId === basin.id),
    load: [
      ...(plannedAt(basin, day, known) ?? habitOf(balancing(known, basin.id))),
      ...labelled.map(({ product, grams }) => ({ productId: product, grams })),
    ],
  };
}

/** What is due by its label at the call. */
function labelledOn(basin: Basin, { products, labelled, at }: DayContext): RoundCall["labelled"] {
  return labelDoses({
    products: shelfFor(products, basin.barred),
    doses: (labelled.get(basin.id) ?? []).map((dose) => ({
      ...dose,
      hoursAgo: Math.max(0, at.getTime() - dose.givenAt.getTime()) / millisecondsInHour,
    })),
    litres: basin.litres,
    jets: hasJets(basin),
    outdoors: !basin.indoors,
    freeChlorine: null,
    hardnessDue: false,
  })
    .filter(({ isDue }) => isDue)
    .flatMap((dose) =>
      products.flatMap(({ id, name, density }) => (id === dose.product ? [{ ...dose, name, density }] : [])),
    );
}

/** What was given lately to balance the water: what goes in by its label comes round by itself. */
const balancing = ({ doses, compounds }: DayContext, basinId: string): LateDose[] =>
  (doses.get(basinId) ?? []).filter(({ productId }) => {
    const compound = compounds.get(productId);
    return compound === undefined || !isLabelled(compound);
  });

/** What is expected to have passed its edge when the call is made. */
function crossingsAt(
  basin: Basin,
  day: string,
  { forecasts, sets, readings, firm, at }: DayContext,
): Crossing[] {
  const forecast = forecasts.get(basin.id);
  const set = sets.get(basin.rangeSetId);
  // Of a day that is over nothing is expected.
  if (!forecast || !set || dayIn(at, firm.timeZone) > day) return [];
  const read = (readings.get(basin.id) ?? []).map(
    ({ quantity, value, takenAt }): [Quantity, DatedReading] => [
      quantity,
      {
        value,
        unit: QUANTITIES[quantity].unit,
        low: null,
        high: null,
        bound: "within",
        kind: "meter",
        daysAgo: (at.getTime() - takenAt.getTime()) / millisecondsInDay,
      },
    ],
  );
  const { water } = waterFromReadings(Object.fromEntries(read), placeOf(basin));
  const ranges = rangesOf(withOverrides(set, basin.rangeOverrides), basin.surface, water);
  return crossingsBefore(forecast, ranges, noonIn(day, firm.timeZone) + LATEST_CALL);
}

function dueAt(
  basin: Basin,
  { kits, readings, doses, compounds, firm, at }: DayContext,
  found: Finding[],
): Due[] {
  const kit = kits.get(basin.kitId);
  if (!kit) return [];
  const daysAgo = (then: Date) => (at.getTime() - then.getTime()) / millisecondsInDay;
  return dueTests({
    stations: stationsWith(kit, basin.sanitiser),
    cadence: cadenceWith(firm.cadence, basin.cadence).tests,
    lastDaysAgo: Object.fromEntries(
      (readings.get(basin.id) ?? []).map((one) => [one.quantity, daysAgo(one.takenAt)]),
    ),
    outLastTime: new Set(found.map((finding) => finding.quantity)),
    doses: (doses.get(basin.id) ?? []).flatMap((dose) => {
      const product = compounds.get(dose.productId);
      return product ? [{ product, grams: dose.grams, daysAgo: daysAgo(dose.givenAt) }] : [];
    }),
    litres: basin.litres,
    phOff: null,
  });
}

function tasksAt(basin: Basin, day: string, { readings, done, firm }: DayContext): DueTask[] {
  const lastDone = Object.fromEntries(
    (done.get(basin.id) ?? []).flatMap(({ task, at }) => {
      const name = TASKS.find((one) => one === task);
      return name ? [[name, dayIn(at, firm.timeZone)]] : [];
    }),
  );
  const temperature = (readings.get(basin.id) ?? []).find((one) => one.quantity === "temperature");
  return dueTasks({
    day,
    cadence: cadenceWith(firm.cadence, basin.cadence).tasks,
    lastDone,
    temperature: temperature?.value ?? null,
    season: basin.calls.season,
    seasonStart: firm.seasonStart,
  });
}

/** What the basin's last plan thought of for this day; null where it said nothing of it. */
function plannedAt(basin: Basin, day: string, { planned, firm }: DayContext): Load[] | null {
  const call = planned.get(basin.id)?.find(({ at }) => dayIn(new Date(at), firm.timeZone) === day);
  return call ? call.doses.map(({ product, grams }) => ({ productId: product, grams })) : null;
}

/** What a call usually takes: each product's share of the calls of the last weeks at which anything was given. */
function habitOf(doses: LateDose[]): Load[] {
  const calls = new Set(doses.map((dose) => dose.visitId)).size;
  return [...grouped(doses, (dose) => dose.productId)].map(([productId, given]) => ({
    productId,
    grams: given.reduce((sum, dose) => sum + dose.grams, 0) / calls,
  }));
}

function loadOf(calls: RoundCall[], products: ShelfProduct[]): RoundDay["load"] {
  const total = new Map<string, number>();
  for (const { load } of calls)
    for (const { productId, grams } of load) total.set(productId, (total.get(productId) ?? 0) + grams);
  return products.flatMap(({ id, name, product, density, left, pricePerKg }) => {
    const grams = total.get(id);
    return grams
      ? [
          {
            productId: id,
            grams,
            name,
            product,
            density,
            left,
            cost: pricePerKg === null ? null : (grams / 1000) * pricePerKg,
          },
        ]
      : [];
  });
}

/** Drops left out of a test whose last reading is not known. */
const UNKNOWN_DROPS = 10;

function reagentsOf(calls: RoundCall[], { kits, sets, readings }: DayContext): ReagentUse[] {
  const uses = calls.flatMap(({ basin, due }) => {
    const kit = kits.get(basin.kitId);
    const set = sets.get(basin.rangeSetId);
    if (!kit || !set) return [];
    const limits = withOverrides(set, basin.rangeOverrides);
    return due.flatMap(({ station, due: isDue }) => {
      const method = isDue ? methodsAt(kit, station)[0] : undefined;
      if (!method) return [];
      if (method.kind !== "titration") return reagentsNeeded(method, null, 0);
      const value =
        (readings.get(basin.id) ?? []).find((one) => one.quantity === method.quantity)?.value ?? null;
      const advice = adviseSample(method, value, rangeFor(limits, method.quantity, basin.surface));
      return reagentsNeeded(method, advice.millilitres, advice.expected ?? UNKNOWN_DROPS);
    });
  });
  return [...grouped(uses, (use) => use.reagent).values()]
    .flatMap((group) => {
      const [first] = group;
      return first ? [{ ...first, amount: group.reduce((sum, use) => sum + use.amount, 0) }] : [];
    })
    .sort((a, b) => a.reagent.localeCompare(b.reagent));
}

/** The last call of each basin that was due in the days before today, was not made, and has no reason. */
async function missedCalls(
  scope: FirmScope,
  { timeZone }: Firm,
  basins: Basin[],
  today: string,
): Promise<RoundDay["missed"]> {
  const due = basins.flatMap((basin) => {
    const day = lastCall(basin.calls, today, ASK_DAYS);
    return day ? [{ basinId: basin.id, name: `${basin.site.name}, ${basin.name}`, day }] : [];
  });
  // A firm that has never been at a basin has not missed a call there.
  const unseen = await notSeenSince(scope, due, timeZone);
  const skipped = await skippedSince(scope, addDays(today, -ASK_DAYS));
  return due.filter(({ basinId, day }) => unseen.has(basinId) && !skipped.has(`${basinId} ${day}`));
}

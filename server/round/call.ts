import { millisecondsInDay, millisecondsInHour } from "date-fns/constants";
import {
  type Basin,
  type Bathing,
  type Crossing,
  cadenceWith,
  crossingsBefore,
  type Due,
  type DueTask,
  dayIn,
  dueTasks,
  dueTests,
  type Finding,
  hasJets,
  type JobKind,
  type LabelDose,
  labelDoses,
  lastFound,
  minutesFor,
  needOf,
  noonIn,
  outIn,
  placeOf,
  rangesOf,
  type ShelfProduct,
  type SiteAccess,
  setForBasin,
  shelfFor,
  stationsOn,
  TASKS,
  type WorkAtCall,
  waterFromValues,
  workAt,
} from "#core";
import type { KeptDefect } from "../db/defects";
import { calledByJob, dayOfJob } from "../db/jobs";
import type { BasinEvent, CallChange } from "../db/rounds";
import type { DayContext } from "./context";
import { type Load, usualLoad } from "./load";

/** After noon, by which a day's calls are made. ms */
const LATEST_CALL = 6 * millisecondsInHour;

export interface RoundCall {
  basin: Basin;
  memberId: string | null;
  /** The visit under way, and whose it is. */
  open: { id: string; memberName: string } | null;
  last: { id: string; finishedAt: Date } | null;
  done: boolean;
  skipped: CallChange["skipped"];
  /** Jobs of several calls that are under way, and the day of each. */
  jobs: { kind: JobKind; day: number }[];
  /** What was found last time. */
  findings: Finding[];
  /** Why it was left closed, or untested; null where the water was left for use. */
  shut: Bathing | null;
  /** What is expected to have passed its edge by the call, the likeliest first. */
  crossings: Crossing[];
  /** How much the basin wants somebody, see `needOf`. */
  need: number;
  due: Due[];
  tasks: DueTask[];
  /** How one gets in; null where nobody wrote it down. */
  access: SiteAccess | null;
  /** Other work that has come round; what is done at every call goes without saying. */
  work: WorkAtCall[];
  /** Minutes that all of it takes, what is done at every call included. */
  workMinutes: number;
  /** What is broken there, and whether mending it is approved. */
  repairs: Pick<KeptDefect, "title" | "state">[];
  /** What is due by its label. */
  labelled: (LabelDose & Pick<ShelfProduct, "name" | "density">)[];
  events: BasinEvent[];
  /** What a call there usually takes. */
  load: Load[];
}

/** A call of the day: what was found there last, what is expected, what is due and what to load. */
export function callOf(
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
  const jobs = known.jobs.get(basin.id);
  // A green pool is called at in the evening again.
  const done = last !== undefined && dayIn(last.startedAt, timeZone) === day && !calledByJob(jobs, day);
  const shut = last?.bathing?.state === "closed" || last?.bathing?.state === "untested" ? last.bathing : null;
  const { read, ranges } = waterOn(basin, known);
  const crossings = done ? [] : crossingsAt(basin, day, known, ranges);
  const found = lastFound(read, ranges, known.at.getTime());
  const labelled = done ? [] : labelledOn(basin, known, found);
  const work = done ? [] : workDueAt(basin, day, known);
  return {
    basin,
    memberId: change?.memberId ?? basin.callerId,
    open: known.open.get(basin.id) ?? null,
    last: last ? { id: last.id, finishedAt: last.finishedAt } : null,
    done,
    skipped: change?.skipped ?? null,
    jobs: (jobs ?? []).map((one) => ({ kind: one.job.kind, day: dayOfJob(one, day) })),
    findings,
    shut,
    crossings,
    need: needOf(crossings, {
      out: findings.length,
      closes: shut?.state === "closed" || findings.some(({ closes, settled }) => closes && !settled),
    }),
    due: dueAt(basin, known, findings, found),
    tasks: tasksAt(basin, day, known),
    access: known.access.get(basin.site.id) ?? null,
    work: work.filter(({ rule }) => rule.by !== "call"),
    workMinutes: work.reduce((sum, { key }) => sum + minutesFor(key, known.firm.workMinutes ?? null), 0),
    labelled,
    repairs: (known.defects.get(basin.id) ?? []).map(({ title, state }) => ({ title, state })),
    events: events.filter((event) => event.basinId === basin.id),
    load: [
      ...usualLoad(basin, day, known),
      ...labelled.map(({ product, grams }) => ({ productId: product, grams })),
    ],
  };
}

/** What is due by its label at the call. */
function labelledOn(
  basin: Basin,
  { products, labelled, at }: DayContext,
  found: ReturnType<typeof lastFound>,
): RoundCall["labelled"] {
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
    found,
    hardnessDue: false,
  })
    .filter(({ isDue }) => isDue)
    .flatMap((dose) =>
      products.flatMap(({ id, name, density }) => (id === dose.product ? [{ ...dose, name, density }] : [])),
    );
}

/** What is expected to have passed its edge when the call is made. */
function crossingsAt(
  basin: Basin,
  day: string,
  known: DayContext,
  ranges: ReturnType<typeof rangesOf>,
): Crossing[] {
  const forecast = known.forecasts.get(basin.id);
  const { timeZone } = known.firm;
  // Of a day that is over nothing is expected.
  if (!forecast || dayIn(known.at, timeZone) > day) return [];
  return crossingsBefore(forecast, ranges, noonIn(day, timeZone) + LATEST_CALL);
}

/** What was read last at a basin, and its ranges in the water that makes. */
function waterOn(basin: Basin, { sets, readings, at }: DayContext) {
  const read = (readings.get(basin.id) ?? []).map((one) => ({
    ...one,
    daysAgo: (at.getTime() - one.takenAt.getTime()) / millisecondsInDay,
  }));
  const set = sets.get(basin.rangeSetId);
  const { water } = waterFromValues(read, placeOf(basin));
  const ranges = set ? rangesOf(setForBasin(set, basin, basin.rangeOverrides), basin.surface, water) : {};
  return { read, ranges };
}

function dueAt(
  basin: Basin,
  { kits, onTruck, readings, doses, compounds, firm, at }: DayContext,
  findings: Finding[],
  found: ReturnType<typeof lastFound>,
): Due[] {
  const kit = kits.get(basin.kitId);
  if (!kit) return [];
  const daysAgo = (then: Date) => (at.getTime() - then.getTime()) / millisecondsInDay;
  const cadence = cadenceWith(firm.cadence, basin.cadence).tests;
  return dueTests({
    stations: stationsOn(kit, onTruck, basin.sanitiser),
    cadence,
    lastDaysAgo: Object.fromEntries(
      (readings.get(basin.id) ?? []).map((one) => [one.quantity, daysAgo(one.takenAt)]),
    ),
    outLastTime: new Set(findings.map(({ quantity }) => quantity)),
    outWhenRead: outIn(found),
    doses: (doses.get(basin.id) ?? []).flatMap((dose) => {
      const product = compounds.get(dose.productId);
      return product ? [{ product, grams: dose.grams, daysAgo: daysAgo(dose.givenAt) }] : [];
    }),
    litres: basin.litres,
    phOff: null,
  });
}

function workDueAt(
  basin: Basin,
  day: string,
  { workLists, workDone, filters, readings, firm }: DayContext,
): WorkAtCall[] {
  const list = workLists.get(basin.kind)?.list;
  if (!list) return [];
  const solids = (readings.get(basin.id) ?? []).find(({ quantity }) => quantity === "totalDissolvedSolids");
  return workAt({
    list,
    basin,
    day,
    lastDone: workDone.get(basin.id) ?? {},
    solids: solids ? { value: solids.value, day: dayIn(solids.takenAt, firm.timeZone) } : null,
    filterFullOn: filters.get(basin.id) ?? null,
    season: basin.calls.season,
    seasonStart: firm.seasonStart,
  }).filter(({ because }) => because !== null);
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

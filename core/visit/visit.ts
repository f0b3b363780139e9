import { millisecondsInDay } from "date-fns/constants";
import type { SiteAccess } from "../basin/access";
import type { Basin } from "../basin/basin";
import type { Promised } from "../dosing/horizon/plan";
import type { Between } from "../dosing/horizon/problem";
import { type PlanProgress, progressOf } from "../dosing/plan/progress";
import type { LogView } from "../doubts/context";
import { type Finding, findings, placeInRange, possibleFindings } from "../judging/findings";
import { lastFound, outIn } from "../judging/found";
import type { Incident } from "../judging/incidents";
import type { Quantity, Readings } from "../measure/quantity";
import { type Range, type RangeSet, rangesOf, setForBasin } from "../ranges/range-set";
import type { WaterEstimate } from "../reading/from-readings";
import { cadenceWith } from "../schedule/cadence";
import { dayIn } from "../schedule/days";
import { mayActOn } from "../testing/doubt";
import type { Kit, Method } from "../testing/kit";
import { type Due, dueTests } from "../testing/order/due";
import { lookKept } from "../testing/order/look";
import { stationsOn } from "../testing/order/stations";
import { type WorkAtCall, type WorkInput, workAt } from "../work/work";
import type { Brought, Firm, JobBefore, KitVersion, OpenDefect, ShelfProduct, VisitBegun } from "./brought";
import { logView } from "./log";
import { plantOf, type VisitPlant } from "./plant";
import { demandTarget, knownWater, type MethodOf, methodFrom } from "./water";
import type { VisitPlan, VisitReading, WorkDone, Written } from "./written";

type Kept = Pick<Written, "look" | "sampling" | "note" | "finishedAt" | "notices" | "weather" | "untested">;

/** A visit as all its screens show it: what was brought and what is written, and what follows from both. */
export interface OpenedVisit
  extends Omit<Written, keyof Kept | "version" | "uses" | "work" | "plant" | "jobs" | "defects" | "mended"> {
  visit: VisitBegun & Kept;
  basin: Basin;
  firm: Firm;
  /** The kit of the visit, in the version that it began with. */
  kit: Kit;
  /** What else is on the truck: the firm's other kits. */
  otherKits: KitVersion[];
  /** The set of the visit with the basin's own limits in it. */
  rangeSet: RangeSet;
  /** The water that its readings make with those carried into it: the judge's, the plan's, the ranges'. */
  known: WaterEstimate;
  /** Its ranges as they apply to this basin and this water. */
  ranges: Partial<Record<Quantity, Range>>;
  /** Made in this visit: for each quantity the newest that is used. */
  readings: VisitReading[];
  /** Made beside those by another method, and not the best. */
  beside: VisitReading[];
  /** Used earlier in this visit, before a plan's doses went in. */
  before: VisitReading[];
  /** The newest of each quantity from earlier visits. */
  earlier: VisitReading[];
  products: ShelfProduct[];
  log: LogView;
  due: Due[];
  /** The work of the call besides the water, in the list's order; what was done that no list names comes last. */
  work: VisitWork[];
  access: SiteAccess | null;
  /** What is broken there: of visits before, then of this one. */
  defects: VisitDefect[];
  plant: VisitPlant;
  /** Those that happened here, and those of before that are not over. */
  incidents: Incident[];
  /** Jobs of more than one call: under way, or ended here. */
  jobs: JobBefore[];
  /** The moment that it is shown for: now, or its close. */
  at: Date;
  /** How far the plan that is under way has come; null when none is. */
  progress: PlanProgress | null;
  /** pH to which the demand drops of its readings were titrated; null where there are none. */
  demandTarget: number | null;
  /** What the basin's own log taught. */
  learned: NonNullable<Brought["learned"]> | null;
  between: Between | null;
  /** What the last visit's plan promised for this one. */
  promised: Promised | null;
}

/**
 * A visit as it stands at a moment; a finished one as it stood at its close.
 * @example visitOf(brought, written, at).readings.length // 3
 */
export function visitOf(brought: Brought, written: Written, now: Date): OpenedVisit {
  const { basin, firm, earlier, kits, products } = brought;
  const { sampling, note, finishedAt, notices, weather, untested, version: _, uses: __, ...rest } = written;
  const look = lookKept(written.look);
  const visit = { ...brought.visit, look, sampling, note, finishedAt, notices, weather, untested };
  const at = finishedAt ?? now;
  const kit = kitOf(brought);
  const otherKits = kits.slice(1);
  const { readings, beside, before } = byRound(written.readings);
  const rangeSet = setForBasin(brought.rangeSet, basin, visit.rangeOverrides);
  const known = knownWater({
    basin,
    today: readings,
    earlier,
    at: visit.startedAt,
    methodOf: methodIn(brought),
  });
  const ranges = rangesOf(rangeSet, basin.surface, known.water);
  const log = logView(brought, written, at);
  const plant = plantOf(brought, written, { readings, water: known.water });
  return {
    ...rest,
    visit,
    basin,
    firm,
    kit,
    otherKits,
    rangeSet,
    known,
    ranges,
    readings,
    beside,
    before,
    earlier,
    products,
    log,
    plant,
    work: workOf(brought, written, {
      filterFullOn: plant.filterFullOn,
      solids: solidsIn(brought, readings),
    }),
    access: brought.access ?? null,
    defects: defectsOf(brought, written),
    incidents: incidentsOf(brought, written),
    jobs: jobsOf(brought, written),
    at,
    learned: brought.learned ?? null,
    between: brought.between ?? null,
    promised: brought.promised ?? null,
    demandTarget: demandTarget(readings, methodIn(brought)),
    due: dueNow(brought, { readings, ranges, log }, at),
    progress: progressIn(written.plans, [...readings, ...before]),
  };
}

/** Incidents of a basin as a visit there sees them: its own, and those of before that are not over. */
export function incidentsOf({ incidents = [] }: Pick<Brought, "incidents">, written: Written): Incident[] {
  const own = written.incidents ?? [];
  return [...incidents.filter(({ id }) => !own.some((one) => one.id === id)), ...own];
}

/** Jobs of a basin as a visit there sees them: its own, and those of before that are not over. */
function jobsOf({ jobs = [] }: Pick<Brought, "jobs">, written: Written): JobBefore[] {
  const own = written.jobs ?? [];
  return [
    ...jobs.map((one) => ({ ...one, job: own.find(({ id }) => id === one.job.id) ?? one.job })),
    ...own.filter(({ id }) => !jobs.some(({ job }) => job.id === id)).map((job) => ({ job, calls: [] })),
  ];
}

/** Jobs that are not over. @example openJobs(opened).length // 0 */
export const openJobs = ({ jobs }: Pick<OpenedVisit, "jobs">): JobBefore[] =>
  jobs.filter(({ job }) => job.over === null);

/** A piece of the work of a call, and what was said of it here. */
export interface VisitWork extends Omit<WorkAtCall, "rule"> {
  done: WorkDone | null;
}

function workOf(
  { work, basin, firm, visit }: Brought,
  written: Written,
  told: Pick<WorkInput, "filterFullOn" | "solids">,
): VisitWork[] {
  const said = written.work ?? [];
  const listed = workAt({
    list: work?.list ?? { items: [] },
    basin,
    day: dayIn(visit.startedAt, firm.timeZone),
    lastDone: work?.lastDone ?? {},
    ...told,
    season: basin.calls.season,
    seasonStart: firm.seasonStart,
  }).map(({ rule: _, ...item }) => ({ ...item, done: said.find((one) => one.key === item.key) ?? null }));
  const others = said
    .filter(({ key }) => !listed.some((one) => one.key === key))
    .map((done) => ({ key: done.key, name: done.name, because: null, last: null, done }));
  return [...listed, ...others];
}

/** Something broken, and whether it was mended here. */
export interface VisitDefect extends OpenDefect {
  mended: boolean;
}

function defectsOf({ defects = [], visit }: Brought, written: Written): VisitDefect[] {
  const own = (written.defects ?? []).map((one) => ({ ...one, visitId: visit.id, quote: null }));
  const all = [...defects, ...own.filter(({ id }) => !defects.some((one) => one.id === id))];
  return all.map((one) => ({ ...one, mended: (written.mended ?? []).includes(one.id) }));
}

/** Dissolved solids as they were last read. */
function solidsIn({ earlier, firm }: Brought, readings: readonly VisitReading[]): WorkInput["solids"] {
  const read = [...readings, ...earlier].find(({ quantity }) => quantity === "totalDissolvedSolids");
  return read ? { value: read.value, day: dayIn(read.takenAt, firm.timeZone) } : null;
}

/** The kit that the visit began with. */
function kitOf({ kits }: Pick<Brought, "kits">): Kit {
  const [own] = kits;
  if (!own) throw new Error("a visit brings its kit");
  return own.kit;
}

/** Finds the methods of what a call brings along. */
export const methodIn = ({ kits, olderKits }: Pick<Brought, "kits" | "olderKits">): MethodOf =>
  methodFrom([...kits, ...olderKits]);

/** The kind of test that made a reading. */
export const kindOf = (brought: Pick<Brought, "kits" | "olderKits">, reading: VisitReading): Method["kind"] =>
  methodIn(brought)(reading)?.kind ?? "meter";

/** The plan under way; the last one begun, unless it was ended. */
export const planUnderWay = ({ plans }: Pick<Written, "plans">): VisitPlan | null => {
  const last = plans.at(-1);
  return last && !last.endedAt ? last : null;
};

function progressIn(plans: VisitPlan[], readings: VisitReading[]): PlanProgress | null {
  const plan = planUnderWay({ plans });
  if (!plan) return null;
  return progressOf(
    plan.content.steps,
    plan.settled,
    readings.filter((reading) => reading.round > plan.round),
  );
}

/** The newest round of each quantity, split into what is used and what stands beside; and what was used before. */
function byRound(standing: VisitReading[]): Pick<OpenedVisit, "readings" | "beside" | "before"> {
  const newest = (reading: VisitReading) =>
    !standing.some((other) => other.quantity === reading.quantity && other.round > reading.round);
  return {
    readings: standing.filter((reading) => newest(reading) && reading.used),
    beside: standing.filter((reading) => newest(reading) && !reading.used),
    before: standing.filter((reading) => !newest(reading) && reading.used),
  };
}

function dueNow(
  brought: Brought,
  { readings, ranges, log }: Pick<OpenedVisit, "readings" | "ranges" | "log">,
  now: Date,
): Due[] {
  const { visit, basin, firm, earlier, outLastTime } = brought;
  const ph = readings.find((reading) => reading.quantity === "ph" && mayActOn(reading.doubts));
  const place = ph ? placeInRange(ph, ranges.ph) : "within";
  const cadence = cadenceWith(firm.cadence, basin.cadence).tests;
  const others = brought.kits.slice(1).map((other) => other.kit);
  return dueTests({
    stations: stationsOn(kitOf(brought), others, basin.sanitiser),
    cadence,
    lastDaysAgo: Object.fromEntries(
      earlier.map((reading) => [
        reading.quantity,
        (now.getTime() - reading.takenAt.getTime()) / millisecondsInDay,
      ]),
    ),
    outLastTime: new Set(outLastTime),
    outWhenRead: outIn(lastFound(earlier, ranges, now.getTime())),
    doses: log.doses.map((dose) => ({ ...dose, daysAgo: dose.hoursAgo / 24 })),
    litres: visit.litres,
    phOff: place === "within" ? null : place,
  });
}

/** What readings that may be acted on break of the range set. */
export const findingsIn = ({ rangeSet, basin, known }: OpenedVisit, readings: VisitReading[]): Finding[] =>
  findings(actedOn(readings), rangeSet, basin.surface, known.water);

const actedOn = (readings: VisitReading[]): Readings =>
  byQuantity(readings.filter((reading) => mayActOn(reading.doubts)));

export const findingsNow = (opened: OpenedVisit): Finding[] => findingsIn(opened, opened.readings);

/** What today's readings may be beyond their limits, by a drop or a gap of colours. */
export const possibleNow = ({ rangeSet, basin, known, readings }: OpenedVisit): Finding[] =>
  possibleFindings(actedOn(readings), rangeSet, basin.surface, known.water);

/** Moves within hours: of another day it says nothing about today. */
const OF_THE_HOUR: readonly Quantity[] = ["ph", "freeChlorine", "combinedChlorine", "totalChlorine"];

/** What was out of its range when it was last read, and was not tested today: it stays told, with its age. */
export function findingsCarried(opened: OpenedVisit): Finding[] {
  const { rangeSet, basin, known, visit } = opened;
  const carried = carriedInto(opened).filter((reading) => !OF_THE_HOUR.includes(reading.quantity));
  return findings(byQuantity(carried), rangeSet, basin.surface, known.water).map((finding) => {
    const takenAt = carried.find((one) => one.quantity === finding.quantity)?.takenAt ?? visit.startedAt;
    return {
      ...finding,
      closes: false,
      daysAgo: (visit.startedAt.getTime() - takenAt.getTime()) / millisecondsInDay,
    };
  });
}

/** Not tested today; what was read before stands in. */
export function carriedInto({
  readings,
  earlier,
}: Pick<OpenedVisit, "readings" | "earlier">): VisitReading[] {
  const measured = new Set(readings.map((reading) => reading.quantity));
  return earlier.filter((reading) => !measured.has(reading.quantity));
}

/** What was found on arrival and since, each once; what the last test no longer has is settled. */
export function findingsOverall(opened: OpenedVisit): Finding[] {
  const now = findingsNow(opened);
  const first = [...opened.before, ...opened.readings].filter(
    (reading, _, all) =>
      !all.some((other) => other.quantity === reading.quantity && other.round < reading.round),
  );
  const settled = findingsIn(opened, first).filter((one) => !now.some((other) => other.code === one.code));
  return [...now, ...settled.map((finding) => ({ ...finding, settled: true }))];
}

export const byQuantity = (readings: VisitReading[]): Readings =>
  Object.fromEntries(readings.map((reading) => [reading.quantity, reading]));

import { millisecondsInHour } from "date-fns/constants";
import { chlorineRaised } from "../dosing/single";
import { chlorineCost } from "../jobs/chlorine-cost";
import {
  EVENING_FROM,
  type GreenCall,
  type GreenOutlook,
  greenOutlook,
  HOLDS,
  type Sight,
} from "../jobs/green-outlook";
import { type Job, type JobKind, nextDayOf } from "../jobs/job";
import { isChlorine } from "../products/traits";
import { greenLevel } from "../recipes/green-pool";
import { nextCall } from "../schedule/calls";
import { dayIn, daysBetween, hourIn } from "../schedule/days";
import { closingTroubles, type Look, lookKept } from "../testing/order/look";
import { bathingAt } from "./bathing";
import type { EarlierDose, JobBefore, JobCall } from "./brought";
import { plannedProducts } from "./problem";
import { byQuantity, type OpenedVisit, openJobs } from "./visit";

/** A job at a basin as a visit sees it: how far it has come, what is still to show, and when to call again. */
export interface VisitJob {
  job: Job;
  /** Day of the job, 1 the one on which it was begun. */
  day: number;
  /** Of a green pool: what its calls found, today's last. */
  calls: GreenCall[];
  /** What is told of it today; null where it is no green pool, or too little was read. */
  outlook: GreenOutlook | null;
  /** What has to show before it is done, each with what was found. */
  checks: JobCheck[];
  /** This call is the morning's: a green pool is called at in the evening again. */
  isMorning: boolean;
  /** The day of the next call, the same day for the evening; null where the basin's own calls are left. */
  next: string | null;
}

export const JOB_CHECKS = ["floor", "overnight", "combined", "open"] as const;
export interface JobCheck {
  code: (typeof JOB_CHECKS)[number];
  /** Null where it cannot be said yet. */
  holds: boolean | null;
  /** mg/L lost overnight, or read; null where it is none of these. */
  value: number | null;
}

/**
 * How a job stands at a visit.
 * @example opened.jobs.map((one) => jobAt(opened, one)) // []
 */
export function jobAt(opened: OpenedVisit, { job, calls }: JobBefore): VisitJob {
  const { firm, visit } = opened;
  const isGreen = job.kind === "green";
  const green = isGreen ? greenCalls(opened, calls) : [];
  return {
    job,
    day: daysBetween(dayIn(job.begunAt, firm.timeZone), dayIn(visit.startedAt, firm.timeZone)) + 1,
    calls: green,
    outlook: isGreen ? outlookOf(opened, green) : null,
    checks: checksOf(job.kind, opened, green),
    isMorning: isMorning(opened),
    next: nextOf(opened, job),
  };
}

const nextOf = (
  { firm, visit }: Pick<OpenedVisit, "firm" | "visit">,
  { kind, begunAt }: Job,
): string | null =>
  nextDayOf(kind, {
    begun: dayIn(begunAt, firm.timeZone),
    last: dayIn(visit.startedAt, firm.timeZone),
    lastWasMorning: isMorning({ firm, visit }),
  });

const isMorning = ({ firm, visit }: Pick<OpenedVisit, "firm" | "visit">): boolean =>
  hourIn(visit.startedAt, firm.timeZone) < EVENING_FROM;

/** How deep one sees at a look and a disc: to the floor where nothing that was seen hides it. */
function sightOf(look: Look | null, centimetres: number | null): Sight | null {
  if (look && closingTroubles(look).every((trouble) => !HIDES.has(trouble))) return "floor";
  return centimetres;
}
const HIDES: ReadonlySet<string> = new Set(["floor-hidden", "cloudy", "green", "brown"]);

const raisedBy = (dose: Omit<EarlierDose, "givenAt">): number =>
  isChlorine(dose.product) ? chlorineRaised(dose, dose.grams, dose.litres) : 0;

/** Calls before, and this one: of chlorine what was found, and what stood there after what went in. */
function greenCalls(opened: OpenedVisit, before: readonly JobCall[]): GreenCall[] {
  const { visit, readings, plant, log } = opened;
  const now = opened.at.getTime();
  const doses = log.doses.map((dose) => ({
    raised: raisedBy(dose),
    at: now - dose.hoursAgo * millisecondsInHour,
  }));
  const given = (from: number, to: number) =>
    doses.reduce((sum, { raised, at }) => sum + (at > from && at < to ? raised : 0), 0);
  const all = [...opened.before, ...readings].filter(({ quantity }) => quantity === "freeChlorine");
  const [first, last] = [all.at(0), all.at(-1)];
  const start = visit.startedAt.getTime();
  const put = last ? given(last.takenAt.getTime(), Number.POSITIVE_INFINITY) : 0;
  return [
    ...before.map(({ at, look, sight, first, last }, index): GreenCall => {
      const next = before[index + 1]?.at.getTime() ?? start;
      return {
        at: at.getTime(),
        sight: sightOf(lookKept(look), sight),
        found: first?.value ?? null,
        left: last ? last.value + given(last.at.getTime(), next) : null,
      };
    }),
    {
      at: start,
      sight: sightOf(visit.look, plant.gauges.find(({ kind }) => kind === "sight")?.today?.value ?? null),
      found: first?.value ?? null,
      left: last && put > 0 ? last.value + put : null,
    },
  ];
}

/** @example greenOutlookAt(opened) // null */
export const greenOutlookAt = (opened: OpenedVisit): GreenOutlook | null => {
  const known = openJobs(opened).find(({ job }) => job.kind === "green");
  return outlookOf(opened, greenCalls(opened, known?.calls ?? []));
};

function outlookOf(opened: OpenedVisit, calls: readonly GreenCall[]): GreenOutlook | null {
  const { known, basin, visit, firm } = opened;
  const level = known.standing.cyanuricAcid === "assumed" ? null : greenLevel(known.water, basin.surface);
  const first = calls[0];
  // How deep one sees says most of it.
  if (level === null || !first || first.sight === null) return null;
  const products = plannedProducts(opened);
  return greenOutlook({
    calls,
    hour: hourIn(new Date(first.at), firm.timeZone),
    level,
    outdoors: !basin.indoors,
    litres: visit.litres,
    perMilligram: chlorineCost(products, visit.litres),
    perCall: firm.callPrice,
  });
}

/** A night between two calls, hours. */
const A_NIGHT = 8;
/** Combined chlorine that a won water may hold where its ranges say nothing, mg/L. */
const COMBINED = 0.5;

function checksOf(kind: JobKind, opened: OpenedVisit, calls: readonly GreenCall[]): JobCheck[] {
  if (kind === "closing") return [];
  if (kind === "opening") {
    const { state } = bathingAt(opened);
    return [{ code: "open", holds: state !== "closed" && state !== "untested", value: null }];
  }
  const [last, today] = calls.slice(-2);
  const level = greenLevel(opened.known.water, opened.basin.surface);
  const lost = nightOf(last, today);
  const combined = byQuantity(opened.readings).combinedChlorine;
  const most = opened.ranges.combinedChlorine?.high ?? COMBINED;
  return [
    {
      code: "floor",
      holds: opened.visit.look === null ? null : calls.at(-1)?.sight === "floor",
      value: null,
    },
    {
      code: "overnight",
      // Water that was left with little has little to lose.
      holds: lost === null || level === null ? null : lost <= HOLDS && (today?.found ?? 0) >= level / 2,
      value: lost,
    },
    { code: "combined", holds: combined ? combined.value <= most : null, value: combined?.value ?? null },
  ];
}

/** Free chlorine that went between an evening and the morning after, mg/L; null where it was no night. */
function nightOf(last: GreenCall | undefined, today: GreenCall | undefined): number | null {
  if (!last || !today || last.left === null || today.found === null) return null;
  const lost = last.left - today.found;
  // More than was left: something went in before the test, and the night says nothing.
  if (lost < -HOLDS || today.at - last.at < A_NIGHT * millisecondsInHour) return null;
  return Math.max(0, lost);
}

/**
 * The day of the next call: the basin's own, or one that a job asks for before it.
 * @example nextCallAt(opened) // "2026-05-11"
 */
export function nextCallAt(opened: OpenedVisit): string | null {
  const { basin, firm, visit } = opened;
  const own = nextCall(basin.calls, dayIn(visit.startedAt, firm.timeZone));
  const asked = openJobs(opened).map((one) => nextOf(opened, one.job));
  return [own, ...asked].reduce((first, day) =>
    first === null || (day !== null && day < first) ? day : first,
  );
}

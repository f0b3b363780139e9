import type { Due } from "./due";
import type { Station } from "./stations";

/** Every stop of a visit; the tests stand between the sample and the judgement. */
const BEFORE_TESTS = ["look", "sample"] as const;
const AFTER_TESTS = ["judge", "dose", "retest", "work", "close"] as const;
export type Stop = (typeof BEFORE_TESTS)[number] | Station | (typeof AFTER_TESTS)[number];

/** How a stop stands: still to do, done, or not due today and carried from earlier. */
export type StopState = "open" | "done" | "carried";

export interface VisitSoFar {
  due: readonly Due[];
  /** Quantities read in this visit. */
  read: ReadonlySet<string>;
  looked: boolean;
  sampled: boolean;
  finished: boolean;
  /** How far a plan has come; null while none is under way. */
  plan: { dosed: boolean; retests: boolean; retested: boolean; tested: boolean } | null;
  /** How many pieces of the call's other work are due and nobody has said anything of; null where there is none. */
  workLeft: number | null;
}

/** What a visit with these records has come to. @example visitSoFar(opened).looked // false */
export const visitSoFar = (opened: {
  visit: { look: unknown; sampling: unknown; finishedAt: unknown };
  due: readonly Due[];
  readings: readonly { quantity: string }[];
  progress: VisitSoFar["plan"];
  work: readonly { because: unknown; done: unknown }[];
}): VisitSoFar => ({
  due: opened.due,
  read: new Set(opened.readings.map((reading) => reading.quantity)),
  looked: opened.visit.look !== null,
  sampled: opened.visit.sampling !== null,
  finished: opened.visit.finishedAt !== null,
  plan: opened.progress,
  workLeft:
    opened.work.length === 0 ? null : opened.work.filter(({ because, done }) => because && !done).length,
});

/**
 * The visit as one ordered list of stops, each with its state: the same on the device and the server.
 * @example stopsOf(visitSoFar(opened))[0].stop // "look"
 */
export function stopsOf(visit: VisitSoFar): { stop: Stop; state: StopState }[] {
  const done = (is: boolean): StopState => (is ? "done" : "open");
  return [
    { stop: "look", state: done(visit.looked) },
    { stop: "sample", state: done(visit.sampled) },
    ...visit.due.map((one) => ({
      stop: one.station,
      state: visit.read.has(one.station)
        ? ("done" as const)
        : one.due
          ? ("open" as const)
          : ("carried" as const),
    })),
    // A plan that was begun is what goes on: the judgement is behind it.
    { stop: "judge", state: done(visit.finished || visit.plan !== null) },
    { stop: "dose", state: done(visit.finished || visit.plan?.dosed === true) },
    ...(visit.plan?.retests ? [{ stop: "retest" as const, state: retestState(visit.plan) }] : []),
    ...(visit.workLeft === null
      ? []
      : [{ stop: "work" as const, state: done(visit.finished || visit.workLeft === 0) }]),
    { stop: "close", state: done(visit.finished) },
  ];
}

/** A retest that was left out is behind, and nobody made it. */
const retestState = ({ retested, tested }: NonNullable<VisitSoFar["plan"]>): StopState =>
  !retested ? "open" : tested ? "done" : "carried";

/**
 * The first stop that is still open; the close when there is none.
 * @example nextStop(visitSoFar(opened)) // "look"
 */
export const nextStop = (visit: VisitSoFar): Stop =>
  stopsOf(visit).find(({ state }) => state === "open")?.stop ?? "close";

/**
 * The stop to go to from one: the next open one further down, so that what was skipped stays skipped
 * for now. From the last test on that is the judgement.
 * @example stopAfter(visitSoFar(opened), "look") // "sample"
 */
export function stopAfter(visit: VisitSoFar, here: Stop): Stop {
  const stops = stopsOf(visit);
  const index = stops.findIndex(({ stop }) => stop === here);
  return stops.slice(index + 1).find(({ state }) => state === "open")?.stop ?? "judge";
}

import { doubtsOf } from "../../doubts";
import { contextFor } from "../../doubts/context";
import { InputFault } from "../../fault";
import type { Measurement, Quantity } from "../../measure/quantity";
import { combinedFrom } from "../../testing/combined";
import { laterCount } from "../../testing/count/counting";
import { toAnswer } from "../../testing/doubt";
import { type Method, methodById } from "../../testing/kit";
import { reagentsUsed } from "../../testing/reagents";
import { measure, type Observation } from "../../testing/result";
import { bestOf } from "../../uncertainty/agreement";
import { bromineFromChlorine } from "../../water/chlorine";
import { bathingAt } from "../bathing";
import type { Brought } from "../brought";
import type { TestInput, VisitCommand } from "../commands";
import { type Fact, withFacts } from "../facts";
import { bottleInUse, bottlesNow, logView } from "../log";
import { outcomeFor } from "../promises";
import { findingsOverall, kindOf, planUnderWay, visitOf } from "../visit";
import type { BottleUse, VisitReading, Written } from "../written";
import type { DecisionInput } from "./input";
import { fact, isUnaware } from "./seen";

/** The method that a test names, from the version of the kit that it names. */
export function methodOf(
  { kits, olderKits }: Pick<Brought, "kits" | "olderKits">,
  kitId: string,
  methodId: string,
): Method {
  const kit = [...kits, ...olderKits].find(({ id }) => id === kitId)?.kit;
  if (!kit) throw new InputFault("unknown", "kitId", kitId);
  const method = methodById(kit, methodId);
  if (!method)
    throw new InputFault(
      "unknown",
      "methodId",
      methodId,
      kit.methods.map((known) => known.id),
    );
  return method;
}

/**
 * What was seen at one test or at all pads of a strip, converted by the kit version that it names. A total
 * chlorine reading also gives the combined one; a reading made again takes the place of the one before it,
 * if that one was known to whoever made it.
 *
 * @throws InputFault "unconfirmed" with the codes of doubts that have to be answered first
 */
export function read({ brought, written, command }: DecisionInput<"read">): Fact[] {
  const late = written.finishedAt !== null;
  let now = written;
  const facts: Fact[] = [];
  for (const test of command.given.tests) {
    const added = readOne(brought, now, command, test, late);
    facts.push(...added);
    now = withFacts(now, added);
  }
  if (late) {
    const after = visitOf(brought, now, command.at);
    facts.push(fact(command, "found", { findings: findingsOverall(after), bathing: bathingAt(after) }));
  }
  return facts;
}

/** A chlorine test in a bromine basin reads bromine as chlorine: 2.25 times as much is there. */
export function asRead(
  { basin }: Brought,
  { quantity }: Pick<Method, "quantity">,
  result: Measurement,
): { quantity: Quantity; result: Measurement } {
  if (basin.sanitiser !== "bromine" || (quantity !== "freeChlorine" && quantity !== "totalChlorine"))
    return { quantity, result };
  const times = (value: number | null) => (value === null ? null : bromineFromChlorine(value));
  return {
    quantity: "bromine",
    result: {
      ...result,
      value: bromineFromChlorine(result.value),
      low: times(result.low),
      high: times(result.high),
    },
  };
}

function readOne(
  brought: Brought,
  written: Written,
  command: VisitCommand,
  test: TestInput,
  late: boolean,
): Fact[] {
  const { seen } = command;
  const { visit } = brought;
  const kitId = test.kitId ?? visit.kitId;
  const method = methodOf(brought, kitId, test.methodId);
  const seenAs = measure(method, test.seen);
  const { quantity, result } = asRead(brought, method, seenAs);
  // After a plan's doses the water is another: only what was read since stands beside this reading.
  const round = Math.min(seen?.plans ?? Number.POSITIVE_INFINITY, written.plans.length);
  const standing = written.readings.filter((one) => one.round === round);
  const log = logView(brought, written, command.at);
  const doubts = doubtsOf(contextFor(log, standing, { method, result: seenAs, seen: test.seen })).filter(
    (doubt) => doubt.moment === "result",
  );
  const scatter = brought.scatters?.[command.by.id]?.[method.id];
  const reading: VisitReading = {
    ...result,
    id: test.id,
    visitId: visit.id,
    quantity,
    kitId,
    methodId: method.id,
    observation: test.seen,
    doubts,
    takenAt: command.at,
    used: true,
    round,
    by: command.by.name,
    ...(scatter === undefined ? {} : { scatter }),
    ...(late ? { late } : {}),
  };
  const combined = combinedOf(standing, reading);
  // What is expected is learned anew at any time: it was asked where the test was made, and is not asked again
  // when the reading arrives.
  const open = toAnswer(
    doubts.filter(({ code }) => code !== "far-from-expected"),
    test.confirmed,
  );
  // What speaks against it by things that nobody could see there is kept with it, and asked of nobody.
  if (open.length > 0 && !isUnaware(written, seen))
    throw new InputFault(
      "unconfirmed",
      method.quantity,
      result.value,
      open.map((doubt) => doubt.code),
    );
  const uses = usesOf(brought, written, reading.id, method, test.seen);
  const first = readFact(brought, written, command, reading, uses);
  const readings = combined
    ? [first, readFact(brought, withFacts(written, [first]), command, combined, [])]
    : [first];
  const plan = planUnderWay(written);
  const kept = [reading, ...(combined ? [combined] : [])].flatMap((one) => {
    const outcome = outcomeFor(plan, written.doses, one);
    return plan && outcome
      ? [fact(command, "kept-promise", { planId: plan.id, readingId: one.id, outcome })]
      : [];
  });
  return [...readings, ...kept];
}

/** The fact of a reading: what it stands in place of, and which of its kind is used from now on. */
export function readFact(
  brought: Brought,
  written: Written,
  command: Pick<VisitCommand, "by" | "at" | "seen">,
  reading: VisitReading,
  uses: BottleUse[],
  corrects: { was: number } | null = null,
): Fact {
  const same = written.readings.filter(
    (one) => one.quantity === reading.quantity && one.round === reading.round,
  );
  const byMethod = same.filter((one) => one.kitId === reading.kitId && one.methodId === reading.methodId);
  const { seen } = command;
  const superseded = seen ? byMethod.find(({ id }) => seen.readings.includes(id)) : byMethod.at(-1);
  const standing = [...same.filter((one) => one !== superseded), reading].sort(
    (a, b) => a.takenAt.getTime() - b.takenAt.getTime(),
  );
  // Among readings of one quantity the one with the narrowest interval is used.
  const best = standing[bestOf(standing.map((one) => ({ ...one, kind: kindOf(brought, one) })))];
  return fact(command, "read", {
    reading,
    supersedes: superseded?.id ?? null,
    used: best?.id ?? reading.id,
    uses,
    corrects,
  });
}

/** Combined chlorine as total less free, when this reading is one of the two and the other is there. */
export function combinedOf(standing: readonly VisitReading[], reading: VisitReading): VisitReading | null {
  if (reading.quantity !== "totalChlorine" && reading.quantity !== "freeChlorine") return null;
  const newest = (quantity: VisitReading["quantity"]) =>
    reading.quantity === quantity ? reading : standing.find((one) => one.quantity === quantity && one.used);
  const total = newest("totalChlorine");
  const free = newest("freeChlorine");
  if (!total) return null;
  if (!free) throw new InputFault("missing", "freeChlorine", undefined);
  return {
    ...total,
    ...combinedFrom(total, free),
    id: partId(reading.id),
    quantity: "combinedChlorine",
    // A difference scatters otherwise than what it is the difference of.
    scatter: undefined,
    doubts: total.doubts.filter((doubt) => doubt.code === "persulfate-in-combined"),
    takenAt: reading.takenAt,
    by: reading.by,
    why: reading.why,
    late: reading.late,
  };
}

/** The id of what follows from a reading: the same wherever it is worked out. */
function partId(id: string): string {
  // The last digit of the random part is turned over; a UUID stays one.
  const digit = Number.parseInt(id.slice(-1), 16) ^ 0xf;
  return `${id.slice(0, -1)}${digit.toString(16)}`;
}

/** What a test took out of the bottles in use, each reagent once. */
function usesOf(
  brought: Brought,
  written: Written,
  readingId: string,
  method: Method,
  seen: Observation,
): BottleUse[] {
  const bottles = bottlesNow(brought, written);
  const together = new Map<string, number>();
  for (const { reagent, amount } of reagentsUsed(method, seen))
    together.set(reagent, (together.get(reagent) ?? 0) + amount);
  return [...together].map(([reagent, amount]) => ({
    readingId,
    reagent,
    amount,
    bottleId: bottleInUse(bottles, reagent)?.id ?? null,
  }));
}

/** A count under way; an earlier copy changes nothing, see `laterCount`. */
export function count({ written, command }: DecisionInput<"count">): Fact[] {
  const { methodId, ...state } = command.given;
  const stands = written.counts[methodId];
  if (stands && laterCount(stands, state) === stands) return [];
  return [fact(command, "counted", { methodId, state })];
}

import { InputFault } from "../../fault";
import { measure } from "../../testing/result";
import { bathingAt } from "../bathing";
import { type Fact, withFacts } from "../facts";
import { judge } from "../judgement";
import { findingsOverall, planUnderWay, visitOf } from "../visit";
import type { VisitReading } from "../written";
import type { DecisionInput } from "./input";
import { fact } from "./seen";
import { asRead, combinedOf, methodOf, readFact } from "./tests";

export const LONGEST_NOTE = 4000;
/** No feeder gives more chlorine, mg/L a day. */
export const MOST_FED = 100;

/**
 * Closes the visit: findings are written as they stand, the note is kept. One at which nobody tested the water says why. One that somebody else closed
 * stays as they closed it; a note made here is added to theirs.
 */
export function close({ brought, written, command }: DecisionInput<"close">): Fact[] {
  const note = command.given.note.trim();
  if (written.finishedAt) {
    if (note === "" || note === written.note) return [];
    const both = written.note === "" ? note : `${written.note}\n${note}`;
    if (both.length > LONGEST_NOTE) throw new InputFault("too-long", "note", both.length, LONGEST_NOTE);
    return [fact(command, "noted", { note: both })];
  }
  const opened = visitOf(brought, written, command.at);
  const isTested = opened.readings.length > 0;
  const untested = isTested ? null : (command.given.untested ?? null);
  if (!isTested && untested === null) throw new InputFault("missing", "readings", 0, 1);
  if (untested === "other" && note === "") throw new InputFault("missing", "note", note);
  const plan = planUnderWay(written);
  // A clock that was put back does not keep a visit open.
  const at = command.at < opened.visit.startedAt ? opened.visit.startedAt : command.at;
  return [
    fact(command, "found", { findings: findingsOverall(opened), bathing: bathingAt(opened) }),
    ...(plan ? [fact(command, "stopped", { planId: plan.id, why: "" })] : []),
    fact({ ...command, at }, "closed", {
      note,
      notices: judge(opened).notices,
      weather: command.given.weather ?? null,
      feederSetting: command.given.feederSetting ?? null,
      untested,
    }),
  ];
}

/**
 * Corrects a reading of a finished visit: another stands in its place from now on, with who, when and
 * why; the old one stays in the trail. What the visit found is worked out again.
 */
export function correct({ brought, written, command }: DecisionInput<"correct">): Fact[] {
  const { readingId, seen, why } = command.given;
  if (!written.finishedAt) throw new InputFault("inconsistent", "visit", "under way");
  if (!why.trim()) throw new InputFault("missing", "why", why);
  const wrong = written.readings.find((reading) => reading.id === readingId);
  if (!wrong) throw new InputFault("changed", "readingId", readingId);
  const method = methodOf(brought, wrong.kitId, wrong.methodId);
  // What was worked out from another reading is put right by that one.
  const { quantity, result } = asRead(brought, method, measure(method, seen));
  if (quantity !== wrong.quantity)
    throw new InputFault("inconsistent", wrong.quantity, wrong.value, method.quantity);
  const reading: VisitReading = {
    ...wrong,
    ...result,
    id: command.id,
    observation: seen,
    doubts: [],
    why: why.trim(),
    by: command.by.name,
  };
  // The trail says when it was corrected; the reading keeps the moment at which it was made.
  const beside = written.readings.filter((one) => one.round === wrong.round && one.id !== wrong.id);
  const combined = combinedOf(beside, reading);
  const first = readFact(brought, written, { ...command, seen: undefined }, reading, [], {
    was: wrong.value,
  });
  const facts = combined
    ? [first, readFact(brought, withFacts(written, [first]), { ...command, seen: undefined }, combined, [])]
    : [first];
  const after = visitOf(brought, withFacts(written, facts), command.at);
  return [...facts, fact(command, "found", { findings: findingsOverall(after), bathing: bathingAt(after) })];
}

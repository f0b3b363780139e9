import { InputFault } from "../../fault";
import { type NotOver, whyNotOver } from "../../judging/incidents";
import { bathingAt } from "../bathing";
import { type Fact, withFacts } from "../facts";
import { findingsOverall, visitOf } from "../visit";
import type { DecisionInput } from "./input";
import { fact, isDecided } from "./seen";

/** Something happened: from now on the basin is closed, a visit that was closed before it too. */
export function reportIncident({ brought, written, command }: DecisionInput<"report-incident">): Fact[] {
  const happened = fact(command, "happened", {
    incident: {
      id: command.id,
      kind: command.given.kind,
      at: command.at,
      by: command.by.name,
      note: command.given.note.trim(),
      over: null,
    },
  });
  if (!written.finishedAt) return [happened];
  const after = visitOf(brought, withFacts(written, [happened]), command.at);
  return [happened, fact(command, "found", { findings: findingsOverall(after), bathing: bathingAt(after) })];
}

/**
 * An incident is over: what it asks for was done, long enough, and by whoever decides it. Bathing begins after
 * the next test of sanitiser and pH, see `bathingAt`.
 * @throws InputFault "unknown" incident, "missing" who decided it, "unconfirmed" with what is still asked for
 */
export function endIncident({ brought, written, command }: DecisionInput<"end-incident">): Fact[] {
  const { incidentId, who } = command.given;
  const opened = visitOf(brought, written, command.at);
  const incident = opened.incidents.find(({ id }) => id === incidentId);
  if (!incident) throw new InputFault("unknown", "incidentId", incidentId);
  if (incident.over) return [];
  const why = whyNotOver(incident, {
    now: command.at,
    readings: [...opened.before, ...opened.readings],
    stabiliser: opened.known.standing.cyanuricAcid === "assumed" ? 0 : opened.known.water.cyanuricAcid,
    who,
  });
  // A device that knew of no more readings than these decided by them.
  if (why && !isDecided(command.seen)) throw notOver(why, incident.kind);
  const over = { at: command.at, by: command.by.name, who: who.trim() };
  return [fact(command, "over", { incident: { ...incident, over } })];
}

function notOver(why: NotOver, kind: string): InputFault {
  switch (why.code) {
    case "nobody-named":
      return new InputFault("missing", "who", kind);
    case "too-soon":
      return new InputFault("unconfirmed", "incident", kind, [why.code, why.minutes]);
    case "not-held":
      return new InputFault("unconfirmed", "incident", kind, [why.code, why.freeChlorine, why.ph]);
    case "stabiliser-too-high":
      return new InputFault("unconfirmed", "incident", kind, [why.code, why.most]);
  }
}

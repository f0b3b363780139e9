import { InputFault } from "../../fault";
import { mixesLike } from "../../ranges/bathing-limits";
import {
  closingTroubles,
  type Look,
  type LookKept,
  lookKept,
  nothingFound,
  SENSE_NAMES,
} from "../../testing/order/look";
import { samplingProblems } from "../../testing/order/sampling";
import type { Fact } from "../facts";
import { logView } from "../log";
import type { DecisionInput } from "./input";
import { fact, isDecided } from "./seen";

/**
 * What the look round found. Two who looked apart from one another saw both. What closed the basin once keeps it
 * closed until it was looked at again and tested after that.
 */
export function look({ written, command }: DecisionInput<"look">): Fact[] {
  const { seen, at } = command;
  // A device of an older build asked for less.
  const given = lookKept(command.given) ?? nothingFound();
  const before = lookKept(written.look);
  const apart = before !== null && seen !== undefined && !seen.looked;
  const now = apart ? bothLooks(before, given) : given;
  const kept: LookKept = { ...now, at: at.toISOString() };
  const closedAt = closingTroubles(now).length > 0 ? at.toISOString() : before?.closedAt;
  return [fact(command, "looked", { look: closedAt === undefined ? kept : { ...kept, closedAt } })];
}

function bothLooks(first: Look, second: Look): Look {
  const found = SENSE_NAMES.map((sense) => [sense, [...new Set([...first[sense], ...second[sense]])]]);
  const notes = [first.note, second.note].filter((note, index, all) => note && all.indexOf(note) === index);
  return { ...Object.fromEntries(found), note: notes.join("\n") } as Look;
}

/** How the sample was taken. What spoke against it and was ignored is worked out here, not taken as it is told. */
export function sample({ brought, written, command }: DecisionInput<"sample">): Fact[] {
  const { given, seen, at } = command;
  // Of two who took a sample apart from one another, the first one's stands: the book has one line for it.
  if (written.sampling && seen && !seen.sampled) return [];
  const log = logView(brought, written, at);
  const problems = samplingProblems(
    given.circulation,
    log.doses[0]?.hoursAgo ?? null,
    mixesLike(brought.basin.kind),
  );
  const silent = problems.filter((problem) => !given.ignored.includes(problem));
  if (silent.length > 0 && !isDecided(seen))
    throw new InputFault("unconfirmed", "sampling", given.circulation, silent);
  return [fact(command, "sampled", { sampling: { circulation: given.circulation, ignored: problems } })];
}

import { InputFault, type KeptCount, type VisitCommands } from "#core";
import type { NamedAuthor } from "../author";
import type { FirmScope } from "../db/connection";
import { keepCount } from "../db/counts";
import { lockVisit } from "../db/visit-record";
import { startedAs } from "../db/visits";

/** A count that was kept, and in which visit. */
export interface CountDone {
  visitId: string;
  methodId: string;
  stands: KeptCount;
}

/**
 * Takes in a count under way. It may come twice, late or never without harm, so no command is kept of it, and of its
 * visit nothing else is read.
 *
 * @throws InputFault "unknown" for a visit that is not this firm's
 */
export async function carryOutCount(
  scope: FirmScope,
  { firmId, now }: NamedAuthor,
  visitId: string,
  given: VisitCommands["count"],
): Promise<CountDone> {
  await lockVisit(scope, firmId, visitId);
  const stands = await keepCount(scope, firmId, visitId, given, now);
  if (stands) return { visitId, methodId: given.methodId, stands };
  // Begun on a device while another was under way here: it is that one.
  const other = await startedAs(scope, visitId);
  if (!other || other === visitId) throw new InputFault("not-there", "visit", visitId);
  await lockVisit(scope, firmId, other);
  const there = await keepCount(scope, firmId, other, given, now);
  if (!there) throw new InputFault("not-there", "visit", visitId);
  return { visitId: other, methodId: given.methodId, stands: there };
}

import { InputFault, measure, type Observation } from "#core";
import type { Author } from "../author";
import { note } from "../db/audit";
import type { FirmScope } from "../db/connection";
import { replaceFindings } from "../db/doses";
import { readingsOfVisits, saveReading } from "../db/readings";
import { visitById } from "../db/visits";
import { bestByAccuracy, combinedOf } from "./record";
import { findingsOverall, methodOf, openVisit } from "./visit";

export interface SentCorrection {
  id: string;
  /** The reading that was wrong. */
  readingId: string;
  seen: Observation;
  why: string;
}

/**
 * Corrects a reading of a finished visit: another stands in its place from now on, with who, when and
 * why; the old one stays in the trail. What the visit found is worked out again.
 */
export async function correctReading(
  scope: FirmScope,
  author: Author,
  visitId: string,
  sent: SentCorrection,
): Promise<void> {
  await scope.selectFrom("visit").select("id").where("id", "=", visitId).forUpdate().execute();
  const visit = await visitById(scope, visitId);
  if (!visit) throw new InputFault("unknown", "visit", visitId);
  if (!visit.finishedAt) throw new InputFault("inconsistent", "visit", "under way");
  if (!sent.why.trim()) throw new InputFault("missing", "why", sent.why);
  const standing = await readingsOfVisits(scope, [visitId]);
  const wrong = standing.find((reading) => reading.id === sent.readingId);
  if (!wrong) throw new InputFault("changed", "readingId", sent.readingId);
  const method = await methodOf(scope, wrong.kitId, wrong.methodId);
  // What was worked out from another reading is put right by that one.
  if (method.quantity !== wrong.quantity)
    throw new InputFault("inconsistent", wrong.quantity, wrong.value, method.quantity);
  const opened = await openVisit(scope, visitId, author.now);
  if (!opened) throw new InputFault("unknown", "visit", visitId);
  const reading = {
    ...wrong,
    ...measure(method, sent.seen),
    id: sent.id,
    observation: sent.seen,
    doubts: [],
    why: sent.why.trim(),
  };
  const best = await bestByAccuracy(scope, opened, reading);
  await saveReading(scope, author.firmId, author.memberId, reading, best, author.now);
  await note(scope, author, "reading-corrected", visitId, {
    name: reading.why,
    changes: { [reading.quantity]: { was: wrong.value, became: reading.value } },
  });
  const beside = standing.filter((one) => one.round === wrong.round && one.id !== wrong.id);
  const combined = combinedOf(beside, reading);
  if (combined)
    await saveReading(
      scope,
      author.firmId,
      author.memberId,
      { ...combined, why: reading.why },
      best,
      author.now,
    );
  const after = await openVisit(scope, visitId, author.now);
  if (after) await replaceFindings(scope, author.firmId, visitId, findingsOverall(after));
}

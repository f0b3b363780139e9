import { InputFault } from "#core";
import type { Author } from "../author";
import { note } from "../db/audit";
import { basinById } from "../db/basins";
import type { FirmScope } from "../db/connection";
import { isWorking } from "../db/members";
import { putCall, takeDay } from "../db/rounds";

/** Changes to a day's round. Whoever saw an older state of the day is told, and nothing is lost. */

export interface OrderInput {
  day: string;
  version: number;
  basinIds: string[];
}

/** Puts the calls of a day in this order. */
export async function orderCalls(scope: FirmScope, { firmId }: Author, sent: OrderInput): Promise<void> {
  await takeDay(scope, firmId, sent.day, sent.version);
  for (const [position, basinId] of sent.basinIds.entries()) {
    await known(scope, basinId);
    await putCall(scope, firmId, sent.day, { basinId, position });
  }
}

export interface CallInput {
  day: string;
  version: number;
  basinId: string;
  /** Who makes it; null for whoever is free. */
  memberId: string | null;
}

/** Adds a call to a day, or says who makes it. */
export async function assignCall(scope: FirmScope, { firmId }: Author, sent: CallInput): Promise<void> {
  await takeDay(scope, firmId, sent.day, sent.version);
  await known(scope, sent.basinId);
  if (sent.memberId && !(await isWorking(scope, sent.memberId)))
    throw new InputFault("unknown", "memberId", sent.memberId);
  await putCall(scope, firmId, sent.day, { basinId: sent.basinId, memberId: sent.memberId });
}

export interface SkipInput {
  day: string;
  basinId: string;
  /** Empty takes the skip back. */
  why: string;
}

/** Skips a call, with the reason; or takes that back. */
export async function skipCall(scope: FirmScope, author: Author, sent: SkipInput): Promise<void> {
  const basin = await known(scope, sent.basinId);
  const why = sent.why.trim();
  await putCall(scope, author.firmId, sent.day, {
    basinId: sent.basinId,
    skipped: why ? { why, by: author.memberId, at: author.now } : null,
  });
  if (why)
    await note(scope, author, "call-skipped", sent.basinId, { name: `${basin.name}, ${sent.day}: ${why}` });
}

async function known(scope: FirmScope, basinId: string) {
  const basin = await basinById(scope, basinId);
  if (!basin) throw new InputFault("unknown", "basinId", basinId);
  return basin;
}

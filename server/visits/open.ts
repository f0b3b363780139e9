import { type OpenedVisit, visitOf } from "#core";
import type { FirmScope } from "../db/connection";
import { readVisit } from "../db/visit-record";

/** Opens a visit as its pages show it, or undefined when this firm has none under that id. */
export async function openVisit(
  scope: FirmScope,
  visit: { id: string; memberId: string },
  now: Date,
): Promise<OpenedVisit | undefined> {
  const record = await readVisit(scope, visit, now);
  return record && visitOf(record.brought, record.written, now);
}

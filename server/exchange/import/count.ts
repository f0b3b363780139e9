import type { FirmScope } from "../../db/connection";
import { visitsHere } from "../../db/visits";
import type { Importing } from "./importing";

/** Counts visits that are new and those that are here, for a dry run. */
export async function countVisits(scope: FirmScope, importing: Importing, ids: string[]): Promise<void> {
  if (ids.length === 0) return;
  const here = await visitsHere(scope, ids);
  importing.counted(ids.length - here, here);
}

import type { FirmScope } from "./connection";

/** How far a new firm is on its way to its first finished visit. */
export interface FirstSteps {
  /** The one that was added first. */
  basin: { id: string; name: string; isCalledAt: boolean } | null;
  /** A visit that was begun. */
  visitId: string | null;
}

/** Null once a visit was finished: whoever has made one knows the way. */
export async function firstStepsOf(scope: FirmScope): Promise<FirstSteps | null> {
  const finished = await scope
    .selectFrom("visit")
    .select("id")
    .where("finished_at", "is not", null)
    .limit(1)
    .executeTakeFirst();
  if (finished) return null;
  const basin = await scope
    .selectFrom("basin")
    .select(["id", "name", "call_days"])
    .orderBy("position")
    .limit(1)
    .executeTakeFirst();
  const begun = await scope.selectFrom("visit").select("id").limit(1).executeTakeFirst();
  return {
    basin: basin ? { id: basin.id, name: basin.name, isCalledAt: basin.call_days.length > 0 } : null,
    visitId: begun?.id ?? null,
  };
}

import { subDays } from "date-fns";
import { dayIn, type Firm } from "#core";
import { allBasins } from "../db/basins";
import { asFirm, type Database } from "../db/connection";
import { firmIds, firmOf } from "../db/firms";
import { isLearned, logSince, saveLearned } from "../db/learned";
import type { Workbench } from "../work/workbench";
import { firmLogOf, LOG_DAYS } from "./firm-log";

/** Learns a firm from its book, in a thread, and keeps what came of it. No row is held meanwhile. */
export async function learnOneFirm(
  db: Database,
  firmId: string,
  work: Pick<Workbench, "learn">,
  now: Date,
): Promise<void> {
  const log = await asFirm(db, firmId, async (scope) => {
    const firm: Firm = await firmOf(scope);
    const rows = await logSince(scope, subDays(now, LOG_DAYS));
    return firmLogOf(await allBasins(scope), rows, now, firm.timeZone, dayIn(now, firm.timeZone));
  });
  if (log.basins.every(({ visits }) => visits.length === 0)) return;
  const learned = await work.learn(log);
  const visits = new Map(log.basins.map((basin) => [basin.id, basin.visits.length]));
  await asFirm(db, firmId, (scope) =>
    saveLearned(
      scope,
      firmId,
      {
        basins: learned.basins
          .map((content) => ({ content, visits: visits.get(content.id) ?? 0 }))
          .filter((one) => one.visits > 0),
        suspicions: learned.suspicions,
      },
      now,
    ),
  );
}

/** Has every firm learned that has a book and was never learned, or by another version of the learner. */
export async function learnUnlearned(db: Database, jobs: { learnSoon(firmId: string): Promise<void> }) {
  for (const id of await firmIds(db)) {
    const isKnown = await asFirm(db, id, isLearned);
    if (!isKnown) await jobs.learnSoon(id);
  }
}

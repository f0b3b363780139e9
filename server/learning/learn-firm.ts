import { subDays } from "date-fns";
import { addDays, type Basin, dayIn, type WeatherDay } from "#core";
import { allBasins } from "../db/basins";
import { asFirm, type Database } from "../db/connection";
import { deliveriesOf } from "../db/deliveries";
import { firmIds, firmOf } from "../db/firms";
import { isLearned, logSince, saveLearned } from "../db/learned";
import type { Workbench } from "../work/workbench";
import { firmLogOf, LOG_DAYS, MOST_AHEAD_DAYS } from "./firm-log";

/** What learning needs beside the book: a thread, and where there is a service the weather of days to come. */
export interface LearnWith {
  learn: Workbench["learn"];
  weatherBetween(district: string, from: string, to: string): Promise<WeatherDay[]>;
}

/** Learns a firm from its book, in a thread, and keeps what came of it. No row is held meanwhile. */
export async function learnOneFirm(db: Database, firmId: string, work: LearnWith, now: Date): Promise<void> {
  const { basins, rows, deliveries, timeZone } = await asFirm(db, firmId, async (scope) => ({
    basins: await allBasins(scope),
    rows: await logSince(scope, subDays(now, LOG_DAYS)),
    deliveries: await deliveriesOf(scope),
    timeZone: (await firmOf(scope)).timeZone,
  }));
  const today = dayIn(now, timeZone);
  const expected = await work.weatherBetween(districtOf(basins), today, addDays(today, MOST_AHEAD_DAYS));
  const log = firmLogOf(basins, rows, deliveries, expected, now, timeZone);
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

/** Where most of a firm's basins stand. */
const districtOf = (basins: readonly Basin[]): string => {
  const count = new Map<string, number>();
  for (const { site } of basins) count.set(site.district, (count.get(site.district) ?? 0) + 1);
  return [...count].sort((a, b) => b[1] - a[1])[0]?.[0] ?? "";
};

/** Has every firm learned that has a book and was never learned, or by another version of the learner. */
export async function learnUnlearned(db: Database, jobs: { learnSoon(firmId: string): Promise<void> }) {
  for (const id of await firmIds(db)) {
    const isKnown = await asFirm(db, id, isLearned);
    if (!isKnown) await jobs.learnSoon(id);
  }
}

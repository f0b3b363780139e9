import pg from "pg";
import PgBoss from "pg-boss";
import type { Database } from "../db/connection";
import { type LearnWith, learnOneFirm } from "../learning/learn-firm";
import { JOB_NAMES, JOBS, type JobName } from "./nightly";

/** At what time of night each begins, UTC: after the due list the rest. Firms west of there are still asleep. */
const CRON: Record<JobName, string> = {
  "due-list": "5 8 * * *",
  expiry: "35 8 * * *",
  feeds: "45 8 * * *",
  learning: "50 8 * * *",
};

export interface JobRun {
  name: JobName;
  state: string;
  createdAt: Date;
  completedAt: Date | null;
  /** What it came to, or why it failed. */
  said: string;
}

export interface Jobs {
  /** Puts a job into the queue now. */
  send(name: JobName): Promise<void>;
  /** Learns a firm soon: a visit of it was closed. Closes that follow one another are learned together. */
  learnSoon(firmId: string): Promise<void>;
  /** The last runs, the newest first. */
  recent(): Promise<JobRun[]>;
  stop(): Promise<void>;
}

/** The queue of firms of which a visit was closed. */
const LEARN_ONE = "learn-one";
const LEARN_AFTER_SECONDS = 5;

const SETTING = { schema: "pgboss", retryLimit: 3, retryBackoff: true } as const;

/** Makes the queue's tables by their owner, and lets the role that serves pages put jobs in and out. */
async function prepareQueue(ownerUrl: string, url: string): Promise<void> {
  const boss = new PgBoss({ ...SETTING, connectionString: ownerUrl, max: 1, supervise: false });
  boss.on("error", () => {});
  await boss.start();
  for (const name of [...JOB_NAMES, LEARN_ONE]) await boss.createQueue(name);
  const role = pg.escapeIdentifier(decodeURIComponent(new URL(url).username));
  for (const right of [
    "usage on schema pgboss",
    "select, insert, update, delete on all tables in schema pgboss",
    "execute on all functions in schema pgboss",
  ])
    await boss.getDb().executeSql(`grant ${right} to ${role}`, []);
  await boss.stop({ graceful: false, wait: true });
}

/** Starts the queue on the same database, in a schema of its own. */
export async function startJobs(
  db: Database,
  { url, ownerUrl }: { url: string; ownerUrl: string },
  now: () => Date,
  work: LearnWith,
  failedOne: (fault: unknown) => void,
): Promise<Jobs> {
  if (ownerUrl !== url) await prepareQueue(ownerUrl, url);
  const boss = new PgBoss({ ...SETTING, connectionString: url, max: 2, migrate: ownerUrl === url });
  boss.on("error", failedOne);
  await boss.start();
  for (const name of JOB_NAMES) {
    await boss.createQueue(name);
    await boss.schedule(name, CRON[name]);
    await boss.work(name, async () => {
      const { count, failed } = await JOBS[name](db, now(), work);
      for (const fault of failed) failedOne(fault);
      // Said and tried again: every job may run twice with the same effect.
      if (failed.length > 0) throw new Error(`${failed.length} of ${count + failed.length} firms`);
      return { count };
    });
  }
  await boss.createQueue(LEARN_ONE);
  await boss.work<{ firmId: string }>(LEARN_ONE, async (sent) => {
    for (const { data } of sent) await learnOneFirm(db, data.firmId, work, now());
  });
  return {
    learnSoon: async (firmId) => {
      await boss.sendDebounced(LEARN_ONE, { firmId }, {}, LEARN_AFTER_SECONDS, firmId);
    },
    send: async (name) => {
      await boss.send(name, {});
    },
    recent: async () => {
      const rows = await boss.getDb().executeSql(
        `select name, state::text as state, created_on, completed_on, output from (
           select name, state, created_on, completed_on, output from pgboss.job
           union all select name, state, created_on, completed_on, output from pgboss.archive
         ) as run where name = any($1) order by created_on desc limit 30`,
        [JOB_NAMES],
      );
      return rows.rows.map((row) => ({
        name: row.name,
        state: row.state,
        createdAt: row.created_on,
        completedAt: row.completed_on,
        said: row.output?.count !== undefined ? String(row.output.count) : String(row.output?.message ?? ""),
      }));
    },
    stop: () => boss.stop({ graceful: false, wait: false }),
  };
}

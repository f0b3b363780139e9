import pg from "pg";
import PgBoss from "pg-boss";
import type { Database } from "../db/connection";
import { firmsWithMail } from "../db/mail";
import { firmsWithHooks } from "../db/webhooks";
import { type LearnWith, learnOneFirm } from "../learning/learn-firm";
import { type MailWith, sendMail } from "../mail/deliver";
import { jobsTakenOver, watchQueue } from "../metrics";
import { type HookWith, sendHooks } from "../webhooks/deliver";
import type { Workbench } from "../work/workbench";
import { type ImportOrder, LONGEST_IMPORT_SECONDS, runImport } from "./import-job";
import { BEAT_SECONDS, Leases } from "./leases";
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
  /** Puts a job into the queue now, for one firm; one that was put in a moment ago will do. */
  send(name: JobName, firmId: string): Promise<void>;
  /** Learns a firm soon: a visit of it was closed. Closes that follow one another are learned together. */
  learnSoon(firmId: string): Promise<void>;
  /** Sends the letters that wait in a firm soon: a visit of it was closed. */
  mailSoon(firmId: string): Promise<void>;
  /** Tells other programs soon what happened in a firm. */
  hooksSoon(firmId: string): Promise<void>;
  /** Does the run of a file that was begun, whichever server takes it. */
  importFile(order: ImportOrder): Promise<void>;
  /** The last runs for every firm, and for this one, the newest first. */
  recent(firmId: string): Promise<JobRun[]>;
  stop(): Promise<void>;
}

/** The queue of firms of which a visit was closed, and of all of them once a night. */
const LEARN_ONE = "learn-one";
const LEARN_AFTER_SECONDS = 5;
/** The queue of firms whose letters wait, and the look for those that wait to be tried again. */
const MAIL = "mail";
const MAIL_AGAIN = "mail-again";
const MAIL_AFTER_SECONDS = 2;
const MAIL_AGAIN_CRON = "*/2 * * * *";
/** The queue of firms of which other programs are to be told, and the look for those that wait to be told again. */
const HOOKS = "hooks";
const HOOKS_AGAIN = "hooks-again";
const HOOKS_AFTER_SECONDS = 1;
const HOOKS_AGAIN_CRON = "* * * * *";
/** The queue of files that are tried or put in. */
const IMPORT = "import";

/**
 * How long a job may take: no server is waited for longer. One that died is found out by its silence long before,
 * see `Leases`; this is for one that lives and hangs.
 */
const LIMITS = {
  [IMPORT]: {
    expireInSeconds: LONGEST_IMPORT_SECONDS + 60,
    retryLimit: 6,
    retryDelay: 5,
    retryBackoff: true,
  },
  // A server that does not answer takes half a minute a letter; what waits on is looked for again.
  [MAIL]: { expireInSeconds: 60 * 60, retryLimit: 0 },
  // An address that does not answer takes ten seconds a telling; what waits on is looked for again.
  [HOOKS]: { expireInSeconds: 60 * 60, retryLimit: 0 },
  // A second or two a basin.
  [LEARN_ONE]: { expireInSeconds: 60 * 60, retryLimit: 3, retryBackoff: true },
  // Every firm in turn, a few statements each.
  night: { expireInSeconds: 60 * 60, retryLimit: 3, retryBackoff: true },
} as const;

/** An owner who asks again at once is not heard twice. */
const SENT_LATELY_SECONDS = 5;
/** Somebody waits for it. */
const IMPORT_POLL_SECONDS = 0.5;
/** Files that a server tries or puts in at a time; each has a thread and a connection. */
export const IMPORTS_AT_A_TIME = 2;

const SETTING = { schema: "pgboss", ...LIMITS.night } as const;

/** Makes the queue's tables by their owner, and lets the role that serves pages put jobs in and out. */
async function prepareQueue(ownerUrl: string, url: string): Promise<void> {
  const boss = new PgBoss({ ...SETTING, connectionString: ownerUrl, max: 1, supervise: false });
  boss.on("error", () => {});
  await boss.start();
  for (const name of [...JOB_NAMES, LEARN_ONE, MAIL, MAIL_AGAIN, HOOKS, HOOKS_AGAIN, IMPORT])
    await boss.createQueue(name);
  const role = pg.escapeIdentifier(decodeURIComponent(new URL(url).username));
  for (const right of [
    "usage on schema pgboss",
    "select, insert, update, delete on all tables in schema pgboss",
    "execute on all functions in schema pgboss",
  ])
    await boss.getDb().executeSql(`grant ${right} to ${role}`, []);
  await boss.stop({ graceful: false, wait: true });
}

interface QueueOf {
  url: string;
  ownerUrl: string;
  /** Whether this server does jobs too, and does not only put them in. */
  works: boolean;
}

/** Starts the queue on the same database, in a schema of its own. One that only puts jobs in waits for its tables. */
export async function startJobs(
  db: Database,
  { url, ownerUrl, works }: QueueOf,
  now: () => Date,
  work: LearnWith & MailWith & HookWith & Pick<Workbench, "importFile">,
  failedOne: (fault: unknown) => void,
): Promise<Jobs> {
  if (works && ownerUrl !== url) await prepareQueue(ownerUrl, url);
  const boss = new PgBoss({
    ...SETTING,
    connectionString: url,
    max: 2,
    migrate: works && ownerUrl === url,
    ...(works ? {} : { supervise: false, schedule: false }),
  });
  boss.on("error", failedOne);
  const end = () => boss.stop({ graceful: false, wait: false });
  /** What was begun of a start that goes no further is let go: it is started anew. */
  const orEnd = <Made>(starting: Promise<Made>): Promise<Made> =>
    starting.catch(async (fault) => {
      await end().catch(() => {});
      throw fault;
    });
  await orEnd(boss.start());
  const importers: string[] = [];
  const jobs: Omit<Jobs, "stop"> = {
    learnSoon: async (firmId) => {
      await boss.sendDebounced(LEARN_ONE, { firmId }, LIMITS[LEARN_ONE], LEARN_AFTER_SECONDS, firmId);
    },
    mailSoon: async (firmId) => {
      await boss.sendDebounced(MAIL, { firmId }, LIMITS[MAIL], MAIL_AFTER_SECONDS, firmId);
    },
    hooksSoon: async (firmId) => {
      await boss.sendDebounced(HOOKS, { firmId }, LIMITS[HOOKS], HOOKS_AFTER_SECONDS, firmId);
    },
    importFile: async (order) => {
      await boss.send(IMPORT, order, LIMITS[IMPORT]);
      // A hand that is free here need not look for it first.
      for (const worker of importers) boss.notifyWorker(worker);
    },
    send: async (name, firmId) => {
      await boss.sendThrottled(name, { firmId }, LIMITS.night, SENT_LATELY_SECONDS, firmId);
    },
    recent: async (firmId) => {
      const rows = await boss.getDb().executeSql(
        `select name, state::text as state, created_on, completed_on, output from (
           select name, state, created_on, completed_on, output, data from pgboss.job
           union all select name, state, created_on, completed_on, output, data from pgboss.archive
         ) as run
         where (name = any($1) and coalesce(data->>'firmId', $3) = $3)
           or (name = $2 and state = 'failed' and data->>'firmId' = $3)
         order by created_on desc limit 30`,
        [JOB_NAMES, LEARN_ONE, firmId],
      );
      return rows.rows.map((row) => ({
        name: row.name === LEARN_ONE ? "learning" : row.name,
        state: row.state,
        createdAt: row.created_on,
        completedAt: row.completed_on,
        said: row.output?.count !== undefined ? String(row.output.count) : String(row.output?.message ?? ""),
      }));
    },
  };
  watchQueue(async () => {
    const { rows } = await boss.getDb().executeSql(
      `select name as queue, state::text as state, count(*)::int as count from pgboss.job
       where state <> 'completed' and (state <> 'failed' or completed_on > now() - interval '1 day')
       group by name, state`,
      [],
    );
    return rows;
  });
  const stopWorking = works ? await orEnd(doJobs()) : () => {};
  return {
    ...jobs,
    stop: () => {
      stopWorking();
      return end();
    },
  };

  /** Takes jobs out of the queue and does them. */
  async function doJobs(): Promise<() => void> {
    const leases = new Leases(db);
    for (const name of JOB_NAMES) {
      await boss.createQueue(name);
      await boss.schedule(name, CRON[name], {}, LIMITS.night);
      await boss.work<{ firmId?: string }>(name, async ([job]) => {
        if (!job) return;
        return leases.during({ id: job.id, queue: name }, async () => {
          const { count, failed } = await JOBS[name](db, now(), job.data?.firmId ?? null, jobs);
          for (const fault of failed) failedOne(fault);
          // Said and tried again: every job may run twice with the same effect.
          if (failed.length > 0) throw new Error(`${failed.length} of ${count + failed.length} firms`);
          return { count };
        });
      });
    }
    await boss.createQueue(LEARN_ONE);
    await boss.work<{ firmId: string }>(LEARN_ONE, async ([job]) => {
      if (job)
        await leases.during({ id: job.id, queue: LEARN_ONE }, async () => {
          await learnOneFirm(db, job.data.firmId, work, now());
          await jobs.hooksSoon(job.data.firmId);
        });
    });
    await boss.createQueue(MAIL);
    await boss.work<{ firmId: string }>(MAIL, async ([job]) => {
      if (job)
        await leases.during({ id: job.id, queue: MAIL }, () => sendMail(db, job.data.firmId, now, work));
    });
    await boss.createQueue(MAIL_AGAIN);
    await boss.schedule(MAIL_AGAIN, MAIL_AGAIN_CRON, {}, LIMITS[MAIL]);
    await boss.work(MAIL_AGAIN, async () => {
      for (const firmId of await firmsWithMail(db, now())) await jobs.mailSoon(firmId);
    });
    await boss.createQueue(HOOKS);
    await boss.work<{ firmId: string }>(HOOKS, async ([job]) => {
      if (job)
        await leases.during({ id: job.id, queue: HOOKS }, () => sendHooks(db, job.data.firmId, now, work));
    });
    await boss.createQueue(HOOKS_AGAIN);
    await boss.schedule(HOOKS_AGAIN, HOOKS_AGAIN_CRON, {}, LIMITS[HOOKS]);
    await boss.work(HOOKS_AGAIN, async () => {
      for (const firmId of await firmsWithHooks(db, now())) await jobs.hooksSoon(firmId);
    });
    await boss.createQueue(IMPORT);
    for (let worker = 0; worker < IMPORTS_AT_A_TIME; worker++)
      importers.push(
        await boss.work<ImportOrder>(
          IMPORT,
          { pollingIntervalSeconds: IMPORT_POLL_SECONDS, includeMetadata: true },
          async ([job]) => {
            if (!job) return;
            const isLast = job.retryCount >= job.retryLimit;
            await leases.during({ id: job.id, queue: IMPORT }, () =>
              runImport(db, url, work, job.data, now, isLast),
            );
          },
        ),
      );
    const beating = setInterval(() => void beat(), BEAT_SECONDS * 1000);
    /** Jobs of servers that fell silent fail, and so come back into the queue. */
    const beat = async () => {
      try {
        for (const { id, queue } of await leases.beat()) {
          jobsTakenOver.inc({ queue });
          await boss.fail(queue, id, { message: "The server that did it fell silent." });
        }
      } catch (fault) {
        failedOne(fault);
      }
    };
    return () => clearInterval(beating);
  }
}

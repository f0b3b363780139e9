import { createServer } from "node:http";
import { resolve } from "node:path";
import { setTimeout as delay } from "node:timers/promises";
import { RateLimiterMemory } from "rate-limiter-flexible";
import { signInLimits } from "#server/auth/limits";
import { type Config, onLoopback, readConfig } from "#server/config";
import { isStarting, isUnavailable } from "#server/db/away";
import { databaseBrakes } from "#server/db/brakes";
import { type Database, openDatabase } from "#server/db/connection";
import { demoLoaded, demoThrownAway, hasOwnFirm, setupCode } from "#server/db/instance";
import { prepareDatabase } from "#server/db/migrate";
import { Replica } from "#server/db/replica";
import { DEMO_EMAIL, DEMO_PASSWORD } from "#server/demo/cast";
import { loadDemo } from "#server/demo/load";
import { weatherBetween } from "#server/devices/weather";
import { type Jobs, startJobs } from "#server/jobs/boss";
import { clearLeftBehind } from "#server/jobs/import-job";
import { learnUnlearned } from "#server/learning/learn-firm";
import { watchPool, watchProcess } from "#server/metrics";
import { startPhotometer } from "#server/standins/photometer";
import { startWeather } from "#server/standins/weather";
import { shares } from "#server/work/shares";
import type { Services } from "../context";
import { log, logFrom, withoutTokens } from "../log";
import { openWorkbench } from "../work/workbench.server";
import { application, type PagesOptions } from "./application";
import { serveMetrics } from "./watched";

/** Starts a web server, and ends it. */

interface ServeOptions extends PagesOptions {
  /** Told once it listens. */
  listening?: () => void;
}

/** Something that the person who starts the server can mend; shown without a stack. */
export class StartupError extends Error {}

function configured(): Config {
  try {
    return readConfig(process.env);
  } catch (fault) {
    throw new StartupError(fault instanceof Error ? fault.message : String(fault));
  }
}

/** How this server may be reached from elsewhere; null when it cannot be. */
function isOpen({ host, publicUrl }: Config): string | null {
  if (publicUrl) return `PUBLIC_URL=${publicUrl}`;
  return onLoopback(host) ? null : `HOST=${host}`;
}

/** An idle connection is kept so long. */
const IDLE_MS = 75_000;

const demoRefusal = (open: string): string =>
  `${open} lets others reach this server, and the demo firm's password is known to everybody who reads the README.\n` +
  "Start it without: PELAGON_DEMO=0. A data folder that holds the demo already stays on this machine; name another by PELAGON_DATA.";

/** Does what needs the database once it answers: one that starts beside this server may take its time. */
async function onceThere<T>(seconds: number, work: () => Promise<T>): Promise<T> {
  const until = Date.now() + seconds * 1000;
  for (let isTold = false; ; isTold = true) {
    try {
      return await work();
    } catch (fault) {
      if (!isStarting(fault) || Date.now() >= until) throw fault;
      if (!isTold) process.stdout.write("· Waiting for the database …\n");
      await delay(LOOK_AGAIN_MS);
    }
  }
}

const LOOK_AGAIN_MS = 1000;
/** From the first wait on each is twice the one before, up to this. */
const LONGEST_WAIT_MS = 60_000;

/** Brings the database up to date and loads the demo, one server at a time; says what is there then. */
async function prepared(
  config: Config,
  open: string | null,
  db: Database,
): Promise<{ isFresh: boolean; hasDemo: boolean }> {
  const found = { isFresh: false, hasDemo: false };
  await prepareDatabase(config.databaseOwnerUrl ?? config.databaseUrl, config.databaseUrl, async (ran) => {
    if (ran.length > 0) process.stdout.write(`· Database brought up to date: ${ran.join(", ")}\n`);
    const wantsDemo = config.demo === "again" || (config.demo === "once" && !(await demoThrownAway(db)));
    if (open && wantsDemo) throw new StartupError(demoRefusal(open));
    if (wantsDemo && !(await demoLoaded(db))) {
      process.stdout.write("· Loading a year of demo data …\n");
      await loadDemo(db, new Date());
    }
    found.hasDemo = await demoLoaded(db);
    if (found.hasDemo && open) throw new StartupError(demoRefusal(open));
    found.isFresh = !(await hasOwnFirm(db));
  });
  return found;
}

/** Starts the queue, again and again until it has; null where the server ends before. */
async function untilStarted(
  start: () => Promise<Jobs>,
  failed: (fault: unknown) => void,
  isEnding: () => boolean,
): Promise<Jobs | null> {
  for (let wait = LOOK_AGAIN_MS; !isEnding(); wait = Math.min(LONGEST_WAIT_MS, 2 * wait)) {
    try {
      return await start();
    } catch (fault) {
      failed(fault);
      await delay(wait);
    }
  }
  return null;
}

/** Tells the figures on a port of this machine. */
async function told(port: number) {
  watchProcess();
  return serveMetrics(port).catch((fault: Error) => {
    throw new StartupError(`Cannot listen on 127.0.0.1:${port} for METRICS_PORT: ${fault.message}`);
  });
}

/**
 * Migrates, loads the demo data when asked and not yet there, and serves until SIGTERM or SIGINT;
 * then finishes what is under way and lets the process end.
 */
export async function serve(options: ServeOptions = {}): Promise<void> {
  const config = configured();
  logFrom(config.logLevel);
  const failed = (fault: unknown, says = "work beside the pages failed") =>
    log().error({ fault: withoutTokens(fault) }, says);
  // The queue's client leaves some of its promises to nobody. What a database that pauses does to them is no reason
  // to end: the queue does it again. Anything else is a fault of ours, and ends the process as ever.
  process.on("unhandledRejection", (fault) => {
    if (!isUnavailable(fault)) throw fault;
    failed(fault, "the database was away, and nobody waited for this");
  });
  const open = isOpen(config);
  const db = openDatabase(config.databaseUrl, config.connections, { opened: watchPool });
  const { isFresh, hasDemo } = await onceThere(config.databaseWait, () => prepared(config, open, db)).catch(
    (fault: unknown) => {
      if (fault instanceof StartupError) throw fault;
      throw new StartupError(
        `The database cannot be used: ${fault instanceof Error ? fault.message : String(fault)}`,
      );
    },
  );
  const setup = () => (config.setupCode ? Promise.resolve(config.setupCode) : setupCode(db));
  let ending = false;
  const standIn = hasDemo && config.photometers === null ? await startPhotometer() : null;
  const weather = hasDemo && config.weather === null ? await startWeather() : null;
  let jobs: Jobs | null = null;
  const work = openWorkbench(
    options.development ? resolve("app/work/worker.ts") : resolve("build/server/worker.js"),
  );
  void clearLeftBehind();
  const replica = config.databaseReplicaUrl
    ? new Replica(db, openDatabase(config.databaseReplicaUrl, config.connections))
    : null;
  const services: Services = {
    weather: weather ? `http://127.0.0.1:${weather.port}` : config.weather,
    jobs: () => jobs,
    work,
    photometers: standIn
      ? [`tcp://127.0.0.1:${standIn.tcpPort}`, `http://127.0.0.1:${standIn.httpPort}`]
      : (config.photometers ?? []),
    limits: signInLimits(databaseBrakes(db)),
    apiRate: new RateLimiterMemory({ points: config.apiRequests, duration: 60 }),
    pages: shares(),
    replica,
    mayShowDemo: open === null,
    setup,
    secretsKey: config.secretsKey,
    secureCookies: config.publicUrl?.startsWith("https:") ?? false,
    now: () => new Date(),
  };
  const draining = { since: null as number | null };
  const server = createServer(await application(config, db, services, draining, options));
  // Longer than a proxy or a browser keeps an idle connection: who closes it first cannot lose a request on it.
  server.keepAliveTimeout = IDLE_MS;
  await new Promise<void>((resolve, reject) => {
    server.once("error", (fault) =>
      reject(new StartupError(`Cannot listen on ${config.host}:${config.port}: ${fault.message}`)),
    );
    server.listen(config.port, config.host, resolve);
  });
  const metrics = config.metricsPort === null ? null : await told(config.metricsPort);
  options.listening?.();
  const shown = config.host.includes(":") ? `[${config.host}]` : config.host;
  // At once: whoever waits for the address has the sign-in with it.
  process.stdout.write(
    [
      `\n  Pelagon is at http://${shown}:${config.port}\n`,
      hasDemo ? `  Demo sign-in: ${DEMO_EMAIL} with ${DEMO_PASSWORD}\n` : "",
      isFresh ? `  Your own firm: /setup with the code ${await setup()}\n` : "",
      "\n",
    ].join(""),
  );

  // The queue makes its tables the first time; nobody waits for that.
  const queue = {
    url: config.databaseUrl,
    ownerUrl: config.databaseOwnerUrl ?? config.databaseUrl,
    works: config.jobs,
  };
  const doing = {
    learn: work.learn,
    hold: work.hold,
    importFile: work.importFile,
    letter: work.letter,
    publicUrl: config.publicUrl?.replace(/\/$/, "") ?? `http://${shown}:${config.port}`,
    secretsKey: config.secretsKey,
    hooksInside: config.hooksInside,
    weatherBetween: (district: string, from: string, to: string) =>
      weatherBetween(services.weather, district, from, to),
  };
  void untilStarted(
    () => startJobs(db, queue, services.now, doing, failed),
    // One that only puts jobs in waits for another to make the queue's tables.
    (fault) =>
      config.jobs
        ? failed(fault, "the queue did not start")
        : log().info("the queue is not there yet, or not reached"),
    () => ending,
  ).then((started) => {
    jobs = started;
    // What no night has learned yet: a demo year, or a book that came with a file.
    if (started && config.jobs) void learnUnlearned(db, started).catch(failed);
  });

  const end = async () => {
    if (ending) return;
    ending = true;
    void jobs?.stop();
    // Whoever sends people here is told first, and what they send meanwhile is still done.
    draining.since = Date.now();
    await delay(config.drain * 1000);
    void standIn?.stop();
    void weather?.stop();
    metrics?.close();
    server.close(async () => {
      await work.close();
      await replica?.close();
      await db.destroy();
      process.exit(0);
    });
    server.closeIdleConnections();
    // A page that keeps its connection open does not hold up the end for long, nor does a silent database.
    setTimeout(() => server.closeAllConnections(), 5000).unref();
    setTimeout(() => process.exit(0), 10_000).unref();
  };
  process.on("SIGTERM", end);
  process.on("SIGINT", end);
}

import { randomBytes } from "node:crypto";
import { readdirSync } from "node:fs";
import { createServer } from "node:http";
import { resolve } from "node:path";
import { setTimeout as delay } from "node:timers/promises";
import { createRequestHandler } from "@react-router/express";
import compression from "compression";
import express, { type NextFunction, type Request, type RequestHandler, type Response } from "express";
import helmet from "helmet";
import onHeaders from "on-headers";
import pino, { type Logger } from "pino";
import { RouterContextProvider, type ServerBuild } from "react-router";
import sirv from "sirv";
import { signInLimits } from "#server/auth/limits";
import { type Config, onLoopback, readConfig } from "#server/config";
import { isAway, isComing } from "#server/db/away";
import { databaseBrakes } from "#server/db/brakes";
import { type Database, openDatabase } from "#server/db/connection";
import { demoLoaded, demoThrownAway, hasOwnFirm, setupCode } from "#server/db/instance";
import { prepareDatabase } from "#server/db/migrate";
import { DEMO_EMAIL, DEMO_PASSWORD } from "#server/demo/cast";
import { loadDemo } from "#server/demo/load";
import { weatherBetween } from "#server/devices/weather";
import { MOST_FILE_BYTES } from "#server/exchange/import/uploads";
import { type Jobs, startJobs } from "#server/jobs/boss";
import { clearLeftBehind } from "#server/jobs/import-job";
import { learnUnlearned } from "#server/learning/learn-firm";
import { startPhotometer } from "#server/standins/photometer";
import { startWeather } from "#server/standins/weather";
import { equip, type Services } from "./context";
import { OURS_HEADER } from "./device/whose";
import { inItsLanguage } from "./language.server";
import { withoutTokens } from "./log";
import { openWorkbench } from "./work/workbench.server";

/** The largest body that is taken; a file to import is kept piece by piece as it comes. */
const MOST_BODY_BYTES = 1_000_000;
const FILES = "/book/import/file";

interface ServeOptions {
  /** Middleware ahead of everything, for hot reload. */
  before?: RequestHandler;
  development?: boolean;
  /** Told once it listens. */
  listening?: () => void;
}

/** Scripts by nonce only, nothing from elsewhere; the solver is WebAssembly of our own. Style attributes are allowed: drawings set sizes by them. */
function headers(config: Config, development: boolean): RequestHandler {
  const nonce = (_: unknown, response: unknown) => `'nonce-${(response as Response).locals.nonce}'`;
  return helmet({
    contentSecurityPolicy: development
      ? false
      : {
          useDefaults: false,
          directives: {
            defaultSrc: ["'none'"],
            scriptSrc: ["'self'", nonce, "'wasm-unsafe-eval'"],
            styleSrc: ["'self'", nonce],
            styleSrcAttr: ["'unsafe-inline'"],
            imgSrc: ["'self'", "data:", "blob:"],
            fontSrc: ["'self'"],
            connectSrc: ["'self'"],
            manifestSrc: ["'self'"],
            formAction: ["'self'"],
            baseUri: ["'none'"],
            frameAncestors: ["'none'"],
          },
        },
    referrerPolicy: { policy: "same-origin" },
    strictTransportSecurity: config.publicUrl?.startsWith("https:") ? { maxAge: 31_536_000 } : false,
  });
}

/** Refuses a request that does not say whom it asks: addresses of ours are made by it. */
const namedHost: RequestHandler = (request, response, next) => {
  if (request.headers.host) return next();
  response.status(400).type("text/plain").send("Refused: this request names no host.");
};

/** Refuses a write that does not come from one of our own pages: its Origin must be there and be ours. */
function sameOrigin(publicUrl: string | null): RequestHandler {
  return (request, response, next) => {
    if (request.method === "GET" || request.method === "HEAD") return next();
    const ours = publicUrl ? new URL(publicUrl).origin : `http://${request.headers.host}`;
    if (request.headers.origin === ours) return next();
    response
      .status(403)
      .type("text/plain")
      .send("Refused: this request does not come from a page of this site.");
  };
}

/** Refuses a body over the limit before any of it is kept. */
const bodyLimit: RequestHandler = (request, response, next) => {
  const length = Number(request.headers["content-length"] ?? 0);
  const chunked = request.headers["transfer-encoding"] !== undefined;
  const most = request.path === FILES ? MOST_FILE_BYTES : MOST_BODY_BYTES;
  if (!chunked && length <= most) return next();
  response
    .status(413)
    .type("text/plain")
    .send(`Refused: ${chunked ? "a body of unknown length" : `${length} bytes`}; at most ${most} are taken.`);
};

/** Refuses an address that cannot be read, or that holds what no text may hold. */
const readableAddress: RequestHandler = (request, response, next) => {
  try {
    if (!decodeURIComponent(request.url.replaceAll("+", " ")).includes("\0")) return next();
  } catch {
    // An escape that stands for nothing.
  }
  response.status(400).type("text/plain").send("Refused: this address cannot be read.");
};

/** Only reading is asked of the addresses of the pages' own data; React Router would break on the rest. */
const METHODS = ["GET", "HEAD", "POST"];
const knownMethod: RequestHandler = (request, response, next) => {
  if (METHODS.includes(request.method)) return next();
  response.status(405).set("Allow", METHODS.join(", ")).type("text/plain").send("Refused: unknown method.");
};

/** What every answer carries besides its own: nothing on the way keeps what is somebody's, and "not now" says when. */
const lastHeaders: RequestHandler = (_, response, next) => {
  onHeaders(response, () => {
    if (!response.hasHeader("Cache-Control")) response.setHeader("Cache-Control", "no-store");
    // Nothing here is for a search engine: a link that somebody passed on least of all.
    response.setHeader("X-Robots-Tag", "noindex, nofollow");
    if (response.statusCode === 503 && !response.hasHeader("Retry-After"))
      response.setHeader("Retry-After", "2");
  });
  next();
};

/** Since when this server only finishes what it has; null while it takes everything. */
interface Draining {
  since: number | null;
}

/** A server that is about to end sends nobody away, but keeps nobody: and says so to whoever sends people here. */
const whileDraining =
  (draining: Draining): RequestHandler =>
  (request, response, next) => {
    if (draining.since === null) return next();
    response.set("Connection", "close");
    if (request.path !== "/health" && request.path !== "/ready") return next();
    response.status(503).json({ ok: false, draining: true });
  };

/** The generated module's types leave out that its optional fields may be undefined. */
const pages = () => import("virtual:react-router/server-build") as unknown as Promise<ServerBuild>;

async function application(
  config: Config,
  db: Database,
  services: Services,
  log: Logger,
  draining: Draining,
  { before, development = false }: ServeOptions,
) {
  const app = express();
  app.disable("x-powered-by");
  if (config.trustedProxies) app.set("trust proxy", config.trustedProxies);
  app.use((_, response, next) => {
    response.locals.nonce = randomBytes(16).toString("base64url");
    next();
  });
  app.use(headers(config, development));
  // A device tells our refusals from those of a portal on the way by it.
  app.use((_, response, next) => {
    response.setHeader(OURS_HEADER, "1");
    next();
  });
  app.use(compression());
  if (before) app.use(before);
  else {
    // What never changes under its name, as small as the build made it.
    app.use("/assets", sirv("build/client/assets", { immutable: true, maxAge: 31_536_000, brotli: true }));
    // Only what is there: every other address would be looked for on the disk first.
    for (const file of readdirSync("build/client").filter((name) => name !== "assets"))
      app.use(`/${file}`, express.static(`build/client/${file}`, { maxAge: "1h", index: false }));
  }
  app.use(whileDraining(draining));
  app.use(lastHeaders, namedHost, knownMethod, readableAddress, bodyLimit, sameOrigin(config.publicUrl));
  app.use((request, response, next) => {
    const begun = performance.now();
    response.on("finish", () =>
      log.info({
        method: request.method,
        path: withoutTokens(request.path),
        status: response.statusCode,
        ms: Math.round(performance.now() - begun),
      }),
    );
    next();
  });
  app.use(inItsLanguage);
  app.use(
    createRequestHandler({
      // Given as a function, the routes are worked out anew for every request: only while they change.
      build: development ? pages : await pages(),
      mode: development ? "development" : "production",
      getLoadContext(request, response) {
        const context = new RouterContextProvider();
        equip(context, db, services, { nonce: response.locals.nonce, address: request.ip ?? "" });
        return context;
      },
    }),
  );
  app.use((fault: unknown, _: Request, response: Response, next: NextFunction) => {
    log.error(withoutTokens(fault));
    if (response.headersSent) return next(fault);
    response
      .status(500)
      .type("text/plain")
      .send("Something went wrong on the server. Nothing you typed was changed; try again.");
  });
  return app;
}

/** Something that the person who starts the server can mend; shown without a stack. */
export class Refusal extends Error {}

function configured(): Config {
  try {
    return readConfig(process.env);
  } catch (fault) {
    throw new Refusal(fault instanceof Error ? fault.message : String(fault));
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
      if (!isComing(fault) || Date.now() >= until) throw fault;
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
    if (open && wantsDemo) throw new Refusal(demoRefusal(open));
    if (wantsDemo && !(await demoLoaded(db))) {
      process.stdout.write("· Loading a year of demo data …\n");
      await loadDemo(db, new Date());
    }
    found.hasDemo = await demoLoaded(db);
    if (found.hasDemo && open) throw new Refusal(demoRefusal(open));
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

/**
 * Migrates, loads the demo data when asked and not yet there, and serves until SIGTERM or SIGINT;
 * then finishes what is under way and lets the process end.
 */
export async function serve(options: ServeOptions = {}): Promise<void> {
  const config = configured();
  const log = pino({ level: config.logLevel });
  // The queue's client leaves some of its promises to nobody. What a database that pauses does to them is no reason
  // to end: the queue does it again. Anything else is a fault of ours, and ends the process as ever.
  process.on("unhandledRejection", (fault) => {
    if (!isAway(fault)) throw fault;
    log.error(fault, "the database was away, and nobody waited for this");
  });
  const open = isOpen(config);
  const db = openDatabase(config.databaseUrl, config.connections);
  const { isFresh, hasDemo } = await onceThere(config.databaseWait, () => prepared(config, open, db)).catch(
    (fault: unknown) => {
      if (fault instanceof Refusal) throw fault;
      throw new Refusal(
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
  const services: Services = {
    weather: weather ? `http://127.0.0.1:${weather.port}` : config.weather,
    jobs: () => jobs,
    work,
    photometers: standIn
      ? [`tcp://127.0.0.1:${standIn.tcpPort}`, `http://127.0.0.1:${standIn.httpPort}`]
      : (config.photometers ?? []),
    limits: signInLimits(databaseBrakes(db)),
    mayShowDemo: open === null,
    setup,
    secureCookies: config.publicUrl?.startsWith("https:") ?? false,
    now: () => new Date(),
  };
  const draining = { since: null as number | null };
  const server = createServer(await application(config, db, services, log, draining, options));
  // Longer than a proxy or a browser keeps an idle connection: who closes it first cannot lose a request on it.
  server.keepAliveTimeout = IDLE_MS;
  await new Promise<void>((resolve, reject) => {
    server.once("error", (fault) =>
      reject(new Refusal(`Cannot listen on ${config.host}:${config.port}: ${fault.message}`)),
    );
    server.listen(config.port, config.host, resolve);
  });
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
    weatherBetween: (district: string, from: string, to: string) =>
      weatherBetween(services.weather, district, from, to),
  };
  void untilStarted(
    () => startJobs(db, queue, services.now, doing, (fault) => log.error(fault)),
    // One that only puts jobs in waits for another to make the queue's tables.
    (fault) => (config.jobs ? log.error : log.info).call(log, fault, "the queue did not start"),
    () => ending,
  ).then((started) => {
    jobs = started;
    // What no night has learned yet: a demo year, or a book that came with a file.
    if (started && config.jobs) void learnUnlearned(db, started).catch((fault) => log.error(fault));
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
    server.close(async () => {
      await work.close();
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

import { randomBytes } from "node:crypto";
import { createServer } from "node:http";
import { createRequestHandler } from "@react-router/express";
import compression from "compression";
import express, { type NextFunction, type Request, type RequestHandler, type Response } from "express";
import helmet from "helmet";
import pino from "pino";
import { RouterContextProvider, type ServerBuild } from "react-router";
import { signInLimits } from "#server/auth/limits";
import { type Config, onLoopback, readConfig } from "#server/config";
import { migrate, openDatabase } from "#server/db/connection";
import { DEMO_EMAIL, DEMO_PASSWORD } from "#server/demo/cast";
import { demoLoaded, loadDemo } from "#server/demo/load";
import { MOST_FILE_BYTES, Uploads } from "#server/exchange/import/uploads";
import { type Jobs, startJobs } from "#server/jobs/boss";
import { startPhotometer } from "#server/standins/photometer";
import { startWeather } from "#server/standins/weather";
import { addressContext, nonceContext, type Services, servicesContext } from "./context";

/** The largest body that is taken; a file to import goes to the disk as it comes. */
const MOST_BODY_BYTES = 1_000_000;
const FILES = "/book/import/file";

interface ServeOptions {
  /** Middleware ahead of everything, for hot reload. */
  before?: RequestHandler;
  development?: boolean;
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

/** Refuses a write that does not come from one of our own pages: its Origin must be there and be ours. */
export function sameOrigin(publicUrl: string | null): RequestHandler {
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
export const bodyLimit: RequestHandler = (request, response, next) => {
  const length = Number(request.headers["content-length"] ?? 0);
  const chunked = request.headers["transfer-encoding"] !== undefined;
  const most = request.path === FILES ? MOST_FILE_BYTES : MOST_BODY_BYTES;
  if (!chunked && length <= most) return next();
  response
    .status(413)
    .type("text/plain")
    .send(`Refused: ${chunked ? "a body of unknown length" : `${length} bytes`}; at most ${most} are taken.`);
};

function application(config: Config, services: Services, { before, development = false }: ServeOptions) {
  const app = express();
  app.disable("x-powered-by");
  if (config.publicUrl) app.set("trust proxy", "loopback");
  const log = pino({ level: config.logLevel });
  app.use((_, response, next) => {
    response.locals.nonce = randomBytes(16).toString("base64url");
    next();
  });
  app.use(headers(config, development));
  app.use(compression());
  if (before) app.use(before);
  else {
    app.use("/assets", express.static("build/client/assets", { immutable: true, maxAge: "1y" }));
    app.use(express.static("build/client", { maxAge: "1h", index: false }));
  }
  app.use(bodyLimit);
  app.use(sameOrigin(config.publicUrl));
  app.use((request, response, next) => {
    const begun = performance.now();
    response.on("finish", () =>
      log.info({
        method: request.method,
        path: request.path,
        status: response.statusCode,
        ms: Math.round(performance.now() - begun),
      }),
    );
    next();
  });
  app.use(
    createRequestHandler({
      // The generated module's types leave out that its optional fields may be undefined.
      build: () => import("virtual:react-router/server-build") as unknown as Promise<ServerBuild>,
      mode: development ? "development" : "production",
      getLoadContext(request, response) {
        const context = new RouterContextProvider();
        context.set(servicesContext, services);
        context.set(nonceContext, response.locals.nonce);
        context.set(addressContext, request.ip ?? "");
        return context;
      },
    }),
  );
  app.use((fault: unknown, _: Request, response: Response, next: NextFunction) => {
    log.error(fault);
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

/**
 * Migrates, loads the demo data when asked and not yet there, and serves until SIGTERM or SIGINT;
 * then finishes what is under way and lets the process end.
 */
export async function serve(options: ServeOptions = {}): Promise<void> {
  const config = configured();
  const db = openDatabase(config.databaseUrl);
  const ran = await migrate(db).catch((fault: unknown) => {
    throw new Refusal(
      `The database cannot be used: ${fault instanceof Error ? fault.message : String(fault)}`,
    );
  });
  if (ran.length > 0) process.stdout.write(`· Database brought up to date: ${ran.join(", ")}\n`);
  if (process.env.PELAGON_DEMO === "1" && !(await demoLoaded(db))) {
    process.stdout.write("· Loading a year of demo data …\n");
    await loadDemo(db, new Date());
  }
  const showDemo = onLoopback(config.host) && (await demoLoaded(db));
  const standIn = showDemo && config.photometers === null ? await startPhotometer() : null;
  const weather = showDemo && config.weather === null ? await startWeather() : null;
  let jobs: Jobs | null = null;
  const services: Services = {
    db,
    weather: weather ? `http://127.0.0.1:${weather.port}` : config.weather,
    jobs: () => jobs,
    uploads: new Uploads(db),
    photometers: standIn
      ? [`tcp://127.0.0.1:${standIn.tcpPort}`, `http://127.0.0.1:${standIn.httpPort}`]
      : (config.photometers ?? []),
    limits: signInLimits(),
    showDemo,
    secureCookies: config.publicUrl?.startsWith("https:") ?? false,
    now: () => new Date(),
  };
  const server = createServer(application(config, services, options));
  await new Promise<void>((resolve, reject) => {
    server.once("error", (fault) =>
      reject(new Refusal(`Cannot listen on ${config.host}:${config.port}: ${fault.message}`)),
    );
    server.listen(config.port, config.host, resolve);
  });
  const shown = config.host.includes(":") ? `[${config.host}]` : config.host;
  process.stdout.write(`\n  Pelagon is at http://${shown}:${config.port}\n`);
  if (showDemo) process.stdout.write(`  Demo sign-in: ${DEMO_EMAIL} with ${DEMO_PASSWORD}\n\n`);

  // The queue makes its tables the first time; nobody waits for that.
  if (config.jobs) {
    const log = pino({ level: config.logLevel });
    startJobs(db, config.databaseUrl, services.now, (fault) => log.error(fault)).then(
      (started) => {
        jobs = started;
      },
      (fault) => log.error(fault, "the queue did not start"),
    );
  }

  let ending = false;
  const end = () => {
    if (ending) return;
    ending = true;
    void standIn?.stop();
    void weather?.stop();
    void jobs?.stop();
    server.close(() => db.destroy().then(() => process.exit(0)));
    server.closeIdleConnections();
    // A page that keeps its connection open does not hold up the end for long.
    setTimeout(() => server.closeAllConnections(), 5000).unref();
  };
  process.on("SIGTERM", end);
  process.on("SIGINT", end);
}

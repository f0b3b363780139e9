import { randomBytes } from "node:crypto";
import { readdirSync } from "node:fs";
import { createRequestHandler } from "@react-router/express";
import compression from "compression";
import express, { type NextFunction, type Request, type RequestHandler, type Response } from "express";
import { RouterContextProvider, type ServerBuild } from "react-router";
import sirv from "sirv";
import type { Config } from "#server/config";
import type { Database } from "#server/db/connection";
import { requestId } from "#server/request-id";
import { provideServices, type Services } from "../context";
import { OURS_HEADER } from "../device/whose";
import { inItsLanguage } from "../language.server";
import { log, withoutTokens } from "../log";
import {
  bodyLimit,
  type Draining,
  headers,
  knownMethod,
  lastHeaders,
  namedHost,
  readableAddress,
  sameOrigin,
  whileDraining,
} from "./guards";
import { routeNamer, watched } from "./watched";

export interface PagesOptions {
  /** Middleware ahead of everything, for hot reload. */
  before?: RequestHandler;
  development?: boolean;
}

/** The generated module's types leave out that its optional fields may be undefined. */
const pages = () => import("virtual:react-router/server-build") as unknown as Promise<ServerBuild>;

/** The web application: what is built, what guards it, and the pages. */
export async function application(
  config: Config,
  db: Database,
  services: Services,
  draining: Draining,
  { before, development = false }: PagesOptions,
) {
  const build = await pages();
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
  app.use(watched(routeNamer(build.routes), config.trustedProxies !== null));
  app.use(whileDraining(draining));
  app.use(lastHeaders, namedHost, knownMethod, readableAddress, bodyLimit, sameOrigin(config.publicUrl));
  app.use(inItsLanguage);
  app.use(
    createRequestHandler({
      // Given as a function, the routes are worked out anew for every request: only while they change.
      build: development ? pages : build,
      mode: development ? "development" : "production",
      getLoadContext(request, response) {
        const context = new RouterContextProvider();
        provideServices(context, db, services, { nonce: response.locals.nonce, address: request.ip ?? "" });
        return context;
      },
    }),
  );
  app.use((fault: unknown, _: Request, response: Response, next: NextFunction) => {
    log().error({ id: requestId(), fault: withoutTokens(fault) }, "a request broke");
    if (response.headersSent) return next(fault);
    response
      .status(500)
      .type("text/plain")
      .send("Something went wrong on the server. Nothing you typed was changed; try again.");
  });
  return app;
}

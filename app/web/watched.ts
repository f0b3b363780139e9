import { randomBytes } from "node:crypto";
import { createServer, type Server } from "node:http";
import type { RequestHandler } from "express";
import type { ServerBuild } from "react-router";
import { registry, requestSeconds } from "#server/metrics";
import { asking, REQUEST_ID } from "#server/request-id";
import { log, withoutTokens } from "../log";

/** Each request has an id, a line in the log, and its time among those of its route. */

/**
 * The pattern of an address, as /visits/:visitId: of few values, whatever people ask for. Made ready once: the router's
 * own matching sorts all routes anew for each address, which takes longer than some answers.
 */
export function routeNamer(routes: ServerBuild["routes"]): (path: string) => string {
  const all = Object.values(routes).flatMap((route) => route ?? []);
  const whole = (id: string | undefined): string => {
    const route = all.find((one) => one.id === id);
    return route ? `${whole(route.parentId)}${route.path ? `/${route.path}` : ""}` : "";
  };
  const patterns = [...new Set(all.map(({ id }) => whole(id)))]
    .filter((pattern) => !pattern.includes("*"))
    .map((pattern) => ({
      pattern: pattern || "/",
      parts: pattern.split(":").length,
      is: new RegExp(
        `^${pattern
          .split("/")
          .map((part) =>
            part
              .replace(/[.]/g, "\\.")
              .replace(/^:\w+(\?)?/, (_, optional) => (optional ? "[^/]*" : "[^/]+")),
          )
          .join("/")
          .replaceAll("/[^/]*", "(?:/[^/]*)?")}/?$`,
      ),
    }))
    // What names its parts goes before what takes any.
    .sort((a, b) => a.parts - b.parts);
  return (path) => {
    const page = path.replace(/(\/_root)?\.data$/, "") || "/";
    return patterns.find(({ is }) => is.test(page))?.pattern ?? "none";
  };
}

/** @param trustsProxy a proxy's id for the request is taken, so that both logs name it alike */
export function watched(nameOf: (path: string) => string, trustsProxy: boolean): RequestHandler {
  return (request, response, next) => {
    const begun = performance.now();
    const sent = request.get("X-Request-Id");
    const id = trustsProxy && sent && REQUEST_ID.test(sent) ? sent : randomBytes(9).toString("base64url");
    response.set("X-Request-Id", id);
    const { method } = request;
    response.on("finish", () => {
      const ms = performance.now() - begun;
      const status = response.statusCode;
      requestSeconds.observe({ method, route: nameOf(request.path), status }, ms / 1000);
      log().info({ id, method, path: withoutTokens(request.path), status, ms: Math.round(ms) }, "answered");
    });
    asking(id, next);
  };
}

/** Tells the figures to whoever asks on a port of this machine. */
export function serveMetrics(port: number): Promise<Server> {
  const server = createServer(async (request, response) => {
    if (request.url !== "/metrics") {
      response.writeHead(404).end();
      return;
    }
    try {
      const text = await registry.metrics();
      response.writeHead(200, { "Content-Type": registry.contentType }).end(text);
    } catch (fault) {
      log().error({ fault: withoutTokens(fault) }, "the figures could not be told");
      response.writeHead(500).end();
    }
  });
  return new Promise((resolve, reject) => {
    server.once("error", reject);
    server.listen(port, "127.0.0.1", () => resolve(server));
  });
}

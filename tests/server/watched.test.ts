import { createServer } from "node:net";
import { sql } from "kysely";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm } from "#server/db/connection";
import { postCount } from "../client";
import { visitWith } from "../visit";
import { openWorld, type World } from "../world";

/** What a server tells of itself: figures on a port of its own, and a line in its log for every request. */
let world: World;
let port: number;

beforeAll(async () => {
  port = await freePort();
  world = await openWorld({
    METRICS_PORT: `${port}`,
    LOG_LEVEL: "info",
    TRUSTED_PROXIES: "127.0.0.1",
    DATABASE_CONNECTIONS: "2",
    DRAIN: "1",
  });
});
afterAll(() => world?.close());

const freePort = () =>
  new Promise<number>((resolve) => {
    const server = createServer().listen(0, "127.0.0.1", () => {
      const { port } = server.address() as { port: number };
      server.close(() => resolve(port));
    });
  });

const figures = async (): Promise<string> => (await fetch(`http://127.0.0.1:${port}/metrics`)).text();

/** The value of a figure, with these labels among its own. */
function figureOf(text: string, name: string, labels: Record<string, string>): number | undefined {
  const line = text
    .split("\n")
    .find(
      (one) =>
        one.startsWith(`${name}{`) &&
        Object.entries(labels).every(([key, is]) => one.includes(`${key}="${is}"`)),
    );
  return line === undefined ? undefined : Number(line.split(" ").at(-1));
}

interface Line {
  id: string;
  path: string;
  status: number;
}
/** A line is written once the answer has gone out, which its reader may see first. */
async function lineOf(id: string): Promise<Line> {
  const found = () =>
    world.web
      .said()
      .split("\n")
      .flatMap((line) => (line.startsWith("{") ? [JSON.parse(line) as Line] : []))
      .find((line) => line.id === id && line.path !== undefined);
  await expect.poll(found).toBeDefined();
  return found() as Line;
}

describe("figures", () => {
  it("are of routes, not of addresses, and hold nothing that opens something", async () => {
    const token = "Zm9vYmFyYmF6cXV4Zm9vYmFyYmF6cXV4Zm9vYmFyYmE";
    expect((await world.http.get(`/basins/${world.ours.basinId}`)).status).toBe(200);
    await world.http.get(`/basins/${world.ours.basinId}.data`);
    await world.http.get(`/s/${token}`);
    await world.http.get("/there/is/no/such/page");
    // An answer is counted once it has gone out, which its reader may see first.
    await expect.poll(async () => (await figures()).includes('route="none"')).toBe(true);
    const text = await figures();
    const count = (labels: Record<string, string>) =>
      figureOf(text, "pelagon_http_request_seconds_count", labels);
    expect(count({ method: "GET", route: "/basins/:basinId", status: "200" })).toBe(2);
    expect(count({ route: "none", status: "404" })).toBeGreaterThan(0);
    for (const secret of [world.ours.basinId, token.slice(0, 12), world.ours.email])
      expect(text).not.toContain(secret);
    expect(figureOf(text, "pelagon_database_connections", { state: "idle" })).toBeGreaterThan(0);
    expect(text).toMatch(/^nodejs_eventloop_lag_p99_seconds [\d.]+/m);
  });

  it("count what devices send, and what of it is refused", async () => {
    const visit = await visitWith(world.db, world.ours, world.http, { ph: [7.4, 7.6] });
    await postCount(world.http, visit, { version: 1, count: 3 });
    await postCount(world.http, crypto.randomUUID(), { version: 1, count: 3 });
    const text = await figures();
    const outcomes = text.split("\n").filter((line) => line.startsWith("pelagon_sync_commands_total{"));
    expect(outcomes.length).toBeGreaterThan(0);
    expect(outcomes.every((line) => line.includes('command="count"'))).toBe(true);
  });

  it("are told to this machine at one address, and nothing else is", async () => {
    expect((await fetch(`http://127.0.0.1:${port}/basins`)).status).toBe(404);
  });
});

describe("a page", () => {
  const asked = async (): Promise<number> =>
    Number(/^pelagon_database_statements_total (\d+)$/m.exec(await figures())?.[1]);

  it("asks the database ten times at most, with who it is and the two ends of each transaction", async () => {
    const { ours, http } = world;
    const visit = await visitWith(world.db, ours, http, { ph: [7.4, 7.6], chlorine: 2, alkalinity: 90 });
    await http.postJson(`/visits/${visit}/close`, { id: crypto.randomUUID(), note: "" });
    const open = await visitWith(world.db, ours, http, { ph: [7.4, 7.6] });
    const pages = ["/", `/basins/${ours.basinId}`, `/visits/${open}/ph`, `/visits/${visit}/customer`];
    const counts: Record<string, number> = {};
    for (const page of pages) {
      // What a statement answers with is learned the first time that it is asked.
      for (let time = 0; time < 2; time++) expect((await http.get(page)).status, page).toBe(200);
      const before = await asked();
      expect((await http.get(page)).status).toBe(200);
      counts[page] = (await asked()) - before;
    }
    expect(Math.max(...Object.values(counts)), JSON.stringify(counts)).toBeLessThanOrEqual(10);
  });
});

describe("a request", () => {
  it("has an id that its answer, its line in the log and its statements bear", async () => {
    const id = "from-the-proxy-0001";
    // Whoever reads firms waits while somebody has the table for themselves.
    const waiting = asFirm(world.db, world.ours.id, async (scope) => {
      await sql`reset role`.execute(scope);
      await sql`lock table basin in access exclusive mode`.execute(scope);
      const answer = world.http.get("/basins", { "X-Request-Id": id });
      await expect
        .poll(async () => {
          const { rows } = await sql<{ count: number }>`
            select count(*)::int as count from pg_stat_activity where application_name = ${`pelagon ${id}`}`.execute(
            world.db,
          );
          return rows[0]?.count;
        })
        .toBe(1);
      return { answer };
    });
    const { answer } = await waiting;
    expect((await answer).headers.get("x-request-id")).toBe(id);
    expect(await lineOf(id)).toMatchObject({ path: "/basins", status: 200 });
  });

  it("is given one where it brings none, or one that is no id", async () => {
    for (const headers of [{}, { "X-Request-Id": "x'; drop table basin --" }] as Record<string, string>[]) {
      const id = (await world.http.get("/health", headers)).headers.get("x-request-id") ?? "";
      expect(id).toMatch(/^[\w-]{12}$/);
      expect(await lineOf(id)).toMatchObject({ path: "/health" });
    }
  });
});

describe("a server that is told to end", () => {
  it("says no to whoever sends people there, and goes on answering them until it is over", async () => {
    const stopping = world.web.stop();
    const once = { "Retry-After": "0" };
    await expect
      .poll(async () => (await fetch(`${world.web.address}/health`, { headers: once })).status, {
        interval: 20,
      })
      .toBe(503);
    const page = await fetch(`${world.web.address}/bench`);
    expect(page.status).toBe(200);
    expect(page.headers.get("connection")).toBe("close");
    await page.text();
    await stopping;
    await expect(fetch(`${world.web.address}/health`)).rejects.toThrow();
  });
});

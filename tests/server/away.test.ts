import { sql } from "kysely";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm, type Database, openDatabase } from "#server/db/connection";
import { prepareDatabase } from "#server/db/migrate";
import { throwAwayCluster, webServer } from "../../scripts/lib/world.mjs";
import { type Client, clientOf, postCount } from "../client";
import { type Firm, newFirm } from "../firm";

/** A database that dies, refuses or holds on, in a cluster of its own, and a web server that outlives it. */
let cluster: Awaited<ReturnType<typeof throwAwayCluster>>;
let db: Database;
let web: Awaited<ReturnType<typeof webServer>>;
let firm: Firm;
let http: Client;
let visit: string;

beforeAll(async () => {
  cluster = await throwAwayCluster({ keeps: true });
  await prepareDatabase(cluster.ownerUrl, cluster.url);
  db = openDatabase(cluster.ownerUrl, 3);
  firm = await newFirm(db, "ours");
  web = await webServer(cluster, { JOBS: "off" });
  http = clientOf(web.address, { comesBack: false });
  await http.as(firm.email);
  const start = await http.post(`/basins/${firm.basinId}`, new URLSearchParams({ id: uuid() }));
  visit = (start.headers.get("location") ?? "").split("/")[2] ?? "";
}, 120_000);
afterAll(async () => {
  await web.stop();
  await db.destroy();
  await cluster.stop();
}, 60_000);

const count = (sequence: number) =>
  postCount(http, visit, { drops: sequence % 500, holder: "x", term: 0, sequence });
const health = async () => (await http.get("/health")).status;
const until = (wanted: () => Promise<unknown>) =>
  expect.poll(wanted, { timeout: 60_000, interval: 50 }).toBe(true);
/** Until a write goes through again. */
const writes = (drops: number) => until(async () => (await count(drops)).ok);
/** Process ids of the backends that serve the web server. */
const backends = async () =>
  (
    await sql<{ pid: number }>`select pid from pg_stat_activity where usename = 'pelagon_web'`.execute(db)
  ).rows.map(({ pid }) => pid);

describe("a database that goes away", () => {
  it("by a backend that is killed at work takes no web server along, and nobody is told a lie", async () => {
    const before = web.pid();
    await writes(1);
    let kept = 1;
    for (let round = 0; round < 4; round++) {
      let drops = kept;
      const statuses = new Set<number>();
      let going = true;
      const load = Promise.all(
        Array.from({ length: 8 }, async () => {
          while (going) {
            const mine = ++drops;
            const answer = await count(mine);
            statuses.add(answer.status);
            if (answer.ok) kept = Math.max(kept, mine);
          }
        }),
      );
      const [pid] = await backends();
      if (pid) process.kill(pid, "SIGKILL");
      await until(async () => statuses.has(503) || !(await backends().catch(() => [pid])).includes(pid ?? 0));
      going = false;
      await load;
      expect([...statuses].filter((status) => status !== 200 && status !== 503)).toEqual([]);
      expect(await health()).toBe(200);
      await writes(kept + 1);
      kept += 1;
      const [row] = await asFirm(db, firm.id, (scope) =>
        scope.selectFrom("drop_count").select("sequence").execute(),
      );
      // What was acknowledged is in the table.
      expect(row?.sequence).toBeGreaterThanOrEqual(kept);
    }
    expect(web.pid()).toBe(before);
  });

  it("whole is told by 503 and when to come back, and found again when it is back", async () => {
    const before = web.pid();
    process.kill(cluster.postmaster(), "SIGKILL");
    await until(async () => (await http.get("/ready")).status === 503);
    for (const path of ["/", `/visits/${visit}`, "/settings", "/ready", "/s/xxxxxxxx", "/_root.data"]) {
      const answer = await http.get(path);
      expect([503, 404], path).toContain(answer.status);
      if (answer.status === 503) expect(answer.headers.get("retry-after"), path).toBe("2");
    }
    const written = await count(5000);
    expect([written.status, written.headers.get("retry-after")]).toEqual([503, "2"]);
    expect(await (await http.get("/")).text()).toContain("is not available right now");
    const signIn = await http.post("/sign-in", new URLSearchParams({ email: firm.email, password: "x" }));
    expect(signIn.status).toBe(503);
    expect(await health()).toBe(200);
    await cluster.startAgain();
    await until(async () => (await http.get("/ready")).ok);
    expect((await http.get("/")).status).toBe(200);
    expect(web.pid()).toBe(before);
  });

  it("for writing only, or with no connection left, is not ready", async () => {
    const role = (change: string) => sql`alter role pelagon_web ${sql.raw(change)}`.execute(db);
    const reconnect = async () => {
      for (const pid of await backends()) await sql`select pg_terminate_backend(${pid})`.execute(db);
    };
    await role("set default_transaction_read_only = on");
    await reconnect();
    await until(async () => (await http.get("/ready")).status === 503);
    expect((await count(6000)).status).toBe(503);
    expect((await http.get("/")).status).toBe(200);
    await role("reset default_transaction_read_only");
    await role("connection limit 0");
    await reconnect();
    await until(async () => (await http.get("/")).status === 503);
    await role("connection limit -1");
    await until(async () => (await http.get("/ready")).ok);
    expect((await count(6001)).ok).toBe(true);
  });
});

describe("a row that somebody holds", () => {
  it("keeps those who want it waiting for a while, and nobody else", async () => {
    await asFirm(db, firm.id, async (scope) => {
      await scope.selectFrom("visit").select("id").where("id", "=", visit).forUpdate().execute();
      const readings = Array.from({ length: 12 }, () =>
        http.postJson(`/visits/${visit}/salt`, {
          id: uuid(),
          methodId: "salt",
          seen: { kind: "drops", count: 16, sample: 10 },
        }),
      );
      expect((await http.get("/")).status).toBe(200);
      for (const answer of await Promise.all(readings)) expect(answer.status).toBe(503);
      expect((await http.get("/")).status).toBe(200);
    });
    const after = await http.postJson(`/visits/${visit}/salt`, {
      id: uuid(),
      methodId: "salt",
      seen: { kind: "drops", count: 16, sample: 10 },
    });
    expect(after.status).toBe(302);
  });
});

describe("five at once", () => {
  it("are all shown their settings: no page asks for a second connection while it holds one", async () => {
    const answers = await Promise.all(Array.from({ length: 5 }, () => http.get("/settings")));
    expect(answers.map((answer) => answer.status)).toEqual(Array(5).fill(200));
  });
});

describe("the role that serves pages", () => {
  it("owns nothing, makes nothing, and has its time limited", async () => {
    const served = openDatabase(cluster.url, 1);
    for (const text of [
      "create table mine (id int)",
      "create temp table mine (id int)",
      "create schema mine",
      "create role mine",
    ])
      await expect(sql.raw(text).execute(served), text).rejects.toThrow(/permission denied/);
    const { rows: own } = await sql`
      select relname from pg_class where relowner = (select oid from pg_roles where rolname = current_user)`.execute(
      served,
    );
    expect(own).toEqual([]);
    const { rows } = await sql<Record<string, string>>`
      select current_setting('statement_timeout') as statement, current_setting('lock_timeout') as lock,
        current_setting('idle_in_transaction_session_timeout') as idle`.execute(served);
    expect(rows).toEqual([{ statement: "15s", lock: "3s", idle: "1min" }]);
    const { rows: rights } = await sql<{ rolsuper: boolean; rolcreaterole: boolean; rolcreatedb: boolean }>`
      select rolsuper, rolcreaterole, rolcreatedb from pg_roles where rolname = current_user`.execute(served);
    expect(rights).toEqual([{ rolsuper: false, rolcreaterole: false, rolcreatedb: false }]);
    await served.destroy();
  });
});

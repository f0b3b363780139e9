import { readdirSync, readFileSync } from "node:fs";
import { connect } from "node:net";
import { setTimeout as delay } from "node:timers/promises";
import { sql } from "kysely";
import { v7 as uuid } from "uuid";
import { afterEach, describe, expect, it } from "vitest";
import { asFirm, type Database, openDatabase } from "#server/db/connection";
import { prepareDatabase } from "#server/db/migrate";
import { makeFirm } from "#server/db/new-firm";
import { throwAwayCluster, webServer } from "../../scripts/lib/world.mjs";
import { clientOf, postCount } from "../client";
import { newFirm, PASSWORD } from "../firm";

/** A database that comes late, stands still, or loses its queue's connections: the web server stays what it is. */
const open: { stop(): Promise<unknown> }[] = [];
const opened = <T extends { stop(): Promise<unknown> }>(one: T): T => {
  open.unshift(one);
  return one;
};
afterEach(async () => {
  for (const one of open.splice(0)) await one.stop();
}, 60_000);

const cluster = async () => opened(await throwAwayCluster());
const owner = (url: string): Database => {
  const db = openDatabase(url, 3);
  opened({ stop: () => db.destroy() });
  return db;
};

/** A process and all below it. */
function family(root: number): number[] {
  const parentOf = (pid: string) => {
    try {
      return Number(readFileSync(`/proc/${pid}/stat`, "utf8").split(") ").at(-1)?.split(" ")[1]);
    } catch {
      return 0;
    }
  };
  const all = readdirSync("/proc").filter((name) => /^\d+$/.test(name));
  return [root, ...all.filter((pid) => parentOf(pid) === root).map(Number)];
}

const until = (wanted: () => Promise<unknown>) =>
  expect.poll(wanted, { timeout: 120_000, interval: 100 }).toBe(true);

describe("a database", () => {
  it("that is not there at the start is waited for", async () => {
    const made = await cluster();
    await prepareDatabase(made.ownerUrl, made.url);
    process.kill(made.postmaster(), "SIGKILL");
    const starting = webServer(made, { JOBS: "off" });
    let isUp = false;
    void starting.then(() => (isUp = true));
    await delay(3000);
    expect(isUp).toBe(false);
    await made.startAgain();
    const web = opened(await starting);
    expect((await fetch(`${web.address}/ready`)).status).toBe(200);
  });

  it("that stands still for thirty seconds under load loses nothing that was acknowledged, nor the server", async () => {
    const made = await cluster();
    await prepareDatabase(made.ownerUrl, made.url);
    const db = owner(made.ownerUrl);
    const firm = await newFirm(db, "ours");
    // The queue as well: its client does not wait for all that it sends.
    const web = opened(await webServer(made, {}));
    const http = clientOf(web.address, { comesBack: false });
    await http.as(firm.email);
    const start = await http.post(`/basins/${firm.basinId}`, new URLSearchParams({ id: uuid() }));
    const visit = (start.headers.get("location") ?? "").split("/")[2] ?? "";
    await until(
      async () =>
        (await sql`select 1 from pgboss.queue where name = 'learn-one'`.execute(db)).rows.length > 0,
    );
    const pid = web.pid();
    const bosses = clientOf(web.address, { comesBack: false });
    await bosses.as(firm.ownerEmail);

    let drops = 0;
    let kept = 0;
    let going = true;
    const statuses = new Set<number>();
    const hands = Array.from({ length: 6 }, async () => {
      while (going) {
        const mine = ++drops;
        const answer = await postCount(http, visit, { drops: mine % 500, sequence: mine, holder: "x" }).catch(
          () => null,
        );
        if (answer) statuses.add(answer.status);
        if (answer?.ok) kept = Math.max(kept, mine);
      }
    });
    const jobs = (async () => {
      while (going) {
        await bosses.post("/settings/health", new URLSearchParams({ run: "expiry" })).catch(() => null);
        await delay(300);
      }
    })();
    await until(async () => kept > 20);
    const frozen = family(made.postmaster());
    for (const one of frozen) process.kill(one, "SIGSTOP");
    await delay(30_000);
    for (const one of frozen.reverse()) process.kill(one, "SIGCONT");
    // And all that the queue has open is cut, in the middle of whatever it does.
    await sql`select pg_terminate_backend(pid) from pg_stat_activity where application_name = 'pgboss'`.execute(
      db,
    );
    const before = kept;
    await until(async () => kept > before + 20);
    going = false;
    await Promise.all([...hands, jobs]);
    expect([...statuses].filter((status) => status !== 200 && status !== 503)).toEqual([]);
    const row = await asFirm(db, firm.id, (scope) =>
      scope
        .selectFrom("drop_count")
        .select("sequence")
        .where("visit_id", "=", visit)
        .executeTakeFirstOrThrow(),
    );
    expect(row.sequence).toBeGreaterThanOrEqual(kept);
    expect(web.pid()).toBe(pid);
    expect((await fetch(`${web.address}/health`)).status).toBe(200);
  });
});

describe("the queue", () => {
  it("that cannot say that a job is done takes no server along, and goes on when it can", async () => {
    const made = await cluster();
    await prepareDatabase(made.ownerUrl, made.url);
    const db = owner(made.ownerUrl);
    const firm = await newFirm(db, "ours");
    const web = opened(await webServer(made, {}));
    const http = clientOf(web.address, { comesBack: false });
    await http.as(firm.ownerEmail);
    const run = (name: string) => http.post("/settings/health", new URLSearchParams({ run: name }));
    const jobs = async (name: string, state: string) =>
      (await sql`select 1 from pgboss.job where name = ${name} and state::text = ${state}`.execute(db)).rows
        .length;
    // Once it runs at all.
    await until(async () => (await run("feeds")).ok);
    // It will stand still in the middle: what it reads is held, for less than it waits.
    const held = await db.startTransaction().execute();
    opened({ stop: async () => void (held.isRolledBack || (await held.rollback().execute())) });
    await sql`lock table bottle in access exclusive mode`.execute(held);
    expect((await run("due-list")).ok).toBe(true);
    await until(async () => (await jobs("due-list", "active")) > 0);
    // It goes on; what the queue would say of it cannot be said.
    await sql`alter role pelagon_web connection limit 0`.execute(db);
    await sql`select pg_terminate_backend(pid) from pg_stat_activity where application_name = 'pgboss'`.execute(
      db,
    );
    await held.rollback().execute();
    const before = web.pid();
    await delay(6000);
    expect((await fetch(`${web.address}/health`)).status).toBe(200);
    await sql`alter role pelagon_web connection limit -1`.execute(db);
    await until(async () => (await run("expiry")).ok);
    await until(async () => (await jobs("expiry", "completed")) > 0);
    expect(web.pid()).toBe(before);
  });
});

describe("a fresh instance", () => {
  it("is set up by its code once: a firm made beside the server closes it at once", async () => {
    const made = await cluster();
    const web = opened(await webServer(made, { JOBS: "off", SETUP_CODE: "ABCDE-FGHJK" }));
    const at = (path: string) => fetch(`${web.address}${path}`, { redirect: "manual" });
    expect((await at("/sign-in")).headers.get("location")).toBe("/setup");
    const asked = {
      name: "Second",
      timeZone: "UTC",
      units: "us",
      currency: "USD",
      owner: "Somebody",
      email: "second@example.com",
      password: PASSWORD,
    };
    const set = (code: string) =>
      fetch(`${web.address}/setup.data`, {
        method: "POST",
        redirect: "manual",
        headers: { Origin: web.address },
        body: new URLSearchParams({ ...asked, code }),
      });
    // Guesses are braked, and told so in words.
    let said = "";
    for (let tries = 0; tries < 30 && !/tries/.test(said); tries++)
      said = await (await set("WRONG-WRONG")).text();
    expect(said).toContain("tries");
    const db = owner(made.ownerUrl);
    await makeFirm(db, {
      name: "First",
      timeZone: "UTC",
      units: "us",
      owner: { name: "Owner", email: "first@example.com", password: PASSWORD },
      productName: (id) => id,
    });
    const signIn = await at("/sign-in");
    expect([signIn.status, signIn.headers.get("location")]).toEqual([200, null]);
    expect((await at("/setup")).headers.get("location")).toBe("/sign-in");
    await set("ABCDE-FGHJK");
    const { rows } = await sql<{ name: string }>`select name from firm`.execute(db);
    expect(rows).toEqual([{ name: "First" }]);
  });

  it("refuses a request that names no host", async () => {
    const made = await cluster();
    const web = opened(await webServer(made, { JOBS: "off" }));
    const { hostname, port } = new URL(web.address);
    const answer = await new Promise<string>((resolve, reject) => {
      const socket = connect(Number(port), hostname, () => socket.end("GET /health HTTP/1.0\r\n\r\n"));
      let text = "";
      socket.on("data", (chunk) => {
        text += chunk;
      });
      socket.on("end", () => resolve(text));
      socket.on("error", reject);
    });
    expect(answer).toMatch(/^HTTP\/1\.1 400 /);
  });
});

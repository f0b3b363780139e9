import { parse } from "devalue";
import { sql } from "kysely";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm, openDatabase } from "#server/db/connection";
import type { ImportReport } from "#server/exchange/import/importing";
import type { Mapping } from "#server/exchange/import/mapping";
import type { SyncAnswer } from "../../app/device/take-commands.server";
import { webServer } from "../../scripts/lib/world.mjs";
import { type Client, clientOf } from "../client";
import { emptyDatabase } from "../database";
import { visitWith } from "../visit";
import { openWorld, type World } from "../world";

/** Two web servers over one database: whichever is asked, it answers as the other would. */
let world: World;
let second: Awaited<ReturnType<typeof webServer>>;
/** The owner's session at either. */
let both: [Client, Client];

beforeAll(async () => {
  world = await openWorld({ JOBS: "on" });
  second = await webServer(world.addresses, { JOBS: "on", DATABASE_CONNECTIONS: "2" });
  both = await signedIn(world.ours.ownerEmail);
});
afterAll(async () => {
  await second?.stop();
  await world?.close();
});

const PASSWORD_WRONG = "not the password of anybody";
const signIn = (address: string, email: string, password: string) =>
  clientOf(address).post("/sign-in", new URLSearchParams({ email, password }));

/** One session, at both servers. */
async function signedIn(email: string): Promise<[Client, Client]> {
  const cookie = await clientOf(world.web.address).signedIn(email);
  const at = (address: string): Client => {
    const client = clientOf(address);
    return {
      ...client,
      get: (path, headers = {}) => client.get(path, { Cookie: cookie, ...headers }),
      post: (path, body, headers = {}) => client.post(path, body, { Cookie: cookie, ...headers }),
      postJson: (path, body, headers = {}) => client.postJson(path, body, { Cookie: cookie, ...headers }),
    };
  };
  return [at(world.web.address), at(second.address)];
}

interface Answer {
  id: string;
  table: { guess: Mapping } | null;
  report: ImportReport | null;
}
/** Asks the two by turns. */
function byTurns() {
  let turn = 0;
  return (): Client => both[turn++ % 2] as Client;
}

async function sendLog(lines: string[], at: () => Client): Promise<{ id: string; mapping: Mapping }> {
  const sent = await at().post(
    `/book/import/file?id=${uuid()}&name=log.csv`,
    `date,fc,ph,note\n${lines.join("\n")}\n`,
    {
      "Content-Type": "application/octet-stream",
    },
  );
  const answer = (await sent.json()) as Answer;
  return { id: answer.id, mapping: { ...(answer.table?.guess as Mapping), basinId: world.ours.basinId } };
}

const linesOf = (count: number, year: number, note: string): string[] =>
  Array.from({ length: count }, (_, index) => {
    const at = new Date(Date.UTC(year, 0, 1, index)).toISOString();
    return `${at.slice(0, 10)} ${at.slice(11, 16)},3,7.5,${note}`;
  });

const begin = (client: Client, id: string, command: string, mapping: Mapping) =>
  expect
    .poll(async () => (await client.postJson(`/book/import/${id}`, { command, mapping })).status, {
      timeout: 30_000,
    })
    .toBe(200);

const visitCount = async (): Promise<number> =>
  asFirm(world.db, world.ours.id, async (scope) => {
    const { count } = await scope
      .selectFrom("visit")
      .select(scope.fn.countAll<number>().as("count"))
      .executeTakeFirstOrThrow();
    return Number(count);
  });

describe("a file that comes in", () => {
  it("is looked over, tried and put in by whichever is asked, and told how far it is by both", async () => {
    const at = byTurns();
    const before = await visitCount();
    const { id, mapping } = await sendLog(linesOf(40, 1991, "fine"), at);
    for (const command of ["try", "run"]) {
      await begin(at(), id, command, mapping);
      const states = new Set<string | undefined>();
      await expect
        .poll(
          async () => {
            const answer = await at().get(`/book/import/${id}`);
            expect(answer.status).toBe(200);
            states.add(((await answer.json()) as Answer).report?.state);
            return states.has("done");
          },
          { timeout: 30_000 },
        )
        .toBe(true);
    }
    expect(await visitCount()).toBe(before + 40);
  });

  it("is stopped by the one that does not do it, and one of a firm is under way at a time", async () => {
    const at = byTurns();
    const before = await visitCount();
    const { id, mapping } = await sendLog(linesOf(8000, 1992, "x".repeat(1000)), at);
    await begin(at(), id, "run", mapping);
    const report = async () => ((await (await at().get(`/book/import/${id}`)).json()) as Answer).report;
    await expect
      .poll(async () => (await report())?.share ?? 0, { timeout: 60_000, interval: 50 })
      .toBeGreaterThan(0);
    for (const client of both)
      expect((await client.postJson(`/book/import/${id}`, { command: "run", mapping })).status).toBe(422);
    await at().postJson(`/book/import/${id}`, { command: "stop" });
    await expect.poll(async () => (await report())?.state, { timeout: 30_000 }).toBe("cancelled");
    expect(await visitCount()).toBe(before);
  });

  it("is begun anew when the database hangs up on it, and is in once", async () => {
    const at = byTurns();
    const before = await visitCount();
    const { id, mapping } = await sendLog(linesOf(2000, 1994, "x".repeat(1000)), at);
    await begin(at(), id, "run", mapping);
    const report = async () => ((await (await at().get(`/book/import/${id}`)).json()) as Answer).report;
    await expect
      .poll(async () => (await report())?.share ?? 0, { timeout: 60_000, interval: 30 })
      .toBeGreaterThan(0);
    // The one connection that has been in a transaction for long.
    const { rows } = await sql<{ cut: boolean }>`
      select pg_terminate_backend(pid) as cut from pg_stat_activity
      where usename = 'pelagon_web' and datname = current_database() and xact_start is not null
      order by xact_start limit 1`.execute(world.db);
    expect(rows).toEqual([{ cut: true }]);
    await expect.poll(async () => (await report())?.state, { timeout: 60_000, interval: 200 }).toBe("done");
    expect(await visitCount()).toBe(before + 2000);
  });

  it("is taken over by the other when the server that does it is killed, and is in once", async () => {
    const before = await visitCount();
    const count = 2500;
    const { id, mapping } = await sendLog(linesOf(count, 1993, "x".repeat(1000)), byTurns());
    // Only the first is there to take it.
    await second.stop();
    await begin(both[0], id, "run", mapping);
    const report = async (client: Client) =>
      ((await (await client.get(`/book/import/${id}`)).json()) as Answer).report;
    await expect
      .poll(async () => (await report(both[0]))?.share ?? 0, { timeout: 60_000, interval: 30 })
      .toBeGreaterThan(0);
    await world.web.kill();
    await second.start();
    await expect
      .poll(async () => (await report(both[1]))?.state, { timeout: 90_000, interval: 500 })
      .toBe("done");
    expect(await visitCount()).toBe(before + count);
    await world.web.start();
  });
});

describe("whoever guesses", () => {
  it("is braked by both together", async () => {
    const email = world.theirs.email;
    const answers: number[] = [];
    for (let one = 0; one < 12; one++)
      answers.push(
        (await signIn(one % 2 ? second.address : world.web.address, email, PASSWORD_WRONG)).status,
      );
    expect(answers.filter((status) => status === 429)).toHaveLength(4);
    expect(answers.slice(0, 8)).not.toContain(429);
  });
});

describe("what one of them is told", () => {
  it("a session that ends everywhere is gone at the other", async () => {
    const [here, there] = await signedIn(world.ours.email);
    expect((await there.get("/basins")).status).toBe(200);
    await here.post("/settings", new URLSearchParams({ command: "leave-everywhere" }));
    expect((await there.get("/basins")).status).toBe(302);
    expect((await here.get("/basins")).status).toBe(302);
  });

  it("a batch that was sent to both is carried out once", async () => {
    const clients = await signedIn(world.ours.email);
    const visit = await visitWith(world.db, world.ours, clients[0], { ph: [7.4, 7.6] });
    const seen = { version: 0, plans: 0, readings: [], looked: false, sampled: false };
    const at = new Date();
    const batch = {
      sentAt: at,
      commands: [
        {
          id: uuid(),
          name: "look",
          visitId: visit,
          given: { see: ["cloudy"], hear: [], smell: [], feel: [], note: "" },
          made: { device: "a phone", sequence: 1, at, seen },
        },
      ],
    };
    const answers = await Promise.all(clients.map((client) => client.postJson("/sync", batch)));
    expect(answers.map(({ status }) => status)).toEqual([200, 200]);
    const told = await Promise.all(answers.map(async (answer) => parse(await answer.text()) as SyncAnswer));
    for (const { results } of told) expect(results[0]).not.toHaveProperty("fault");
    expect(told[0]?.results).toEqual(told[1]?.results);
  });
});

describe("a fresh instance", () => {
  it("is started by two at once, has one code, and is set up once", async () => {
    const addresses = await emptyDatabase();
    const servers = await Promise.all([1, 2].map(() => webServer(addresses, { JOBS: "off" })));
    try {
      const codes = servers.map((server) => /with the code (\S+)/.exec(server.said())?.[1]);
      expect(codes[0]).toMatch(/^[A-Z2-9]{5}-[A-Z2-9]{5}$/);
      expect(codes[1]).toBe(codes[0]);
      const form = (name: string) =>
        new URLSearchParams({
          code: codes[0] ?? "",
          name,
          timeZone: "UTC",
          units: "metric",
          currency: "USD",
          owner: "Ida Brook",
          email: `${name.toLowerCase()}@brook.example`,
          password: "a long enough password",
        });
      const answers = await Promise.all(
        servers.map((server, index) => clientOf(server.address).post("/setup", form(`Brook${index}`))),
      );
      expect(answers.map((answer) => answer.headers.get("location")).sort()).toEqual(["/", "/sign-in"]);
      for (const server of servers)
        expect((await clientOf(server.address).get("/setup")).headers.get("location")).toBe("/sign-in");
      // A version after this one went further, and this one falls and is started again meanwhile.
      const owner = openDatabase(addresses.ownerUrl, 1);
      await sql`insert into kysely_migration values ('9999-later', now())`.execute(owner);
      await owner.destroy();
      await servers[0]?.stop();
      await servers[0]?.start();
      expect((await clientOf(servers[0]?.address ?? "").get("/ready")).status).toBe(200);
    } finally {
      await Promise.all(servers.map((server) => server.stop()));
    }
  });
});

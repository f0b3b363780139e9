import { setTimeout as delay } from "node:timers/promises";
import { sql } from "kysely";
import pg from "pg";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm, type Database, type FirmScope, openDatabase } from "#server/db/connection";
import { prepareDatabase } from "#server/db/migrate";
import { positionFrom, positionOf, Replica } from "#server/db/replica";
import { throwAwayCluster, webServer } from "../../scripts/lib/world.mjs";
import { clientOf, dataOf } from "../client";
import { type Firm, newFirm } from "../firm";
import { readAt } from "../visit";

/** A standby of a database of its own: what is read from it, and what never is. */
let cluster: Awaited<ReturnType<typeof throwAwayCluster>>;
let standby: Awaited<ReturnType<typeof cluster.standby>>;
let leader: Database;
let replica: Replica;
let past: pg.Client;
let ours: Firm;
let web: Awaited<ReturnType<typeof webServer>>;

beforeAll(async () => {
  cluster = await throwAwayCluster({ keeps: true });
  await prepareDatabase(cluster.ownerUrl, cluster.url);
  const owner = openDatabase(cluster.ownerUrl, 2);
  ours = await newFirm(owner, "ours");
  await owner.destroy();
  standby = await cluster.standby();
  leader = openDatabase(cluster.url, 4);
  replica = new Replica(leader, openDatabase(standby.at(cluster.url), 4));
  past = new pg.Client({ connectionString: standby.at(cluster.superuserUrl) });
  await past.connect();
  web = await webServer(cluster, { DATABASE_REPLICA_URL: standby.at(cluster.url), JOBS: "off" });
});
afterAll(async () => {
  await web?.stop();
  await past?.end().catch(() => {});
  await replica?.close();
  await leader?.destroy();
  await standby?.stop();
  await cluster?.stop();
});

const pause = () => past.query("select pg_wal_replay_pause()");
const resume = () => past.query("select pg_wal_replay_resume()");

const named = (name: string) =>
  asFirm(leader, ours.id, (scope) => scope.updateTable("site").set({ name }).execute());
const nameIn = async (scope: FirmScope) =>
  (await scope.selectFrom("site").select("name").executeTakeFirstOrThrow()).name;

type Written = Parameters<Replica["read"]>[0];
const read = (written: Written) =>
  replica.read(written, (db, asOf) =>
    asFirm(db, ours.id, async (scope) => {
      const at = await asOf(scope);
      const { rows } = await sql<{ standby: boolean }>`select pg_is_in_recovery() as standby`.execute(scope);
      return { at, standby: rows[0]?.standby, name: await nameIn(scope) };
    }),
  );
/** Asks until there is an answer of this kind. */
async function until<T>(ask: () => Promise<T>, isIt: (answer: T) => boolean): Promise<T> {
  for (;;) {
    const answer = await ask();
    if (isIt(answer)) return answer;
    await delay(50);
  }
}
const fromReplica = (written: Written) =>
  until(
    () => read(written),
    (found) => found !== null,
  );

describe("a replica", () => {
  it("is read from, behind the same walls, and says as of when", async () => {
    const before = new Date();
    const found = await until(
      () => read(null),
      (one) => one !== null && one.value.at > before,
    );
    expect(found?.value).toMatchObject({ standby: true, name: expect.any(String) });
    const others = await replica.read(null, (db, asOf) =>
      asFirm(db, uuid(), async (scope) => {
        await asOf(scope);
        return scope.selectFrom("site").select("id").execute();
      }),
    );
    expect(others?.value).toEqual([]);
  });

  it("is not asked by whoever wrote what it lacks, and by others while it is close behind", async () => {
    await named("before");
    await fromReplica(positionFrom(await positionOf(leader)));
    await pause();
    try {
      await named("after");
      const written = positionFrom(await positionOf(leader));
      expect(written).not.toBeNull();
      expect(await read(written)).toBeNull();
      expect((await read(null))?.value.name).toBe("before");
      await resume();
      expect((await fromReplica(written))?.value).toMatchObject({ standby: true, name: "after" });
    } finally {
      await resume();
    }
  });

  it("is not asked at all when it is too far behind, and is again when it has come up", async () => {
    await pause();
    try {
      await named("while nothing is replayed");
      for (;;) {
        const asked = Date.now();
        const found = await read(null);
        if (!found) break;
        expect(asked - found.value.at.getTime()).toBeLessThan(5500);
        await delay(100);
      }
    } finally {
      await resume();
    }
    expect((await fromReplica(null))?.value.name).toBe("while nothing is replayed");
  });

  it("is read from where the log has just ended a file and nobody writes", async () => {
    const admin = new pg.Client({ connectionString: cluster.superuserUrl });
    await admin.connect();
    await admin.query("select pg_switch_wal()");
    await admin.end();
    const switched = Date.now();
    const found = await until(
      () => read(null),
      (one) => one !== null && one.value.at.getTime() > switched,
    );
    expect(found?.value.standby).toBe(true);
  });

  it("is not asked where it cannot be told what whoever asks wrote", async () => {
    const here = positionFrom(await positionOf(leader));
    if (!here) throw new Error("no position");
    await fromReplica(here);
    expect(await read("unknown")).toBeNull();
    // Written under a leader that this server does not know of yet.
    expect(await read({ ...here, timeline: "0000000F" })).toBeNull();
  });

  it("leaves to the leader what went wrong, a row that is not there included", async () => {
    await fromReplica(null);
    const missing = replica.read(null, async () => {
      throw new Response("Not found", { status: 404 });
    });
    expect(await missing).toBeNull();
  });

  it("knows a place in the log from anything else", () => {
    expect(positionFrom("00000002.A.16B3748")).toEqual({ timeline: "00000002", lsn: 0xa_016b3748n });
    expect(positionFrom("00000002.A.0")).toEqual({ timeline: "00000002", lsn: 0xa_00000000n });
    for (const text of ["", "unknown", "1.A.0", "00000002.A", "00000002.A.0; x", "00000002.A.1234567890"])
      expect(positionFrom(text)).toBeNull();
  });
});

describe("pages over a replica", () => {
  const alkalinities = async (answer: Response) => {
    const told = await dataOf<{ "routes/basin/series": { data: Series } }>(answer);
    const { readings } = told["routes/basin/series"].data;
    return readings.filter(({ quantity }) => quantity === "totalAlkalinity").map(({ value }) => value);
  };
  interface Series {
    readings: { quantity: string; value: number }[];
  }
  const path = () => `/basins/${ours.basinId}/series.data?days=2&_routes=routes%2Fbasin%2Fseries`;

  it("show a session its own writes at once, though the replica lacks them", async () => {
    const http = clientOf(web.address);
    await http.as(ours.email);
    const session = await http.signedIn(ours.email);
    const start = await http.post(`/basins/${ours.basinId}`, new URLSearchParams({ id: uuid() }));
    const visit = (start.headers.get("location") ?? "").split("/")[2] ?? "";
    const mark = (answer: Response) =>
      /pelagon_written=([^;]+)/.exec(answer.headers.get("set-cookie") ?? "")?.[1];
    expect(positionFrom(mark(start) ?? "")).not.toBeNull();
    expect(start.headers.get("set-cookie")).toMatch(/HttpOnly; SameSite=Lax; Max-Age=60/);
    expect(mark(await http.get("/book"))).toBeUndefined();

    await readAt(http, visit, { alkalinity: 90 });
    const others = () => http.get(path(), { Cookie: session }).then(alkalinities);
    await until(others, (values) => values.includes(90));
    const paused = Date.now();
    await pause();
    let alkalinity = 90;
    try {
      const stop = Date.now() + 2000;
      do {
        alkalinity += 10;
        let written: string | undefined;
        const kept = {
          ...http,
          postJson: async (...sent: Parameters<typeof http.postJson>) => {
            const answer = await http.postJson(...sent);
            written = mark(answer);
            return answer;
          },
        };
        await readAt(kept, visit, { alkalinity });
        expect(written).toBeDefined();
        const own = await http.get(path(), { Cookie: `${session}; pelagon_written=${written}` });
        expect(await alkalinities(own)).toEqual([alkalinity]);
      } while (Date.now() < stop);
      // Somebody else is told from the replica: which shows that it was one.
      const told = await others();
      if (Date.now() - paused < 4500) expect(told).toEqual([90]);
    } finally {
      await resume();
    }
    await until(others, (values) => values[0] === alkalinity);
  }, 60_000);

  it("go on from the leader when the replica is gone", async () => {
    const http = clientOf(web.address);
    await http.as(ours.ownerEmail);
    await past.end().catch(() => {});
    await standby.stop();
    for (const page of ["/book", "/book/export.json", "/book/export.csv"]) {
      const answer = await http.get(page);
      expect(answer.status, page).toBe(200);
      expect(answer.headers.get("X-Pelagon-As-Of"), page).toBeNull();
      await answer.text();
    }
    expect(await read(null)).toBeNull();
    standby.stop = async () => {};
  });
});

import { sql } from "kysely";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { dayIn, learnPace, pairOf, type TimedVisit, waysOf } from "#core";
import { asFirm, asGate, type FirmScope } from "#server/db/connection";
import { demoLoaded, demoThrownAway } from "#server/db/instance";
import { placesOf } from "#server/db/week";
import { DEMO_PASSWORD, FIRM, MEMBERS } from "#server/demo/cast";
import { throwDemoAway } from "#server/demo/throw-away";
import { webServer } from "../../scripts/lib/world.mjs";
import { clientOf } from "../client";
import { openWorld, type World } from "../world";

/** The demo lives beside firms of people's own, and goes when somebody throws it away. */
let world: World;
beforeAll(async () => {
  world = await openWorld({ PELAGON_DEMO: "1" });
}, 240_000);
afterAll(() => world.close());

const emailOf = (role: string) => MEMBERS.find((one) => one.role === role)?.email ?? "";

/** Rows of a firm in every table that has such. */
async function rowsOf(firmId: string): Promise<Record<string, number>> {
  const { rows } = await sql<{ name: string }>`
    select relname as name from pg_class join pg_attribute on attrelid = pg_class.oid and attname = 'firm_id'
    where relkind = 'r' and relnamespace = 'public'::regnamespace order by relname`.execute(world.db);
  return asFirm(world.db, firmId, async (scope) => {
    const counts: Record<string, number> = {};
    for (const { name } of rows) {
      const found = await sql<{ count: number }>`
        select count(*)::int as count from ${sql.table(name)} where firm_id = ${firmId}`.execute(scope);
      counts[name] = found.rows[0]?.count ?? -1;
    }
    return counts;
  });
}

const timedVisits = async (scope: FirmScope): Promise<TimedVisit[]> =>
  (
    await scope
      .selectFrom("visit")
      .innerJoin("basin", "basin.id", "visit.basin_id")
      .select(["member_id", "basin_id", "site_id", "started_at", "finished_at"])
      .orderBy("started_at")
      .execute()
  ).flatMap((row) =>
    row.finished_at
      ? [
          {
            memberId: row.member_id,
            basinId: row.basin_id,
            siteId: row.site_id,
            startedAt: row.started_at.getTime(),
            finishedAt: row.finished_at.getTime(),
          },
        ]
      : [],
  );

/** Each way that was driven on a day, with its minutes. */
const waysIn = (
  visits: readonly TimedVisit[],
  day: string,
  dayOf: (at: number) => string,
): [string, number][] => {
  const those = visits.filter(({ startedAt }) => dayOf(startedAt) === day);
  return those.flatMap((visit, index): [string, number][] => {
    const last = those.slice(0, index).findLast(({ memberId }) => memberId === visit.memberId);
    const minutes = last ? (visit.startedAt - last.finishedAt) / 60_000 : 0;
    return last && last.siteId !== visit.siteId && minutes >= 1
      ? [[pairOf(last.siteId, visit.siteId), minutes]]
      : [];
  });
};

const median = (values: readonly number[]): number =>
  [...values].sort((a, b) => a - b)[values.length >> 1] ?? Number.NaN;

const demoFirm = async () =>
  (
    await asGate(world.db, (scope) =>
      scope.selectFrom("firm").select("id").where("demo", "=", true).executeTakeFirstOrThrow(),
    )
  ).id;

describe("the demo", () => {
  it("can be swept from every table by nobody but whom the walls let", async () => {
    const { rows } = await sql<{ name: string }>`
      select relname as name from pg_class join pg_attribute on attrelid = pg_class.oid and attname = 'firm_id'
      where relkind = 'r' and relnamespace = 'public'::regnamespace and not exists (
        select from pg_policies where tablename = relname and policyname = 'broom'
          and roles = '{pelagon_broom}' and qual like '%demo%' and with_check = 'false')`.execute(world.db);
    expect(rows).toEqual([]);
  });

  it("teaches the ways between its sites: the next day's within a quarter, those never driven told by place", async () => {
    const { visits, places } = await asFirm(world.db, await demoFirm(), async (scope) => ({
      visits: await timedVisits(scope),
      places: await placesOf(scope),
    }));
    const dayOf = (at: number) => dayIn(new Date(at), FIRM.timeZone);
    const sites = [...places.keys()];
    const days = [...new Set(visits.map(({ startedAt }) => dayOf(startedAt)))];
    const errors = { driven: [] as number[], never: [] as number[] };
    for (const day of days.slice(30)) {
      const before = visits.filter(({ startedAt }) => dayOf(startedAt) < day);
      const pace = learnPace(before, dayOf);
      for (const [pair, minutes] of waysIn(visits, day, dayOf)) {
        const known = pace.ways[pair];
        if (known) errors.driven.push(Math.abs(known.minutes / minutes - 1));
        const { [pair]: _, ...others } = pace.ways;
        const byPlace = waysOf({ ...pace, ways: others }, places, sites).known[pair];
        errors.never.push(Math.abs((byPlace ?? 0) / minutes - 1));
      }
    }
    expect(errors.driven.length).toBeGreaterThan(500);
    expect(median(errors.driven)).toBeLessThan(0.25);
    // A road whose bends nobody saw.
    expect(median(errors.never)).toBeLessThan(0.35);
  });

  it("is said to be one on each of its pages, and an own firm is not", async () => {
    const demo = clientOf(world.web.address);
    await demo.as(emailOf("owner"), DEMO_PASSWORD);
    expect(await (await demo.get("/basins")).text()).toContain("Demo: a made-up firm.");
    expect(await (await world.http.get("/basins")).text()).not.toContain("Demo: a made-up firm.");
  });

  it("is thrown away by an owner of it, whole, with nothing of another firm, and stays away", async () => {
    const firmId = await demoFirm();
    const ours = await rowsOf(world.ours.id);
    expect((await rowsOf(firmId)).reading).toBeGreaterThan(1000);
    // Another firm is none, whoever asks.
    expect(await asFirm(world.db, world.ours.id, (scope) => throwDemoAway(scope, new Date()))).toBe(false);
    const owner = await world.as(world.ours.ownerEmail);
    expect((await owner.post("/settings/demo", new URLSearchParams())).status).toBe(404);
    const technician = clientOf(world.web.address);
    await technician.as(emailOf("technician"), DEMO_PASSWORD);
    expect((await technician.post("/settings/demo", new URLSearchParams())).status).toBe(403);
    const demo = clientOf(world.web.address);
    await demo.as(emailOf("owner"), DEMO_PASSWORD);
    const answer = await demo.post("/settings/demo", new URLSearchParams());
    expect(answer.status).toBe(302);
    expect(answer.headers.get("Location")).toBe("/sign-in");
    expect(Object.values(await rowsOf(firmId)).reduce((sum, count) => sum + count, 0)).toBe(0);
    expect(await demoLoaded(world.db)).toBe(false);
    const left = await rowsOf(world.ours.id);
    // Signing in is all that was written meanwhile.
    expect({ ...left, session: 0, audit: 0 }).toEqual({ ...ours, session: 0, audit: 0 });
    // Everybody of it is signed out, and its sign-in is not offered any more.
    expect((await technician.get("/basins")).status).toBe(302);
    expect(await (await clientOf(world.web.address).get("/sign-in")).text()).not.toContain(emailOf("owner"));
    expect((await world.http.get("/basins")).status).toBe(200);

    expect(await demoThrownAway(world.db)).toBe(true);
    const again = await webServer(world.addresses, { PELAGON_DEMO: "1", JOBS: "off" });
    await again.stop();
    expect(await demoLoaded(world.db)).toBe(false);
  });
});

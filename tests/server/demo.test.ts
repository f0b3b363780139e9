import { sql } from "kysely";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm, asGate } from "#server/db/connection";
import { demoLoaded, demoThrownAway } from "#server/db/instance";
import { DEMO_PASSWORD, MEMBERS } from "#server/demo/cast";
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

import { millisecondsInDay } from "date-fns/constants";
import { CompiledQuery, Kysely, PostgresDialect, sql } from "kysely";
import pg from "pg";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { bookPage } from "#server/db/book";
import { asFirm, type FirmScope } from "#server/db/connection";
import { dosesOfVisits, findingsOfVisits } from "#server/db/doses";
import { lastReadings, lastValues, readingsOfVisits } from "#server/db/readings";
import { lastVisitsOf, lateDoses } from "#server/db/recent";
import type { DB } from "#server/db/schema";
import { readingSeries } from "#server/db/series";
import { visitsOfBasin } from "#server/db/visits";
import { newDatabase } from "../database";
import { type Firm, newFirm } from "../firm";

/** What the large tables are asked for is found through an index: nothing reads them from end to end. */
let db: Kysely<DB>;
let close: () => Promise<void>;
let firm: Firm;
let asked: CompiledQuery[] = [];

beforeAll(async () => {
  const made = await newDatabase();
  close = made.close;
  firm = await newFirm(made.db, "ours");
  // Enough rows that choosing an index is worth something: 40 basins with 60 visits and three readings each.
  await asFirm(made.db, firm.id, async (scope) => {
    await sql`
      insert into basin (id, firm_id, site_id, name, kind, surface, litres, kit_id, range_set_id)
      select md5('basin ' || n)::uuid, firm_id, site_id, 'Basin ' || n, kind, surface, litres, kit_id, range_set_id
      from basin, generate_series(1, 40) as n`.execute(scope);
    await sql`
      insert into visit (id, firm_id, basin_id, member_id, kit_id, range_set_id, litres, started_at, finished_at)
      select gen_random_uuid(), firm_id, id, ${firm.memberId}::uuid, kit_id, range_set_id, litres,
        now() - make_interval(days => 7 * ago), now() - make_interval(days => 7 * ago) + interval '30 minutes'
      from basin, generate_series(1, 60) as ago`.execute(scope);
    await sql`
      insert into reading (id, firm_id, visit_id, member_id, quantity, value, low, high, bound, kit_id, method_id, observation, taken_at)
      select gen_random_uuid(), firm_id, id, member_id, quantity, 7, 7, 7, 'within', kit_id, 'x', '{}', started_at
      from visit, unnest(array['ph', 'freeChlorine', 'temperature']) as quantity`.execute(scope);
  });
  await sql`analyze`.execute(made.db);
  db = new Kysely<DB>({
    dialect: new PostgresDialect({ pool: new pg.Pool({ connectionString: made.url, max: 1 }) }),
    log: (event) => {
      if (event.level === "query") asked.push(event.query as CompiledQuery);
    },
  });
});
afterAll(async () => {
  await db.destroy();
  await close();
});

const LARGE = /Seq Scan on (visit|reading|finding|dose|audit)\b/;

/** The plans of every query that `work` makes, where reading a table whole is the last resort. */
async function plansOf(work: (scope: FirmScope) => Promise<unknown>): Promise<string[]> {
  return asFirm(db, firm.id, async (scope) => {
    await sql`set local enable_seqscan = off`.execute(scope);
    asked = [];
    await work(scope);
    const plans: string[] = [];
    for (const query of [...asked]) {
      const { rows } = await scope.executeQuery<{ "QUERY PLAN": string }>(
        CompiledQuery.raw(`explain ${query.sql}`, [...query.parameters]),
      );
      plans.push(rows.map((row) => row["QUERY PLAN"]).join("\n"));
    }
    return plans;
  });
}

const FILTER = { text: "", basinId: null, memberId: null, finding: null, from: null, to: null };
const long = new Date(Date.now() - 400 * millisecondsInDay);

describe("an index is used", () => {
  it.each<[string, (scope: FirmScope) => Promise<unknown>, RegExp]>([
    [
      "the round's last visits",
      (scope) => lastVisitsOf(scope, [firm.basinId], "2026-01-01", "UTC"),
      /visit_of_basin/,
    ],
    ["the round's readings", (scope) => lastValues(scope, [firm.basinId], new Date()), /reading_of_basin/],
    ["the round's doses", (scope) => lateDoses(scope, [firm.basinId], long), /dose_(current|of_visit)/],
    ["a basin's visits", (scope) => visitsOfBasin(scope, firm.basinId, 20, null), /visit_of_basin/],
    ["a basin's last readings", (scope) => lastReadings(scope, firm.basinId, new Date()), /reading_of_basin/],
    ["a basin over time", (scope) => readingSeries(scope, firm.basinId, long), /visit_of_basin/],
    [
      "the book",
      (scope) => bookPage(scope, FILTER, { startedAt: new Date(), id: uuid() }, 41, "UTC"),
      /visit_in_book/,
    ],
    [
      "the book of one finding",
      (scope) => bookPage(scope, { ...FILTER, finding: "ph.low" }, null, 41, "UTC"),
      /visit_in_book|finding_(by_code|of_visit)/,
    ],
    ["readings of visits", (scope) => readingsOfVisits(scope, [uuid(), uuid()]), /reading_/],
    ["findings of visits", (scope) => findingsOfVisits(scope, [uuid(), uuid()]), /finding_/],
    ["doses of visits", (scope) => dosesOfVisits(scope, [uuid(), uuid()]), /dose_/],
  ])("for %s", async (_, work, index) => {
    const plans = await plansOf(work);
    expect(plans.length).toBeGreaterThan(0);
    for (const plan of plans) expect(plan).not.toMatch(LARGE);
    expect(plans.join("\n")).toMatch(index);
  });
});

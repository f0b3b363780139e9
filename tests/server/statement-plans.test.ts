import { millisecondsInDay } from "date-fns/constants";
import { type CompiledQuery, Kysely, PostgresDialect, sql } from "kysely";
import pg from "pg";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { auditOf, auditPage } from "#server/db/audit";
import { allBasins, basinById } from "#server/db/basins";
import { bookPage } from "#server/db/book";
import { asFirm, type FirmScope } from "#server/db/connection";
import { firmOf } from "#server/db/firms";
import { photosOfBasin } from "#server/db/photos";
import { openPool } from "#server/db/pool";
import { lastReadings } from "#server/db/readings";
import type { DB } from "#server/db/schema";
import { costByMonth, costOfVisit, doseSeries, readingSeries } from "#server/db/series";
import { readBrought } from "#server/db/visit-record";
import { openVisitAt, visitsOfBasin } from "#server/db/visits";
import { volumesOf } from "#server/db/volumes";
import { roundOn } from "#server/round/day";
import { weekNeed } from "#server/shelf/need";
import { carryOut } from "#server/visits/carry-out";
import { customerSheet } from "#server/visits/customer-sheet";
import { openVisit } from "#server/visits/open";
import { volumeChecks } from "#server/visits/volume-check";
import { newDatabase, type TestDatabase } from "../database";
import { type Firm, newFirm } from "../firm";

/**
 * A statement that is kept prepared may be given one plan for all firms. So any such plan must be good for
 * the largest and the smallest, planned with statistics and without: here one firm has a thousand times
 * the readings of the other, and every statement is run by the plan that knows neither.
 */
let made: TestDatabase;
let db: Kysely<DB>;
let small: Firm;
let large: Firm;
let asked: CompiledQuery[] = [];

const BASINS = 60;
const VISITS = 130;
const QUANTITIES = ["freeChlorine", "ph", "totalAlkalinity", "calciumHardness", "temperature"];

async function fill(firm: Firm, basins: number, visits: number): Promise<void> {
  await asFirm(db, firm.id, async (scope) => {
    // A page's time is no measure for filling a book, on whatever machine.
    await sql`set local statement_timeout = 0`.execute(scope);
    await sql`
      insert into basin (id, firm_id, site_id, name, kind, surface, litres, kit_id, range_set_id, call_days)
      select gen_random_uuid(), firm_id, site_id, 'Basin ' || n, kind, surface, litres, kit_id, range_set_id, call_days
      from basin, generate_series(2, ${basins}) as n`.execute(scope);
    await sql`
      insert into visit (id, firm_id, basin_id, member_id, kit_id, range_set_id, litres, started_at, finished_at)
      select gen_random_uuid(), firm_id, id, ${firm.memberId}::uuid, kit_id, range_set_id, litres,
        now() - make_interval(days => 3 * n), now() - make_interval(days => 3 * n) + interval '30 minutes'
      from basin, generate_series(1, ${visits}) as n`.execute(scope);
    await sql`
      insert into reading (id, firm_id, visit_id, member_id, quantity, value, low, high, bound, kit_id, method_id, observation, taken_at)
      select gen_random_uuid(), firm_id, id, member_id, quantity, 7, 7, 7, 'within', kit_id, 'x', '{}', started_at
      from visit, unnest(${sql.val(QUANTITIES)}::text[]) as quantity`.execute(scope);
    await sql`
      insert into finding (id, firm_id, visit_id, position, code, detail)
      select gen_random_uuid(), firm_id, id, 0, 'ph.low', '{}' from visit`.execute(scope);
    await sql`
      insert into dose (id, firm_id, visit_id, member_id, product_id, code, planned_grams, given_grams, given_at)
      select gen_random_uuid(), visit.firm_id, visit.id, visit.member_id,
        (select id from product limit 1), 'ph.low', 100, 100, started_at from visit`.execute(scope);
    await sql`
      insert into visit (id, firm_id, basin_id, member_id, kit_id, range_set_id, litres, started_at)
      select gen_random_uuid(), firm_id, id, ${firm.memberId}::uuid, kit_id, range_set_id, litres, now()
      from basin where id = ${firm.basinId}`.execute(scope);
  });
}

beforeAll(async () => {
  made = await newDatabase();
  small = await newFirm(made.db, "small");
  large = await newFirm(made.db, "large");
  db = new Kysely<DB>({
    // The pages' own pool: it learns what columns a statement has, and so which may go as one.
    dialect: new PostgresDialect({ pool: openPool(made.addresses.url, 1, false) }),
    log: (event) => {
      if (event.level === "query") asked.push(event.query as CompiledQuery);
    },
  });
  // The small one first, on the same connection: what it plans is kept when the large one comes.
  await fill(small, 1, 8);
  await fill(large, BASINS, VISITS);
}, 120_000);
afterAll(async () => {
  await db.destroy();
  await made.close();
});

const now = new Date();

/** What pages read, each as its loader does. */
const PAGES: Record<
  string,
  (scope: FirmScope, firm: Firm, visit: { open: string; done: string }) => Promise<unknown>
> = {
  round: async (scope) => roundOn(scope, await firmOf(scope), now.toISOString().slice(0, 10), now),
  visit: (scope, { memberId }, { open }) => openVisit(scope, { id: open, memberId }, now),
  "finished visit": async (scope, { memberId }, { done }) => [
    await openVisit(scope, { id: done, memberId }, now),
    await costOfVisit(scope, done),
  ],
  "customer's sheet": (scope, _, { done }) => customerSheet(scope, done),
  basin: async (scope, { basinId }) => [
    await basinById(scope, basinId),
    await lastReadings(scope, basinId, now),
    await openVisitAt(scope, basinId),
    await visitsOfBasin(scope, basinId, 21, null),
    await photosOfBasin(scope, basinId),
    await volumesOf(scope, basinId),
    await volumeChecks(scope, basinId),
    await auditOf(scope, basinId),
  ],
  "basin over time": async (scope, { basinId }) => {
    const from = new Date(now.getTime() - 365 * millisecondsInDay);
    return [
      await readingSeries(scope, basinId, from),
      await doseSeries(scope, basinId, from),
      await costByMonth(scope, basinId, from, "UTC"),
    ];
  },
  "call at a basin": (scope, { basinId, memberId }) =>
    readBrought(scope, { id: uuid(), basinId, memberId }, now),
  basins: (scope) => allBasins(scope),
  book: (scope) =>
    bookPage(
      scope,
      { text: "", basinId: null, memberId: null, finding: null, from: null, to: null },
      { startedAt: now, id: uuid() },
      41,
      "UTC",
    ),
  "book by finding": (scope) =>
    bookPage(
      scope,
      { text: "", basinId: null, memberId: null, finding: "ph.low", from: null, to: null },
      null,
      41,
      "UTC",
    ),
  shelf: async (scope) => weekNeed(scope, await firmOf(scope), now),
  audit: (scope) => auditPage(scope, null, 61),
};

interface Node {
  "Node Type": string;
  "Relation Name"?: string;
  "Actual Rows": number;
  "Actual Loops": number;
  "Rows Removed by Filter"?: number;
  "Rows Removed by Index Recheck"?: number;
  "Rows Removed by Join Filter"?: number;
  Plans?: Node[];
}

/** Rows that a plan looked at, in its tables and between them. */
const looked = (node: Node): number =>
  node["Actual Loops"] *
    (node["Actual Rows"] +
      (node["Rows Removed by Filter"] ?? 0) +
      (node["Rows Removed by Index Recheck"] ?? 0) +
      (node["Rows Removed by Join Filter"] ?? 0)) +
  (node.Plans ?? []).reduce((sum, one) => sum + looked(one), 0);

/** How many statements a page takes, and how many rows the worst of them looks at under its generic plan. */
async function costOf(page: keyof typeof PAGES, firm: Firm) {
  return asFirm(db, firm.id, async (scope) => {
    const visit = {
      open: await visitAt(scope, firm, "is null"),
      done: await visitAt(scope, firm, "is not null"),
    };
    // Once before it counts: a statement goes with others only once its columns are known.
    await PAGES[page]?.(scope, firm, visit);
    asked = [];
    await PAGES[page]?.(scope, firm, visit);
    const count = asked.length;
    const statements = asked.filter((query) => /^\s*(select|with)/i.test(query.sql));
    let worst = { rows: 0, text: "" };
    await sql`set local plan_cache_mode = force_generic_plan`.execute(scope);
    for (const [index, query] of statements.entries()) {
      const name = `p${index}`;
      await sql.raw(`prepare ${name} as ${query.sql}`).execute(scope);
      const values = query.parameters.map((value) =>
        value === null ? "null" : pg.escapeLiteral(textOf(value)),
      );
      const { rows } = await sql
        .raw<{ "QUERY PLAN": { Plan: Node }[] }>(
          `explain (analyze, format json) execute ${name}${values.length > 0 ? `(${values.join(", ")})` : ""}`,
        )
        .execute(scope);
      await sql.raw(`deallocate ${name}`).execute(scope);
      const plan = rows[0]?.["QUERY PLAN"][0]?.Plan;
      // Statements that went as one are parts of its plan.
      const parts =
        plan && /^select \(select json_agg\(json_build_array\(/.test(query.sql) ? plan.Plans : plan && [plan];
      const rowsLooked = Math.max(0, ...(parts ?? []).map(looked));
      if (rowsLooked > worst.rows) worst = { rows: rowsLooked, text: query.sql };
    }
    return { statements: count, worst };
  });
}

async function visitAt(scope: FirmScope, firm: Firm, finished: "is null" | "is not null"): Promise<string> {
  const { rows } = await sql<{ id: string }>`
    select id from visit where basin_id = ${firm.basinId} and finished_at ${sql.raw(finished)}
    order by started_at desc limit 1`.execute(scope);
  return rows[0]?.id ?? "";
}

function textOf(value: unknown): string {
  if (value instanceof Date) return value.toISOString();
  if (Array.isArray(value)) return `{${value.map((one) => `"${String(one)}"`).join(",")}}`;
  return String(value);
}

/** Rows that any one statement of a page may look at, of a small firm's few and of a large one's 78 000. */
const MOST = { small: 500, large: 25_000 };
/** What a firm's findings of one code are looked for in grows with them: each is seen a few times. */
const MOST_BY_FINDING = 100_000;
/** Statements that a page may take, its wall included. */
const STATEMENTS = {
  round: 8,
  visit: 2,
  "finished visit": 3,
  "customer's sheet": 4,
  basin: 10,
} as Record<string, number>;

describe.each(["before", "after"])("plans that fit every firm, %s statistics are there", (when) => {
  beforeAll(async () => {
    if (when === "after") await sql`analyze`.execute(made.db);
  }, 60_000);

  it.each(Object.keys(PAGES))("of the %s", async (page) => {
    for (const [size, firm] of [
      ["small", small],
      ["large", large],
    ] as const) {
      const { statements, worst } = await costOf(page, firm);
      if (process.env.SHOWN)
        console.log(when, page, size, statements, worst.rows, worst.text.slice(0, 90).replace(/\s+/g, " "));
      expect(worst.rows, `${size}: ${worst.text.slice(0, 300)}`).toBeLessThan(
        page === "book by finding" ? MOST_BY_FINDING : MOST[size],
      );
      expect(statements, `${page}: statements`).toBeLessThanOrEqual(STATEMENTS[page] ?? 8);
    }
  });
});

describe("a save", () => {
  it("takes six statements: the beginning, for whom, a lock, one read, one write, and the end", async () => {
    const open = await asFirm(db, small.id, (scope) => visitAt(scope, small, "is null"));
    const author = { firmId: small.id, memberId: small.memberId, memberName: "Tech", now };
    const tests = [
      {
        id: uuid(),
        methodId: "salt",
        seen: { kind: "drops" as const, count: 16, sample: 10 },
      },
    ];
    const save = (id: string) =>
      asFirm(db, small.id, (scope) =>
        carryOut(scope, author, { visitId: open, name: "read", id, given: { tests } }),
      );
    asked = [];
    await save(uuid());
    // Between the beginning, which says for whom, and the end: the lock, the read and the write.
    const texts = asked.map(({ sql: text }) => text.trim().toLowerCase());
    expect(texts).toHaveLength(6);
    expect(texts.filter((text) => /^(select|with|insert|update|delete)/.test(text))).toHaveLength(3);
  });
});

import { execFileSync } from "node:child_process";
import { sql } from "kysely";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm, asGate, type Database } from "#server/db/connection";
import { newDatabase } from "../database";
import { fillFirm } from "../filled";
import { type Firm, newFirm } from "../firm";

let db: Database;
let url: string;
let close: () => Promise<void>;
let ours: Firm;
let theirs: Firm;

beforeAll(async () => {
  ({ db, url, close } = await newDatabase());
  ours = await newFirm(db, "ours");
  theirs = await newFirm(db, "theirs");
  for (const firm of [ours, theirs]) await fillFirm(db, firm);
});
afterAll(() => close());

const TABLES = [
  "firm",
  "member",
  "session",
  "site",
  "kit",
  "range_set",
  "product",
  "basin",
  "visit",
  "drop_count",
  "reading",
  "finding",
  "dose",
  "photo",
  "bottle",
  "card",
  "card_entry",
  "reagent_use",
  "plan",
  "plan_step",
  "plan_outcome",
  "basin_volume",
  "member_site",
  "invite",
  "share",
  "feed",
  "api_token",
  "webhook",
  "webhook_event",
  "webhook_delivery",
  "audit",
  "round_day",
  "round_call",
  "basin_event",
  "task_done",
  "reminder",
  "truck",
  "truck_stock",
  "product_price",
  "command",
  "password_reset",
  "readiness",
  "learned",
  "suspicion_list",
  "delivery",
  "practised",
  "instance",
  "brake",
  "import_file",
  "import_chunk",
  "job_lease",
  "work_list",
  "visit_work",
  "plant_reading",
  "site_access",
  "defect",
  "quote",
  "site_mail",
  "mail_server",
  "mail",
];

describe("the wall between firms", () => {
  it("stands on every table, for its owner too", async () => {
    const { rows } = await sql<{ relname: string; on: boolean; forced: boolean }>`
      select relname, relrowsecurity as on, relforcerowsecurity as forced from pg_class
      where relnamespace = 'public'::regnamespace and relkind = 'r' and relname not like 'kysely_%'`.execute(
      db,
    );
    expect(rows.map((row) => row.relname).sort()).toEqual([...TABLES].sort());
    for (const row of rows) expect(row).toMatchObject({ on: true, forced: true });
  });

  it("is not climbed by a role that may bypass it", async () => {
    const { rows } = await sql<{ rolname: string; rolbypassrls: boolean; rolsuper: boolean }>`
      select rolname, rolbypassrls, rolsuper from pg_roles where rolname in ('pelagon', 'pelagon_app', 'pelagon_gate', 'pelagon_reader', 'pelagon_broom', 'pelagon_eraser')`.execute(
      db,
    );
    expect(rows).toHaveLength(6);
    for (const row of rows) expect(row).toMatchObject({ rolbypassrls: false, rolsuper: false });
  });

  /** Of the whole server, and of no firm. */
  const NOT_BY_FIRM = ["readiness", "instance", "brake", "job_lease"];
  const BY_FIRM = TABLES.filter((name) => !NOT_BY_FIRM.includes(name));
  const keyOf = (table: string) => (table === "firm" ? "id" : "firm_id");

  it.each(BY_FIRM)("shows a firm its own rows of %s, and none of another", async (table) => {
    for (const firm of [ours, theirs]) {
      const { rows } = await asFirm(db, firm.id, (scope) =>
        sql<{
          firm: string;
        }>`select distinct ${sql.ref(keyOf(table))} as firm from ${sql.table(table)}`.execute(scope),
      );
      // Its own are there: a wall before nothing would let everything by.
      expect(rows).toEqual([{ firm: firm.id }]);
    }
  });

  it.each(BY_FIRM)("lets no row of another in %s be changed or taken away", async (table) => {
    const theirsWhere = sql`where ${sql.ref(keyOf(table))} = ${theirs.id}`;
    const column = sql.ref(keyOf(table));
    for (const change of [
      sql`update ${sql.table(table)} set ${column} = ${column} ${theirsWhere}`,
      sql`delete from ${sql.table(table)} ${theirsWhere}`,
    ]) {
      const done = await asFirm(db, ours.id, (scope) => change.execute(scope)).catch((fault: Error) => fault);
      if (done instanceof Error) expect(done.message).toMatch(/permission denied/);
      else expect(Number(done.numAffectedRows ?? 0)).toBe(0);
    }
  });

  it("shows the basins of the firm that is asked for", async () => {
    const basins = await asFirm(db, ours.id, (scope) => scope.selectFrom("basin").select("id").execute());
    expect(basins.map((basin) => basin.id)).toEqual([ours.basinId]);
  });

  it("lets nothing be written into another firm", async () => {
    await expect(
      asFirm(db, ours.id, (scope) =>
        scope.insertInto("site").values({ id: uuid(), firm_id: theirs.id, name: "Theirs" }).execute(),
      ),
    ).rejects.toThrow(/row-level security/);
    const moved = await asFirm(db, ours.id, (scope) =>
      scope.updateTable("basin").set({ name: "Taken" }).where("id", "=", theirs.basinId).executeTakeFirst(),
    );
    expect(Number(moved.numUpdatedRows)).toBe(0);
    await expect(
      asFirm(db, ours.id, (scope) =>
        scope
          .insertInto("visit")
          .values({
            id: uuid(),
            firm_id: ours.id,
            basin_id: theirs.basinId,
            member_id: ours.memberId,
            kit_id: ours.kitId,
            range_set_id: ours.rangeSetId,
            litres: 1000,
            started_at: new Date(),
          })
          .execute(),
      ),
    ).rejects.toThrow(/foreign key/);
  });

  it("shows nothing at all to a query that forgot to say for whom", async () => {
    expect(await db.selectFrom("basin").select("id").execute()).toEqual([]);
    const nobody = await db.transaction().execute(async (scope) => {
      await sql`set local role pelagon_app`.execute(scope);
      return scope.selectFrom("basin").select("id").execute();
    });
    expect(nobody).toEqual([]);
  });

  it("opens the gate to sign-in and nothing else", async () => {
    await expect(asGate(db, (scope) => scope.selectFrom("basin").select("id").execute())).rejects.toThrow(
      /permission denied/,
    );
    await expect(
      asGate(db, (scope) => scope.updateTable("member").set({ role: "owner" }).execute()),
    ).rejects.toThrow(/permission denied/);
  });

  it("deletes nothing that is in the book", async () => {
    for (const table of ["visit", "reading", "dose", "basin"] as const)
      await expect(asFirm(db, ours.id, (scope) => scope.deleteFrom(table).execute())).rejects.toThrow(
        /permission denied/,
      );
  });
});

describe("the schema", () => {
  it("is what the types say", () => {
    const out = execFileSync(
      "node_modules/.bin/kysely-codegen",
      ["--config-file", ".kysely-codegenrc.json", "--verify"],
      {
        env: { ...process.env, DATABASE_URL: url },
        encoding: "utf8",
      },
    );
    expect(out).not.toMatch(/not up-to-date/i);
  });

  it.each([
    ["ph", 15, 15, 15, "within", /reading_value/],
    ["temperature", 204, 204, 204, "within", /reading_value/],
    ["freeChlorine", Number.NaN, 0, 1, "within", /reading_(value|bracket)/],
    ["nonsense", 1, 1, 1, "within", /reading_value/],
    ["freeChlorine", 2, 3, 4, "within", /reading_bracket/],
    ["ph", 8.2, 8.2, 8.2, "at-least", /reading_bracket/],
  ])("keeps %s = %d out of the table by itself", async (quantity, value, low, high, bound, constraint) => {
    const visitId = uuid();
    await expect(
      asFirm(db, ours.id, async (scope) => {
        await scope
          .insertInto("visit")
          .values({
            id: visitId,
            firm_id: ours.id,
            basin_id: ours.basinId,
            member_id: ours.memberId,
            kit_id: ours.kitId,
            range_set_id: ours.rangeSetId,
            litres: 1000,
            started_at: new Date(),
          })
          .execute();
        await scope
          .insertInto("reading")
          .values({
            id: uuid(),
            firm_id: ours.id,
            visit_id: visitId,
            member_id: ours.memberId,
            quantity,
            value,
            low,
            high,
            bound,
            kit_id: ours.kitId,
            method_id: "x",
            observation: "{}",
            taken_at: new Date(),
          })
          .execute();
      }),
    ).rejects.toThrow(constraint);
  });
});

import { millisecondsInDay } from "date-fns/constants";
import { sql } from "kysely";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { bottleInUse, bottleStates } from "#core";
import { bottlesOf, saveBottle } from "#server/db/bottles";
import { asFirm, type Database, type FirmScope } from "#server/db/connection";
import { firmOf } from "#server/db/firms";
import { MIGRATIONS } from "#server/db/migrations/index";
import { lastReadings } from "#server/db/readings";
import { weekNeed } from "#server/shelf/need";
import { openVisit } from "#server/visits/open";
import { newDatabase } from "../database";
import { type Firm, newFirm } from "../firm";

/** What the log knows when a test is judged, read from real rows. */
let db: Database;
let close: () => Promise<void>;
let ours: Firm;
const NOW = new Date("2026-11-24T18:00:00Z");
const daysAgo = (days: number) => new Date(NOW.getTime() - days * millisecondsInDay);

beforeAll(async () => {
  ({ db, close } = await newDatabase());
  ours = await newFirm(db, "ours");
});
afterAll(() => close());

async function basin(scope: FirmScope, change: object = {}): Promise<string> {
  const id = uuid();
  const like = await scope
    .selectFrom("basin")
    .selectAll()
    .where("id", "=", ours.basinId)
    .executeTakeFirstOrThrow();
  await scope
    .insertInto("basin")
    .values({ ...like, id, call_days: [], ...change })
    .execute();
  return id;
}

async function visit(
  scope: FirmScope,
  basinId: string,
  days: number,
  values: Record<string, number>,
  { finished = true, observation = { kind: "number", value: 1 } as object } = {},
): Promise<string> {
  const id = uuid();
  const at = daysAgo(days);
  const common = { firm_id: ours.id, member_id: ours.memberId };
  await scope
    .insertInto("visit")
    .values({
      ...common,
      id,
      basin_id: basinId,
      kit_id: ours.kitId,
      range_set_id: ours.rangeSetId,
      litres: 10_000,
      started_at: at,
      finished_at: finished ? at : null,
    })
    .execute();
  for (const [quantity, value] of Object.entries(values))
    await scope
      .insertInto("reading")
      .values({
        ...common,
        id: uuid(),
        visit_id: id,
        quantity,
        value,
        low: value,
        high: value,
        bound: "within",
        kit_id: ours.kitId,
        method_id: "total-alkalinity",
        observation: JSON.stringify(observation),
        taken_at: at,
      })
      .execute();
  return id;
}

const viewOf = async (scope: FirmScope, visitId: string) => {
  const opened = await openVisit(scope, { id: visitId, memberId: ours.memberId }, NOW);
  if (!opened) throw new Error("no visit");
  return opened.log;
};

describe("the log", () => {
  it("gives a bottle away that reads off at every basin at once", async () => {
    await asFirm(db, ours.id, async (scope) => {
      const basins = await Promise.all(Array.from({ length: 6 }, () => basin(scope)));
      for (const id of basins) {
        for (const days of [60, 45, 30])
          await visit(scope, id, days, { totalAlkalinity: 100, calciumHardness: 300 });
        await visit(scope, id, 3, { totalAlkalinity: 122, calciumHardness: 302 });
      }
      const open = await visit(scope, basins[0] ?? "", 0, {}, { finished: false });
      const log = await viewOf(scope, open);
      expect(log.shifts).toEqual({ totalAlkalinity: { share: expect.closeTo(0.22, 6), basins: 6 } });
      expect(log.last.totalAlkalinity).toMatchObject({ value: 122, daysAgo: 3 });
    });
  });

  it("knows a basin with metals, its last readings, and what went in", async () => {
    await asFirm(db, ours.id, async (scope) => {
      const id = await basin(scope);
      const before = await visit(
        scope,
        id,
        9,
        { calciumHardness: 250 },
        { observation: { kind: "drops", count: 25, sample: 25, ahead: 8 } },
      );
      const product = await scope
        .selectFrom("product")
        .select("id")
        .where("compound", "=", "trichlor")
        .executeTakeFirstOrThrow();
      const dose = (grams: number, days: number, code: string) => ({
        id: uuid(),
        firm_id: ours.id,
        visit_id: before,
        member_id: ours.memberId,
        product_id: product.id,
        code,
        planned_grams: grams,
        given_grams: grams,
        given_at: daysAgo(days),
      });
      // Tablets: 250 g per 10 000 L since the last test bring the stabiliser forward; older than 45 days is out of mind.
      await scope
        .insertInto("dose")
        .values([dose(400, 5, "a"), dose(0, 4, "b"), dose(900, 60, "c")])
        .execute();
      await visit(scope, id, 8, {
        cyanuricAcid: 40,
        ph: 7.5,
        freeChlorine: 2,
        combinedChlorine: 0.2,
        totalAlkalinity: 90,
        temperature: 25,
      });
      const open = await visit(scope, id, 0, {}, { finished: false });
      const opened = await openVisit(scope, { id: open, memberId: ours.memberId }, NOW);
      expect(opened?.log.metalsSeen).toBe(true);
      expect(opened?.log.doses).toMatchObject([
        { product: "trichlor", grams: 400, hoursAgo: 120, litres: 10_000 },
      ]);
      expect(opened?.due.find((one) => one.station === "cyanuricAcid")).toMatchObject({
        due: true,
        reason: { because: "after-product" },
      });
      expect(opened?.due.find((one) => one.station === "calciumHardness")).toMatchObject({ due: false });
      const other = await basin(scope);
      const elsewhere = await openVisit(
        scope,
        { id: await visit(scope, other, 0, {}, { finished: false }), memberId: ours.memberId },
        NOW,
      );
      expect(elsewhere?.log.metalsSeen).toBe(false);
      expect(elsewhere?.log.doses).toEqual([]);
      expect(await lastReadings(scope, other, NOW)).toEqual([]);
    });
  });
});

describe("bottles", () => {
  const bottle = (
    reagent: string,
    full: number,
    openedOn: string | null,
    expiresOn: string | null = null,
  ) => ({
    id: uuid(),
    reagent,
    measure: "drops" as const,
    full,
    lot: "",
    openedOn,
    expiresOn,
  });

  it("in use are the one opened first that still holds something", async () => {
    await asFirm(db, ours.id, async (scope) => {
      const old = bottle("acid titrant", 10, "2026-10-01", "2026-11-20");
      const next = bottle("acid titrant", 100, "2026-11-01", "2027-05-01");
      const spare = bottle("acid titrant", 500, null);
      const last = bottle("silver titrant", 50, "2026-01-05");
      for (const one of [next, old, spare, last]) await saveBottle(scope, ours.id, NOW, one);
      const firm = await firmOf(scope);
      const at = async () =>
        Object.fromEntries(
          (await bottleStates(firm, await bottlesOf(scope), NOW)).map((one) => [one.reagent, one]),
        );
      expect(await at()).toMatchObject({
        "acid titrant": { daysExpired: 4, lastSeason: false, left: 10 },
        "silver titrant": { daysExpired: null, lastSeason: true, left: 50 },
      });
      // A test takes 12: the first bottle gives what it has by the book, and the next test goes on the next one.
      const id = await basin(scope);
      const made = await visit(scope, id, 1, { totalAlkalinity: 120, ph: 7.4 });
      const [one, two] = await scope
        .selectFrom("reading")
        .select("id")
        .where("visit_id", "=", made)
        .execute();
      const use = async (reading_id: string, amount: number) => {
        const bottle_id = bottleInUse(await bottlesOf(scope), "acid titrant")?.id ?? null;
        const row = { firm_id: ours.id, reading_id, reagent: "acid titrant", bottle_id, amount };
        await scope
          .insertInto("reagent_use")
          .values(row)
          .onConflict((conflict) => conflict.doNothing())
          .execute();
      };
      await use(one?.id ?? "", 12);
      await use(one?.id ?? "", 12);
      expect(await at()).toMatchObject({ "acid titrant": { left: 100, daysExpired: -158 } });
      await use(two?.id ?? "", 7);
      expect(await at()).toMatchObject({ "acid titrant": { left: 93 } });
    });
  });

  it("are needed for the calls of the coming week and their due tests", async () => {
    const needed = await asFirm(db, ours.id, async (scope) => {
      await scope.updateTable("basin").set({ call_days: [] }).execute();
      // Tuesdays and Fridays, alkalinity last read four days before this Tuesday: due on Friday. 9 drops of 10.
      const id = await basin(scope, { call_days: [2, 5] });
      await visit(scope, id, 4, {
        totalAlkalinity: 90,
        calciumHardness: 300,
        cyanuricAcid: 40,
        combinedChlorine: 0.2,
        freeChlorine: 3,
        totalDissolvedSolids: 900,
      });
      return weekNeed(scope, await firmOf(scope), NOW);
    });
    const amount = (reagent: string) => needed.find((one) => one.reagent === reagent)?.amount;
    expect(amount("phenol red")).toBe(10);
    expect(amount("acid titrant")).toBe(9);
    expect(amount("thiosulfate")).toBe(2);
    // Two free chlorine tests at 15 drops, and one combined test on Friday.
    expect(amount("DPD powder")).toBe(4);
    expect(amount("ferrous titrant")).toBeGreaterThanOrEqual(31);
    expect(amount("melamine reagent")).toBeUndefined();
  });
});

describe("the migrations", () => {
  it("bring a book of the first version along, reading by reading", async () => {
    // The second one taken back by hand: what a database looked like before it.
    const made = await newDatabase();
    const old = await newFirm(made.db, "old");
    await asFirm(made.db, old.id, async (scope) => {
      const id = uuid();
      const common = { firm_id: old.id, member_id: old.memberId };
      await scope
        .insertInto("visit")
        .values({
          ...common,
          id,
          basin_id: old.basinId,
          kit_id: old.kitId,
          range_set_id: old.rangeSetId,
          litres: 10_000,
          started_at: NOW,
        })
        .execute();
      await scope
        .insertInto("reading")
        .values({
          ...common,
          id: uuid(),
          visit_id: id,
          quantity: "ph",
          value: 7.4,
          low: 7.3,
          high: 7.5,
          bound: "within",
          kit_id: old.kitId,
          method_id: "ph-phenol-red",
          observation: "{}",
          taken_at: NOW,
        })
        .execute();
    });
    await sql`
      drop table reagent_use, bottle, photo;
      drop index reading_current; drop index if exists reading_by_method; drop index if exists reading_lately;
      alter table reading drop column kit_id, drop column used, drop column doubts;
      create unique index reading_current on reading (firm_id, visit_id, quantity) where superseded_at is null;
      alter table kit drop column member_id;
      alter table drop_count drop column ahead, drop column idle, drop column holder, drop column term;
      alter table visit drop column look, drop column sampling;
      alter table basin drop column sanitiser;
      alter table firm drop column season_start`.execute(made.db);
    await MIGRATIONS["0002-bench"]?.up(made.db);
    const rows = await asFirm(made.db, old.id, (scope) => scope.selectFrom("reading").selectAll().execute());
    expect(rows).toMatchObject([{ value: 7.4, kit_id: old.kitId, used: true, doubts: [] }]);
    await made.close();
  });
});

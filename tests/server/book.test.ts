import { millisecondsInDay } from "date-fns/constants";
import { sql } from "kysely";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { bookPage } from "#server/db/book";
import { asFirm, type Database } from "#server/db/connection";
import { readVisit } from "#server/db/visit-record";
import type { VisitRow } from "#server/exchange/shape";
import { type Client, clientOf, dataOf, faultText } from "../client";
import type { Firm } from "../firm";
import { visitWith } from "../visit";
import { openWorld, type World } from "../world";

/** The book: searched, paged, corrected with its trail, taken along. */
let db: Database;
let close: () => Promise<void>;
let ours: Firm;
let theirs: Firm;
let web: World["web"];
let http: Client;
let visit: string;

beforeAll(async () => {
  ({ db, ours, theirs, web, http, close } = await openWorld());
  visit = await visitWith(db, ours, http, { ph: [7.4, 7.6], alkalinity: 60, hardness: 300, chlorine: 3 });
  await http.post(`/visits/${visit}/close`, new URLSearchParams({ note: "=cmd|'/c calc', \"so\" they say" }));
  // A hundred older ones, a day apart, plain.
  await asFirm(db, ours.id, (scope) =>
    scope
      .insertInto("visit")
      .values(
        Array.from({ length: 100 }, (_, day) => ({
          id: uuid(),
          firm_id: ours.id,
          basin_id: ours.basinId,
          member_id: ours.ownerId,
          kit_id: ours.kitId,
          range_set_id: ours.rangeSetId,
          litres: 10_000,
          started_at: new Date(Date.now() - (day + 1) * millisecondsInDay),
          finished_at: new Date(Date.now() - (day + 1) * millisecondsInDay + 60_000),
          note: day === 50 ? "100 % of the tiles_are off" : "",
        })),
      )
      .execute(),
  );
});
afterAll(() => close());

interface Shown {
  rows: { id: string; note: string; findings: { code: string; value: number }[] }[];
  older: string | null;
}
const book = async (query: string, client = http): Promise<Shown> => {
  const loaded = await dataOf<Record<string, { data: Shown }>>(
    await client.get(`/book.data?_routes=routes/book/route&${query}`),
  );
  const data = loaded["routes/book/route"]?.data;
  if (!data) throw new Error("no book");
  return data;
};

describe("the book", () => {
  it("goes back page by page, each visit once", async () => {
    const seen: string[] = [];
    let after = "";
    for (let page = 0; page < 10; page++) {
      const { rows, older } = await book(after ? `after=${after}` : "");
      seen.push(...rows.map((row) => row.id));
      if (!older) break;
      after = older;
    }
    expect(seen).toHaveLength(101);
    expect(new Set(seen).size).toBe(101);
    expect(seen[0]).toBe(visit);
  });

  it("is searched by text, taken literally, by finding, by person and by day", async () => {
    const text = (q: string) => book(`q=${encodeURIComponent(q)}`).then(({ rows }) => rows.length);
    expect(await text("100 % of the tiles")).toBe(1);
    expect(await text("tiles_are")).toBe(1);
    expect(await text("tilesXare")).toBe(0);
    expect(await text("%")).toBe(1);
    expect((await book("finding=totalAlkalinity.low")).rows.map((row) => row.id)).toEqual([visit]);
    expect((await book(`member=${ours.memberId}`)).rows).toHaveLength(1);
    const day = new Date().toISOString().slice(0, 10);
    expect((await book(`from=${day}&to=${day}`)).rows.map((row) => row.id)).toEqual([visit]);
    expect((await book("from=1999-01-01&to=1999-12-31")).rows).toEqual([]);
  });

  it("is found by its index, not by reading it all", async () => {
    const plan = await asFirm(db, ours.id, async (scope) => {
      await sql`set local enable_seqscan = off`.execute(scope);
      const { rows } = await sql<{ "QUERY PLAN": string }>`
        explain select id from visit
        where finished_at is not null and firm_id = ${ours.id} and (started_at, id) < (now(), ${visit}::uuid)
        order by started_at desc, id desc limit 41`.execute(scope);
      return rows.map((row) => row["QUERY PLAN"]).join("\n");
    });
    expect(plan).toMatch(/visit_in_book/);
    expect(plan).not.toMatch(/Sort/);
  });

  it("shows nothing of another firm", async () => {
    const other = clientOf(web.address);
    await other.as(theirs.email);
    expect((await book("", other)).rows).toEqual([]);
    expect(await (await other.get("/book/export.json")).json()).toMatchObject({ visits: [] });
    const rows = await asFirm(db, theirs.id, (scope) =>
      bookPage(
        scope,
        { text: "", basinId: ours.basinId, memberId: null, finding: null, from: null, to: null },
        null,
        10,
        "UTC",
      ),
    );
    expect(rows).toEqual([]);
  });
});

describe("a correction", () => {
  const reading = async () =>
    asFirm(db, ours.id, (scope) =>
      scope
        .selectFrom("reading")
        .selectAll()
        .where("visit_id", "=", visit)
        .where("quantity", "=", "totalAlkalinity")
        .where("superseded_at", "is", null)
        .executeTakeFirstOrThrow(),
    );
  const correct = (body: object) => http.postJson(`/visits/${visit}/correct.data`, body);

  it("puts another reading in its place, keeps the trail, and judges the visit again", async () => {
    const wrong = await reading();
    const seen = { kind: "drops", count: 10, sample: 25 };
    const sent = { id: uuid(), readingId: wrong.id, seen, why: "" };
    expect(await faultText(await correct(sent))).toMatch(/reason/i);
    expect((await correct({ ...sent, why: "read the wrong bottle" })).status).toBe(200);
    // The same again changes nothing.
    expect((await correct({ ...sent, why: "read the wrong bottle" })).status).toBe(200);
    const right = await reading();
    expect(right).toMatchObject({ value: 100, supersedes: wrong.id, why: "read the wrong bottle" });
    // It was taken when it was taken.
    expect(right.taken_at).toEqual(wrong.taken_at);
    const record = await asFirm(db, ours.id, (scope) =>
      readVisit(scope, { id: visit, memberId: ours.memberId }, new Date()),
    );
    expect(record?.written.trail).toMatchObject([
      { value: 60, by: "Tech", correctedBy: "Tech", why: "read the wrong bottle" },
    ]);
    expect((await book("")).rows[0]?.findings).toEqual([]);
    const page = await (await http.get(`/visits/${visit}`)).text();
    expect(page).toContain("read the wrong bottle");
  });

  it("is refused for what is no longer there, under way, or another firm's", async () => {
    const seen = { kind: "drops", count: 9, sample: 25 };
    expect(await faultText(await correct({ id: uuid(), readingId: uuid(), seen, why: "x" }))).toMatch(
      /Someone else/,
    );
    const standing = await reading();
    expect(
      await faultText(
        await correct({ id: uuid(), readingId: standing.id, seen: { ...seen, count: 5000 }, why: "x" }),
      ),
    ).toMatch(/count is 5000/);
    const other = clientOf(web.address);
    await other.as(theirs.email);
    const body = { id: uuid(), readingId: standing.id, seen, why: "x" };
    expect((await other.postJson(`/visits/${visit}/correct.data`, body)).status).toBe(404);
    expect((await reading()).id).toBe(standing.id);
  });
});

describe("the book taken along", () => {
  it("is JSON with every visit, reading, finding and dose", async () => {
    const answer = await http.get("/book/export.json");
    expect(answer.headers.get("content-disposition")).toContain("book.json");
    const { visits } = (await answer.json()) as { visits: VisitRow[] };
    expect(visits).toHaveLength(101);
    const alkalinity = visits[0]?.readings.filter((one) => one.quantity === "totalAlkalinity");
    // What was corrected goes along.
    expect(alkalinity).toHaveLength(2);
    expect(alkalinity?.find((one) => one.supersededAt === null)).toMatchObject({
      value: 100,
      low: 90,
      high: 100,
    });
  });

  it("is CSV whose cells cannot become formulas, filtered as the page is", async () => {
    const text = await (await http.get("/book/export.csv?finding=ph.low")).text();
    expect(text.trim().split("\n")).toHaveLength(1);
    const all = await (await http.get("/book/export.csv")).text();
    expect(all.split("\n")[0]).toMatch(
      /^visit_id,visit_started_at_utc,site,basin,member,record,what,value,unit/,
    );
    // A text that begins like a formula is marked as text; quotes are doubled.
    expect(all).toContain(`"'=cmd|'/c calc', ""so"" they say"`);
    expect((await http.get("/book/export.xls")).status).toBe(404);
  });
});

import Ajv from "ajv";
import { millisecondsInHour } from "date-fns/constants";
import { sql } from "kysely";
import { v7 as uuid } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { asFirm } from "#server/db/connection";
import type { ImportReport } from "#server/exchange/import/importing";
import type { Mapping } from "#server/exchange/import/mapping";
import { bookJsonSchema, HEAD, OF_PART, OF_VISIT, VISIT } from "#server/exchange/shape";
import { faultSentence } from "../../app/words";
import type { Client } from "../client";
import { visitWith } from "../visit";
import { openWorld, type World } from "../world";

/** The book out and in again, and files that mean ill. */
let world: World;
let owner: Client;
let visit: string;

beforeAll(async () => {
  world = await openWorld({ JOBS: "on" });
  const { db, ours, http, as } = world;
  owner = await as(ours.ownerEmail);
  visit = await visitWith(db, ours, http, { ph: [7.4, 7.6], alkalinity: 60, hardness: 300, chlorine: 3 });
  await http.post(`/visits/${visit}/close`, new URLSearchParams({ note: "=cmd|'/c calc', \"so\" they say" }));
  const [wrong] = await asFirm(db, ours.id, (scope) =>
    scope
      .selectFrom("reading")
      .select("id")
      .where("visit_id", "=", visit)
      .where("quantity", "=", "totalAlkalinity")
      .execute(),
  );
  const seen = { kind: "drops", count: 10, sample: 25 };
  await http.postJson(`/visits/${visit}/correct`, {
    id: uuid(),
    readingId: wrong?.id,
    seen,
    why: "wrong bottle",
  });
  const png = Buffer.from("89504e470d0a1a0a00", "hex");
  await asFirm(db, ours.id, async (scope) => {
    await scope
      .insertInto("photo")
      .values({
        id: uuid(),
        firm_id: ours.id,
        visit_id: visit,
        member_id: ours.memberId,
        kind: "image/png",
        bytes: png,
        taken_at: new Date(),
      })
      .execute();
    const product = await scope.selectFrom("product").select("id").executeTakeFirstOrThrow();
    await scope
      .insertInto("dose")
      .values({
        id: uuid(),
        firm_id: ours.id,
        visit_id: visit,
        member_id: ours.memberId,
        product_id: product.id,
        code: "x",
        planned_grams: 100,
        given_grams: 0.1 + 0.2,
        given_at: new Date(),
      })
      .execute();
    await sql`insert into product_price (firm_id, product_id, price_per_kg, known_from)
      values (${ours.id}, ${product.id}, 2.5, '-infinity')`.execute(scope);
    await sql`insert into task_done (id, firm_id, basin_id, member_id, task, done_at)
      values (${uuid()}, ${ours.id}, ${ours.basinId}, ${ours.memberId}, 'shock', now())`.execute(scope);
    const defect = uuid();
    await sql`insert into defect (id, firm_id, basin_id, visit_id, member_id, title, seen_at)
      values (${defect}, ${ours.id}, ${ours.basinId}, ${visit}, ${ours.memberId}, 'Loose latch', now())`.execute(
      scope,
    );
    await sql`insert into quote (id, firm_id, defect_id, version, amount, text, made_at, made_by, approved_at, approved_by)
      values (${uuid()}, ${ours.id}, ${defect}, 1, 85.5, 'New latch', now(), ${ours.memberId}, now(), 'A customer')`.execute(
      scope,
    );
    await sql`insert into round_call (firm_id, day, basin_id, position, skipped_at, skipped_by, why)
      values (${ours.id}, '2026-02-28', ${ours.basinId}, 3, now(), ${ours.memberId}, 'gate locked')`.execute(
      scope,
    );
  });
});
afterAll(() => world.close());

const exported = async (file = "export.json", client = owner) => (await client.get(`/book/${file}`)).text();

interface Answer {
  id: string;
  table: { own: boolean; heading: string[]; guess: Mapping } | null;
  report: ImportReport | null;
  fault?: object;
}

/** Sends a file as the page does; a stream is told its length. */
async function send(
  name: string,
  content: string | Uint8Array,
  client = owner,
): Promise<{ status: number; answer: Answer }> {
  const answer = await client.post(`/book/import/file?id=${uuid()}&name=${name}`, content as string, {
    "Content-Type": "application/octet-stream",
  });
  return {
    status: answer.status,
    answer: answer.headers.get("content-type")?.includes("json") ? await answer.json() : ({} as Answer),
  };
}

/** Tries a file, or puts it in, to the end. */
async function bring(
  id: string,
  command: "try" | "run",
  mapping: Mapping | null = null,
): Promise<ImportReport> {
  // The queue may not have started yet.
  await expect
    .poll(async () => (await owner.postJson(`/book/import/${id}`, { command, mapping })).status, {
      timeout: 30_000,
    })
    .not.toBe(503);
  for (;;) {
    const { report } = (await (await owner.get(`/book/import/${id}`)).json()) as Answer;
    if (report && report.state !== "running") return report;
    await new Promise((done) => setTimeout(done, 30));
  }
}

/** What a guess makes of a file, with every row in our basin. */
async function tableIn(
  content: string | Uint8Array,
  command: "try" | "run" = "try",
  change: Partial<Mapping> = {},
) {
  const { answer } = await send("log.csv", content);
  if (!answer.table) throw new Error(JSON.stringify(answer));
  return bring(answer.id, command, { ...answer.table.guess, basinId: world.ours.basinId, ...change });
}

const visitCount = () =>
  asFirm(
    world.db,
    world.ours.id,
    async (scope) => (await scope.selectFrom("visit").select("id").execute()).length,
  );

/** Takes the firm's book out of the database, as if it had never been. */
async function wipe(): Promise<void> {
  const tables = [
    "audit",
    "plan_outcome",
    "plan_step",
    "plan",
    "reagent_use",
    "photo",
    "finding",
    "dose",
    "share",
    "reading",
    "drop_count",
    "visit",
    "basin_volume",
    "basin_event",
    "task_done",
    "round_call",
    "basin",
    "member_site",
    "invite",
    "site",
    "truck_stock",
    "product_price",
    "product",
    "bottle",
    "kit",
    "range_set",
  ];
  for (const table of tables) {
    await sql`alter table ${sql.table(table)} no force row level security`.execute(world.db);
    await sql`delete from ${sql.table(table)} where firm_id = ${world.ours.id}`.execute(world.db);
    await sql`alter table ${sql.table(table)} force row level security`.execute(world.db);
  }
}

describe("the book as JSON", () => {
  it("is what its published schema says", async () => {
    const ajv = new Ajv({ strict: false, formats: { "date-time": true, uuid: true, guid: true } });
    const check = ajv.compile(bookJsonSchema());
    const book = JSON.parse(await exported());
    expect(check(book), JSON.stringify(check.errors?.slice(0, 2))).toBe(true);
    expect(check({ ...book, visits: [{ ...book.visits[0], litres: "many" }] })).toBe(false);
    expect((await owner.get("/schemas/book.json")).status).toBe(200);
  });

  it("goes out, is wiped, comes in, and goes out the same, byte for byte", async () => {
    const before = await exported();
    const book = JSON.parse(before);
    expect(book.visits).toHaveLength(1);
    expect(
      book.visits[0].readings.filter((one: { supersededAt: string | null }) => one.supersededAt),
    ).toHaveLength(1);
    expect(book.visits[0].photos).toHaveLength(1);
    expect(book.visits[0].defects).toMatchObject([{ title: "Loose latch", mendedAt: null }]);
    expect(book.visits[0].quotes).toMatchObject([{ version: 1, amount: 85.5, approvedBy: "A customer" }]);
    expect(book.tasks).toMatchObject([{ task: "shock", basinId: world.ours.basinId }]);
    expect(book.calls).toMatchObject([
      { day: "2026-02-28", position: 3, memberId: null, why: "gate locked" },
    ]);
    await wipe();
    expect(JSON.parse(await exported()).visits).toEqual([]);
    const { answer } = await send("book.json", before);
    expect(answer.table).toBeNull();
    expect(await bring(answer.id, "try")).toMatchObject({ state: "done", fresh: 1, known: 0 });
    expect(await visitCount()).toBe(0);
    expect(await bring(answer.id, "run")).toMatchObject({ state: "done", fresh: 1, known: 0, faultCount: 0 });
    expect(await exported()).toBe(before);
    // The same again changes nothing.
    expect(await bring(answer.id, "run")).toMatchObject({ state: "done", fresh: 0, known: 1 });
    expect(await exported()).toBe(before);
    expect((await world.http.get(`/visits/${visit}`)).status).toBe(200);
  });

  it("comes in without what the first files lack", async () => {
    const before = await exported();
    const { tasks, calls, ...first } = JSON.parse(before);
    expect(tasks.length + calls.length).toBe(2);
    for (const one of first.visits) delete one.replaced;
    for (const one of first.visits) for (const part of ["defects", "quotes"]) delete one[part];
    await wipe();
    const { answer } = await send("book.json", JSON.stringify(first));
    expect(await bring(answer.id, "run")).toMatchObject({ state: "done", fresh: 1, known: 0, faultCount: 0 });
    const without = { defects: [], quotes: [] };
    expect(JSON.parse(await exported()).visits).toEqual(
      JSON.parse(before).visits.map((one: object) => ({ ...one, ...without })),
    );
    const { sites: _, ...broken } = first;
    const refused = await send("book.json", JSON.stringify(broken));
    expect((await bring(refused.answer.id, "try")).faults[0]).toMatchObject({ column: "sites" });
  });

  it("is not taken by another firm, whose rows these are not", async () => {
    const { theirs, as } = world;
    const other = await as(theirs.ownerEmail);
    const { answer } = await send("book.json", await exported(), other);
    expect((await owner.get(`/book/import/${answer.id}`)).status).toBe(404);
    // The try says so already, in words; and it leaves nothing behind.
    for (const command of ["try", "run"]) {
      await other.postJson(`/book/import/${answer.id}`, { command });
      const report = async () =>
        ((await (await other.get(`/book/import/${answer.id}`)).json()) as Answer).report;
      await expect.poll(async () => (await report())?.state, { timeout: 15_000 }).toBe("refused");
      const told = await report();
      expect(told, command).toMatchObject({ dry: command === "try", known: 0 });
      const [first] = told?.faults ?? [];
      expect(first && faultSentence({ ...first, field: first.column })).toMatch(
        /belong to another firm on this server/,
      );
      expect(JSON.stringify(told?.faults)).not.toMatch(/_(fkey|pkey|check|key)/);
    }
    expect(JSON.parse(await exported("export.json", other)).visits).toEqual([]);
  });

  it("with one bad row brings nothing in, and says which", async () => {
    const book = JSON.parse(await exported());
    book.visits[0].id = uuid();
    book.visits[0].readings[0].value = "much";
    const { answer } = await send("book.json", JSON.stringify(book));
    const report = await bring(answer.id, "run");
    expect(report).toMatchObject({ state: "refused", faultCount: 1 });
    expect(report.faults[0]).toMatchObject({
      column: "visits[0].readings.0.value",
      code: "not-a-number",
      value: "much",
    });
    const broken = await send("book.json", (await exported()).slice(0, -40));
    expect((await bring(broken.answer.id, "run")).state).toBe("refused");
    const other = await send("book.json", '{"format":"something","version":1,"visits":[]}');
    expect((await bring(other.answer.id, "run")).faults[0]).toMatchObject({
      column: "format",
      value: "something",
    });
    expect(await visitCount()).toBe(1);
  });
});

describe("what stands in the book", () => {
  /** Columns that do not go out, each with its reason. */
  const LEFT_OUT: Record<string, string[]> = {
    // The secret of a link opens no other book.
    card: ["token_hash"],
    // Who may do what is this firm's own, and what somebody reads is theirs.
    member: ["role", "password_hash", "created_at", "disabled_at", "language", "unit_system", "week"],
    site: ["prices"], // what customers pay is between them and this firm
    basin: ["week"], // who may go there is told by keys of this firm's own
    visit: ["version", "places"], // counts commands to this server; where its people were stays here
    dose: ["truck_id", "late"], // trucks do not go out
    reading: ["basin_id", "late"], // a trigger puts it in; what came late is the firm's own
    photo: ["basin_id"], // photos of a basin itself do not go out
  };

  it("is every column of its tables, but for those that are left out on purpose", async () => {
    const shapes = [...Object.values(HEAD), VISIT, ...Object.values(OF_VISIT), ...Object.values(OF_PART)];
    for (const { table, columns } of shapes) {
      const { rows } = await sql<{ name: string }>`
        select column_name as name from information_schema.columns
        where table_schema = 'public' and table_name = ${table}`.execute(world.db);
      const told = new Set([
        ...columns.map((column) => column.name),
        ...(LEFT_OUT[table] ?? []),
        "firm_id",
        "visit_id",
      ]);
      expect(
        rows.map((row) => row.name).filter((name) => !told.has(name)),
        table,
      ).toEqual([]);
    }
  });
});

describe("our own CSV", () => {
  it("guards what a spreadsheet would take for a formula, and comes in again as it was", async () => {
    const csv = await exported("export.csv");
    expect(csv).toContain('"\'=cmd|\'/c calc\', ""so"" they say"');
    const own = csv.replaceAll(visit, "01900000-0000-7000-8000-0000000000aa");
    const { answer } = await send("book.csv", own);
    expect(answer.table?.own).toBe(true);
    expect(await bring(answer.id, "run")).toMatchObject({ state: "done", fresh: 1 });
    const copy = await asFirm(world.db, world.ours.id, (scope) =>
      scope
        .selectFrom("visit")
        .select("note")
        .where("id", "=", "01900000-0000-7000-8000-0000000000aa")
        .executeTakeFirst(),
    );
    expect(copy?.note).toBe("=cmd|'/c calc', \"so\" they say");
  });
});

describe("a spreadsheet", () => {
  const rows = (...lines: string[]) => ["date,fc,ph,ta,temp,note", ...lines].join("\n");

  it("comes in by its columns, once, with what it breaks of the ranges", async () => {
    const sheet = rows("2025-03-04 09:30,0.4,7.5,60,27,cold", "2025-03-11,3,7.5,90,28,");
    expect(await tableIn(sheet)).toMatchObject({ state: "done", fresh: 2, faultCount: 0 });
    const before = await visitCount();
    expect(await tableIn(sheet, "run")).toMatchObject({ state: "done", fresh: 2 });
    expect(await tableIn(sheet, "run")).toMatchObject({ state: "done", fresh: 0, known: 2 });
    expect(await visitCount()).toBe(before + 2);
    const page = await (
      await owner.get("/book?from=2025-03-01&to=2025-03-31&finding=totalAlkalinity.low")
    ).text();
    expect(page).toContain("cold");
    expect(
      await asFirm(world.db, world.ours.id, (scope) =>
        scope
          .selectFrom("reading")
          .select(["value"])
          .where("quantity", "=", "temperature")
          .where("value", "=", 27)
          .execute(),
      ),
    ).toHaveLength(1);
  });

  it("with a BOM, semicolons and decimal commas is read as meant", async () => {
    const sheet = "\ufeffDatum;FC;pH\r\n31.5.2024;1,5;7,4\r\n";
    expect(await tableIn(sheet, "run")).toMatchObject({ state: "done", fresh: 1 });
    const utf16 = Buffer.concat([
      Buffer.from([0xff, 0xfe]),
      Buffer.from("Datum;FC;pH\r\n30.5.2024;2,5;7,4\r\n", "utf16le"),
    ]);
    expect(await tableIn(utf16, "run")).toMatchObject({ state: "done", fresh: 1 });
    const values = await asFirm(world.db, world.ours.id, (scope) =>
      scope
        .selectFrom("reading")
        .innerJoin("visit", "visit.id", "reading.visit_id")
        .select("value")
        .where("quantity", "=", "freeChlorine")
        .where("started_at", "<", new Date("2024-12-31"))
        .orderBy("started_at")
        .execute(),
    );
    expect(values.map((row) => row.value)).toEqual([2.5, 1.5]);
  });

  it("with dates since 1904 lands on the day that its person meant", async () => {
    await tableIn("date,fc\n42000,2\n", "run", { dates: "serial-1904" });
    const [row] = await asFirm(world.db, world.ours.id, (scope) =>
      sql<{ day: string }>`select (started_at at time zone firm.time_zone)::date::text as day
        from visit join firm on firm.id = visit.firm_id order by started_at limit 1`
        .execute(scope)
        .then((found) => found.rows),
    );
    // 1904-01-01 and 42 000 days: 2018-12-28.
    expect(row?.day).toBe("2018-12-28");
  });

  it("names every cell that is wrong by row and column, and brings in nothing", async () => {
    const before = await visitCount();
    const report = await tableIn(
      rows(
        "2025-04-01,=1+2,7.5,90,28,",
        "2025-02-30,3,7.5,90,28,",
        "2025-04-02,3,15,90,28,",
        "2025-04-03,3,7.5",
        "2025-04-04,3,7.5,90,28,fine",
        "2025-04-04,3,7.5,90,28,twice",
        "2025-04-05,,,,,nothing read",
        "2025-04-06,3,7.5,90,28,nul \0 here",
        `2025-04-07,3,7.5,90,28,${"x".repeat(4001)}`,
      ),
      "run",
    );
    expect(report.state).toBe("refused");
    expect(report.faults.map(({ row, column, code }) => `${row} ${column} ${code}`)).toEqual([
      "2 fc not-a-number",
      "3 date malformed",
      "4 ph too-high",
      "5  inconsistent",
      "7 date inconsistent",
      "8  missing",
      "9 note malformed",
      "10 note too-long",
    ]);
    expect(await visitCount()).toBe(before);
  });

  it("whose last line is cut, or whose quote never closes, is refused with the row", async () => {
    const before = await visitCount();
    expect((await tableIn(rows("2025-05-01,3,7.5,90,28,", "2025-05-02,3,7."), "run")).faults).toMatchObject([
      { row: 3 },
    ]);
    expect(
      (await tableIn(rows("2025-05-01,3,7.5,90,28,", '2025-05-02,3,7.5,90,28,"open'), "run")).faults,
    ).toMatchObject([{ row: 3, code: "malformed", value: "a quote that is not closed" }]);
    expect(await visitCount()).toBe(before);
  });

  it("that is no table at all is refused with what is wrong", async () => {
    expect((await send("log.csv", "")).status).toBe(422);
    expect((await send("log.csv", Buffer.from("da\0te,fc\n1,2\n"))).answer).toMatchObject({
      fault: { field: "row 1, column 1" },
    });
    const png = await send("log.csv", Buffer.from("89504e470d0a1a0a0000000d49484452", "hex"));
    expect(png.status).toBe(422);
    const { answer } = await send("log.csv", "date,fc\n2025-01-01,3\n");
    const bad = { ...(answer.table?.guess as Mapping), columns: { 0: "nonsense" } };
    const refused = await owner.postJson(`/book/import/${answer.id}`, { command: "try", mapping: bad });
    expect(refused.status).toBe(422);
  });

  it("finds basins by name, and says which names it knows", async () => {
    const named = (name: string) => tableIn(`date,pool,fc\n2025-06-01,${name},3\n`, "try", { basinId: null });
    expect(await named("Pool")).toMatchObject({ state: "done", fresh: 1 });
    expect(await named('"Site, pool"')).toMatchObject({ state: "done", fresh: 1 });
    expect((await named("Lagoon")).faults).toMatchObject([
      { row: 2, column: "pool", value: "Lagoon", limit: ["Pool"] },
    ]);
  });

  it("of 100 MB goes through in the memory of a part, shows how far it is, and can be stopped", async () => {
    const before = await visitCount();
    const long = "x".repeat(3900);
    const lines = Array.from({ length: 26_000 }, (_, index) => {
      const at = new Date(Date.UTC(1990, 0, 1) + index * millisecondsInHour).toISOString();
      return `${at.slice(0, 10)} ${at.slice(11, 16)},3,7.5,${long}`;
    });
    const sheet = Buffer.from(`date,fc,ph,note\n${lines.join("\n")}\n`);
    expect(sheet.length).toBeGreaterThan(100_000_000);
    const { answer } = await send("long.csv", sheet);
    const mapping = { ...(answer.table?.guess as Mapping), basinId: world.ours.basinId };
    await owner.postJson(`/book/import/${answer.id}`, { command: "run", mapping });
    const report = async () =>
      ((await (await owner.get(`/book/import/${answer.id}`)).json()) as Answer).report;
    await expect
      .poll(async () => (await report())?.share ?? 0, { timeout: 90_000, interval: 50 })
      .toBeGreaterThan(0.02);
    expect((await owner.postJson(`/book/import/${answer.id}`, { command: "run", mapping })).status).toBe(422);
    await owner.postJson(`/book/import/${answer.id}`, { command: "stop" });
    await expect.poll(async () => (await report())?.state, { timeout: 90_000 }).toBe("cancelled");
    expect(await visitCount()).toBe(before);
    await owner.postJson(`/book/import/${answer.id}`, { command: "forget" });
    expect((await owner.get(`/book/import/${answer.id}`)).status).toBe(404);
  });
});

describe("an import", () => {
  it("is an owner's, and no larger than is taken", async () => {
    expect((await send("log.csv", "date,fc\n", world.http)).status).toBe(403);
    const large = await fetch(`${world.web.address}/book/import/file?id=${uuid()}&name=x.csv`, {
      method: "POST",
      headers: { Origin: world.web.address, "Content-Length": "400000000" },
      body: "x",
    }).catch(() => null);
    expect(large === null || large.status === 413).toBe(true);
    // Elsewhere the limit is as it was.
    expect((await owner.post("/settings", "x".repeat(1_000_001))).status).toBe(413);
  });

  it("of a quote that never closes ends, every time, and keeps nothing", async () => {
    // Long enough that the reader gives up in the midst of it.
    const open = `date,fc,note\n2025-01-01,3,"${"x".repeat(3_000_000)}`;
    for (let again = 0; again < 4; again++) {
      const report = await tableIn(open);
      expect(report.state).toBe("refused");
      expect(report.faults[0]).toMatchObject({ code: "malformed" });
    }
    // The queue asks for jobs now and then: what an import left open stays so.
    const stillOpen = async () => {
      const { rows } = await sql<{ open: number }>`
      select count(*)::int as open from pg_stat_activity
      where usename = 'pelagon_web' and datname = current_database() and state <> 'idle' and pid <> pg_backend_pid()`.execute(
        world.db,
      );
      return rows;
    };
    await expect.poll(stillOpen).toEqual([{ open: 0 }]);
  }, 60_000);

  it.each([
    ["deep", `{"format":"pelagon-book","version":1,"sites":${"[".repeat(300_000)}`, "too-high"],
    ["deep in the visits", `{"visits":[${'{"a":'.repeat(16_000)}`, "too-high"],
    ["cut short", '{"format":"pelagon-book","version":1,"sites":[{"id":"', "malformed"],
    ["none at all", "%PDF-1.7", "malformed"],
  ])("of a JSON that is %s is refused at that place, and told", async (_, text, code) => {
    const { answer } = await send("book.json", text);
    const report = await bring(answer.id, "try");
    expect(report.state).toBe("refused");
    // What is too deep was not put together first: forty levels are.
    expect(report.faults[0]).toMatchObject(code === "too-high" ? { code, value: "41", limit: 40 } : { code });
  });

  it("is one of a firm's at a time, and its people get no address that signs in", async () => {
    const { db, ours, theirs } = world;
    const stranger = uuid();
    const book = JSON.parse(await exported()) as { members: { id: string; email: string; name: string }[] };
    // Somebody of another firm, and somebody with the id of one there.
    const mine = book.members.length;
    book.members.push(
      { ...book.members[0], id: stranger, email: theirs.email, name: "Known elsewhere" } as never,
      { ...book.members[0], id: theirs.memberId, email: "new@elsewhere.example", name: "Same id" } as never,
    );
    const { answer } = await send("book.json", JSON.stringify(book));
    expect((await bring(answer.id, "try")).state).toBe("done");
    expect((await bring(answer.id, "run")).state).toBe("done");
    const people = await asFirm(db, ours.id, (scope) =>
      scope.selectFrom("member").select(["name", "email", "password_hash", "disabled_at"]).execute(),
    );
    const came = people.filter((one) => /elsewhere|Same id/.test(one.name));
    // The address of the file stands in the book, whoever else has it, and opens nothing.
    expect(came.map((one) => one.email).sort()).toEqual(["new@elsewhere.example", theirs.email].sort());
    for (const one of came) expect(one).toMatchObject({ password_hash: "", disabled_at: expect.any(Date) });
    expect(people.length).toBe(mine + 2);
    expect((await (await world.as(theirs.email)).get("/")).status).toBe(200);
    expect(await world.http.signedIn("new@elsewhere.example")).toBe("");
    // Nor is there a way round: they are invited, not let in.
    const [member] = await asFirm(db, ours.id, (scope) =>
      scope.selectFrom("member").select("id").where("name", "=", "Known elsewhere").execute(),
    );
    const change = { id: member?.id, role: "technician", siteIds: [], disabled: false };
    for (const body of [
      { command: "change-member", ...change },
      { command: "make-reset", id: uuid(), memberId: member?.id },
    ])
      expect((await owner.postJson("/settings/team", body)).status).toBe(422);
  }, 60_000);
});

import { sql } from "kysely";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { reading } from "#server/db/batch";
import { asFirm, type Database, type FirmScope, openDatabase } from "#server/db/connection";
import { statements } from "#server/metrics";
import { newDatabase, type TestDatabase } from "../database";
import { type Firm, newFirm } from "../firm";

/** Reads that go as one statement: they come back as each would alone, and stay behind the same walls. */
let made: TestDatabase;
let web: Database;
let ours: Firm;
let theirs: Firm;

beforeAll(async () => {
  made = await newDatabase();
  ours = await newFirm(made.db, "ours");
  theirs = await newFirm(made.db, "theirs");
  web = openDatabase(made.addresses.url, 1);
});
afterAll(async () => {
  await web?.destroy();
  await made?.close();
});

const values = (scope: FirmScope) =>
  sql<Record<string, unknown>>`
    select true as yes, false as no, null::text as none, 'a "b"\\c $1 ü' as text, 0.1::float8 + 0.2 as sum,
      9007199254740991::int8 as big, 12.50::numeric as exact, now() as at, '2026-03-08'::date as day,
      array['a,b', null, 'c"d'] as texts, array[1, 2] as numbers, '{"a": [1, null]}'::jsonb as json,
      '\\x00ff'::bytea as bytes, '{}'::uuid[] as empty, interval '90 minutes' as long,
      'NaN'::float8 as nan, ${"given"}::text as given`.execute(scope);
const counted = (scope: FirmScope, to: number) =>
  sql<{ n: number }>`select n from generate_series(1, ${to}::int) as n order by n desc`.execute(scope);
const firms = (scope: FirmScope) => scope.selectFrom("firm").select(["id", "name"]).execute();
const sites = (scope: FirmScope) => scope.selectFrom("site").select("firm_id").execute();

const sent = async (work: () => Promise<unknown>): Promise<number> => {
  const total = async () => (await statements.get()).values[0]?.value ?? 0;
  const before = await total();
  await work();
  return (await total()) - before;
};

/** As if each were asked alone, which also tells what it answers with. */
const all = (scope: FirmScope) =>
  Promise.all([values(scope), counted(scope, 3), firms(scope), sites(scope), counted(scope, 0)]);

describe("reads that are asked at the same time", () => {
  it("are one statement, once it is known what each answers with, and answer the same", async () => {
    await asFirm(web, ours.id, async (scope) => {
      const alone = [
        await values(scope),
        await counted(scope, 3),
        await firms(scope),
        await sites(scope),
        await counted(scope, 0),
      ];
      const plain = (answers: unknown[]) =>
        answers.map((one) => (Array.isArray(one) ? one : (one as { rows: unknown[] }).rows));
      let together: unknown[] = [];
      expect(
        await sent(async () => {
          together = await reading(scope, all);
        }),
      ).toBe(1);
      expect(plain(together)).toEqual(plain(alone));
      expect(plain(together)[1]).toEqual([{ n: 3 }, { n: 2 }, { n: 1 }]);
    });
  });

  it("see the rows of their own firm, whoever asked with the same statement before", async () => {
    for (const firm of [ours, theirs, ours]) {
      const found = await asFirm(web, firm.id, (scope) => reading(scope, all));
      expect(found[2].map(({ id }) => id)).toEqual([firm.id]);
      expect(new Set(found[3].map(({ firm_id }) => firm_id))).toEqual(new Set([firm.id]));
    }
  });

  it("go on from one another: what waits for an answer is of the next statement", async () => {
    await asFirm(web, ours.id, async (scope) => {
      const count = await sent(() =>
        reading(scope, (reads) =>
          Promise.all([
            firms(reads),
            counted(reads, 2).then(() => Promise.all([counted(reads, 4), sites(reads)])),
          ]),
        ),
      );
      expect(count).toBe(2);
    });
  });

  it("fail together, and nothing of theirs reaches a connection that is somebody else's by then", async () => {
    let late: (() => Promise<unknown>) | undefined;
    const failing = asFirm(web, ours.id, (scope) =>
      reading(scope, (reads) =>
        Promise.all([
          firms(reads),
          sql`select 1 / ${0}::int as never`.execute(reads),
          new Promise((resolve) => setTimeout(resolve, 50)).then(() => {
            late = () => firms(reads);
          }),
        ]),
      ),
    );
    await expect(failing).rejects.toThrow("division by zero");
    await expect.poll(() => late).toBeDefined();
    await expect(late?.()).rejects.toThrow("division by zero");
    // The one connection there is serves on.
    expect(await asFirm(web, ours.id, firms)).toHaveLength(1);
  });

  it("write nothing, and lock nothing", async () => {
    await asFirm(web, ours.id, (scope) =>
      reading(scope, async (reads) => {
        await expect(reads.deleteFrom("site").execute()).rejects.toThrow("no read");
        await expect(reads.selectFrom("site").select("id").forUpdate().execute()).rejects.toThrow("no read");
        await expect(
          sql`with gone as (delete from site returning id) select * from gone`.execute(reads),
        ).rejects.toThrow();
      }),
    ).catch(() => {});
    expect((await asFirm(web, ours.id, sites)).length).toBeGreaterThan(0);
  });
});

import { describe, expect, it } from "vitest";
import type { BookPlace } from "../db/book";
import { pagesAhead } from "./ahead";

const place = (id: string): BookPlace => ({ startedAt: new Date(0), id });

/** Three pages of two rows; `asked` lists the places that were asked for. */
function book(fails: number | null = null) {
  const asked: (string | null)[] = [];
  const read = async (after: BookPlace | null) => {
    const page = asked.push(after?.id ?? null) - 1;
    if (page === fails) throw new Error("the database is gone");
    return { rows: [`${page}a`, `${page}b`], next: page < 2 ? place(`${page}b`) : null };
  };
  return { asked, read };
}

async function all<T>(pages: AsyncGenerator<T[], void>): Promise<T[]> {
  const rows: T[] = [];
  for await (const page of pages) rows.push(...page);
  return rows;
}

describe("pages ahead", () => {
  it("come in order, each asked for from where the one before ended", async () => {
    const { asked, read } = book();
    expect(await all(pagesAhead(read))).toEqual(["0a", "0b", "1a", "1b", "2a", "2b"]);
    expect(asked).toEqual([null, "0b", "1b"]);
  });

  it("are asked for one ahead of what is taken, and no farther", async () => {
    const { asked, read } = book();
    const pages = pagesAhead(read);
    await pages.next();
    expect(asked).toEqual([null, "0b"]);
    await pages.return();
    expect(asked).toEqual([null, "0b"]);
  });

  it("leave out an empty one and end after the last", async () => {
    expect(await all(pagesAhead(async () => ({ rows: [], next: null })))).toEqual([]);
  });

  it("hand on a fault to whoever goes on, after the pages before it", async () => {
    const pages = pagesAhead(book(1).read);
    expect((await pages.next()).value).toEqual(["0a", "0b"]);
    await expect(pages.next()).rejects.toThrow("the database is gone");
  });
});

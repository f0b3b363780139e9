import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import fc from "fast-check";
import { afterAll, describe, expect, it } from "vitest";
import { InputFault } from "#core";
import { SEPARATORS, tableForm, tableRows } from "./table";

const folder = mkdtempSync(join(tmpdir(), "pelagon-table-"));
afterAll(() => rmSync(folder, { recursive: true }));

let files = 0;
const fileOf = (content: string | Uint8Array): string => {
  const path = join(folder, String(files++));
  writeFileSync(path, content);
  return path;
};
async function read(content: string | Uint8Array) {
  const path = fileOf(content);
  const form = tableForm(readFileSync(path));
  const rows: string[][] = [];
  for await (const { cells } of tableRows(path, form)) rows.push(cells);
  return { form, rows };
}

describe("a table of text", () => {
  it.each(SEPARATORS)("is parted by %j when that parts it best", async (separator) => {
    const line = (...cells: string[]) => cells.join(separator);
    const { form, rows } = await read(
      [line("date", "fc", "note"), line("2026-05-01", "3", "fine"), ""].join("\r\n"),
    );
    expect(form.separator).toBe(separator);
    expect(form.heading).toEqual(["date", "fc", "note"]);
    expect(rows).toEqual([["2026-05-01", "3", "fine"]]);
  });

  it("with decimal commas between semicolons is parted by the semicolons", async () => {
    const { form } = await read("a;b;c\n1,5;2,5;3,5\n1,5;2,5;3,5\n");
    expect(form.separator).toBe(";");
  });

  it("is the same in every encoding that spreadsheets write", async () => {
    const text = "Größe,Ort\nžluť,Orrin Vale\n";
    const be = Buffer.from(`\ufeff${text}`, "utf16le").swap16();
    for (const bytes of [text, `\ufeff${text}`, Buffer.from(`\ufeff${text}`, "utf16le"), be]) {
      const { form, rows } = await read(bytes);
      expect(form.heading).toEqual(["Größe", "Ort"]);
      expect(rows).toEqual([["žluť", "Orrin Vale"]]);
    }
  });

  it("keeps quotes, line breaks and separators inside cells, whatever they hold", async () => {
    const cell = fc.string({ unit: "grapheme", maxLength: 30 }).filter((text) => !/[\0\ufeff\r]/.test(text));
    const quoted = (text: string) => `"${text.replaceAll('"', '""')}"`;
    await fc.assert(
      fc.asyncProperty(fc.array(fc.tuple(cell, cell), { minLength: 1, maxLength: 8 }), async (pairs) => {
        const { rows } = await read(
          `a,b\n${pairs.map(([a, b]) => `${quoted(a)},${quoted(b)}`).join("\n")}\n`,
        );
        expect(rows).toEqual(pairs);
      }),
      { numRuns: 60 },
    );
  });

  it("is read beyond the part that is looked at first", async () => {
    const rows = Array.from({ length: 5000 }, (_, index) => `2026-01-01,${index},${"x".repeat(20)}`);
    const found = await read(`date,n,note\n${rows.join("\n")}\n`);
    expect(found.form.sample).toHaveLength(20);
    expect(found.rows).toHaveLength(5000);
    expect(found.rows.at(-1)?.[1]).toBe("4999");
  });

  it("with a quote that never closes says at which row", async () => {
    const path = fileOf('a,b\n1,2\n3,"open\n5,6\n');
    const form = tableForm(readFileSync(path));
    const rows: number[] = [];
    await expect(
      (async () => {
        for await (const { row } of tableRows(path, form)) rows.push(row);
      })(),
    ).rejects.toThrow(expect.objectContaining({ code: "malformed", field: "row 3" }));
    expect(rows).toEqual([2]);
  });

  it("that is none is refused", async () => {
    await expect(read("")).rejects.toThrow(InputFault);
    await expect(read(Buffer.from("89504e470d0a1a0a", "hex"))).rejects.toThrow(InputFault);
    await expect(read(Array.from({ length: 300 }, (_, index) => `c${index}`).join(","))).rejects.toThrow(
      InputFault,
    );
  });
});

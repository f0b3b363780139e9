import { createReadStream } from "node:fs";
import { pipeline } from "node:stream/promises";
import { type CsvError, parse } from "csv-parse";
import { parse as parseNow } from "csv-parse/sync";
import { InputFault } from "#core";

/** A table of text as spreadsheets write it: any of the usual separators, UTF-8 or UTF-16. */

export const SEPARATORS = [",", ";", "\t", "|"] as const;
export type Separator = (typeof SEPARATORS)[number];
export type Encoding = "utf-8" | "utf-16le" | "utf-16be";

export interface TableForm {
  encoding: Encoding;
  separator: Separator;
  heading: string[];
  /** The first rows after the heading. */
  sample: string[][];
}

/** By so much of its beginning a table is known. */
export const HEAD_BYTES = 65_536;
const SAMPLE_ROWS = 20;
/** No row of a visit log is longer. */
const LONGEST_ROW = 100_000;
const MOST_COLUMNS = 200;

/**
 * Looks at the beginning of a file.
 * @param head its first `HEAD_BYTES`, or all of a shorter one
 * @throws InputFault for a file whose heading is no text, or with no row at all
 */
export function tableForm(head: Buffer): TableForm {
  const bytes = head.subarray(0, HEAD_BYTES);
  const encoding = encodingOf(bytes);
  const text = new TextDecoder(encoding).decode(bytes);
  // The last line of what was read may be cut.
  const whole = bytes.length === HEAD_BYTES ? text.slice(0, text.lastIndexOf("\n")) : text;
  const separator = separatorOf(whole);
  const [heading, ...sample] = firstRows(whole, separator);
  if (!heading) throw new InputFault("missing", "rows", 0, 1);
  if (heading.length > MOST_COLUMNS)
    throw new InputFault("too-high", "columns", heading.length, MOST_COLUMNS);
  const bad = heading.findIndex((cell) => /[\0\ufffd]/.test(cell));
  if (bad >= 0) throw new InputFault("malformed", `row 1, column ${bad + 1}`, "no text");
  return { encoding, separator, heading: heading.map((name) => name.trim()), sample };
}

function encodingOf(bytes: Buffer): Encoding {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return "utf-16le";
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return "utf-16be";
  return "utf-8";
}

const rowsOf = (text: string, delimiter: Separator, to: number): string[][] =>
  parseNow(text, {
    delimiter,
    to,
    relax_column_count: true,
    relax_quotes: true,
    skip_empty_lines: true,
    bom: true,
  });

/** As many of the first rows as can be read: a quote that is not closed is told when the file is tried. */
function firstRows(text: string, separator: Separator): string[][] {
  for (const count of [SAMPLE_ROWS + 1, 6, 2]) {
    try {
      return rowsOf(text, separator, count);
    } catch {
      // Fewer may do.
    }
  }
  return rowsOf(text, separator, 1);
}

/** The separator by which the first rows have the most columns, as many in each. */
function separatorOf(text: string): Separator {
  let best: { separator: Separator; score: number } = { separator: ",", score: 0 };
  for (const separator of SEPARATORS) {
    const rows = firstRows(text, separator);
    const width = rows[0]?.length ?? 0;
    const alike = rows.filter((row) => row.length === width).length / Math.max(1, rows.length);
    const score = (width - 1) * alike;
    if (score > best.score) best = { separator, score };
  }
  return best.separator;
}

export interface TableRow {
  /** As a person counts lines of the table: the heading is 1. */
  row: number;
  cells: string[];
  /** Bytes of the file read so far, about. */
  bytes: number;
}

/** Every row after the heading, one at a time. A quote that is never closed is a fault with its row. */
export async function* tableRows(path: string, { encoding, separator }: TableForm): AsyncGenerator<TableRow> {
  const source = createReadStream(path);
  const decoder = new TextDecoder(encoding, { ignoreBOM: false });
  const records = parse({
    delimiter: separator,
    relax_column_count: true,
    skip_empty_lines: true,
    bom: true,
    max_record_size: LONGEST_ROW,
  });
  // Whichever end gives up takes the other along: nobody waits for a reader that is gone.
  const flow = pipeline(
    source,
    async function* (chunks: AsyncIterable<Buffer>) {
      for await (const chunk of chunks) yield decoder.decode(chunk, { stream: true });
      yield decoder.decode();
    },
    records,
  ).catch(() => {});
  let row = 0;
  try {
    for await (const cells of records) {
      row++;
      if (row > 1) yield { row, cells: cells as string[], bytes: source.bytesRead };
    }
  } catch (fault) {
    const { code } = fault as CsvError;
    if (typeof code !== "string" || !code.startsWith("CSV_")) throw fault;
    throw new InputFault(
      "malformed",
      `row ${row + 1}`,
      code === "CSV_MAX_RECORD_SIZE" ? "longer than any row" : "a quote that is not closed",
    );
  } finally {
    records.destroy();
    await flow;
  }
}

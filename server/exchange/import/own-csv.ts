import { InputFault, numberWithin, QUANTITIES, QUANTITY_NAMES } from "#core";
import { CSV_COLUMNS } from "../book-csv";
import { numberIn } from "./cells";
import type { Importing } from "./importing";
import type { Mapping } from "./mapping";
import { type TableForm, tableRows } from "./table";
import {
  authorAndNote,
  basinNamed,
  type ImportedVisit,
  LONGEST_NOTE,
  reader,
  rowIsWhole,
  type Setting,
  same,
  type VisitIn,
} from "./visit-in";

/** Our own CSV: rows of one visit follow one another. */
export async function* ownVisits(
  path: string,
  form: TableForm,
  _: Mapping,
  setting: Setting,
  importing: Importing,
): AsyncGenerator<ImportedVisit> {
  let visit: VisitIn | null = null;
  let begun = { row: 0, bytes: 0 };
  for await (const line of tableRows(path, form)) {
    if (!rowIsWhole(line, form.heading, importing)) continue;
    const { row, cells, bytes } = line;
    const cell = Object.fromEntries(CSV_COLUMNS.map((name, at) => [name, cells[at] ?? ""])) as Record<
      (typeof CSV_COLUMNS)[number],
      string
    >;
    const { take } = reader(importing, row);
    if (visit?.id !== cell.visit_id) {
      if (visit) yield { visit, ...begun };
      visit = null;
      begun = { row, bytes };
      const basin = take("basin", () => basinNamed(setting, plainText(cell.basin), plainText(cell.site)));
      const at = take("visit_started_at_utc", () =>
        instantIn(cell.visit_started_at_utc, "visit_started_at_utc"),
      );
      const id = take("visit_id", () => idIn(cell.visit_id));
      if (!basin || !at || !id) continue;
      const { memberId, note } = authorAndNote(setting, importing, plainText(cell.member), "");
      visit = { id, basin, memberId, at, note, readings: [], doses: [] };
    }
    const into = visit;
    take("record", () => addRecord(into, cell, setting));
  }
  if (visit) yield { visit, ...begun };
}

function addRecord(
  visit: VisitIn,
  cell: Record<(typeof CSV_COLUMNS)[number], string>,
  { products }: Setting,
): void {
  const number = (name: "value" | "low" | "high") =>
    cell[name] === "" ? null : numberIn(cell[name], ".", name);
  switch (cell.record) {
    case "note":
      visit.note = `${plainText(cell.note)}${visit.note}`;
      if (visit.note.length > LONGEST_NOTE)
        throw new InputFault("too-long", "note", `${visit.note.length} characters`, LONGEST_NOTE);
      return;
    case "finding":
      // Worked out again from the readings.
      return;
    case "reading": {
      const quantity = QUANTITY_NAMES.find((name) => name === cell.what);
      if (!quantity) throw new InputFault("unknown", "what", cell.what, QUANTITY_NAMES);
      if (cell.used !== "true" || cell.round !== "0") return;
      const value = number("value");
      if (value === null) throw new InputFault("missing", "value", undefined);
      const { low, high } = QUANTITIES[quantity];
      numberWithin(quantity, value, low, high);
      const bound = (["within", "at-least", "at-most"] as const).find((name) => name === cell.bound);
      if (!bound) throw new InputFault("unknown", "bound", cell.bound, ["within", "at-least", "at-most"]);
      visit.readings.push({
        quantity,
        value,
        bound,
        low: bound === "at-most" ? null : (number("low") ?? value),
        high: bound === "at-least" ? null : (number("high") ?? value),
        at: instantIn(cell.at_utc, "at_utc"),
        methodId: "imported",
      });
      return;
    }
    case "dose": {
      const product = products.find((one) => same(one.name, plainText(cell.what)));
      if (!product)
        throw new InputFault(
          "unknown",
          "what",
          cell.what,
          products.slice(0, 12).map((one) => one.name),
        );
      visit.doses.push({
        productId: product.id,
        grams: number("value") ?? 0,
        at: instantIn(cell.at_utc, "at_utc"),
        code: `imported.${visit.doses.length}`,
      });
      return;
    }
    default:
      throw new InputFault("unknown", "record", cell.record, ["reading", "finding", "dose", "note"]);
  }
}

/** Text as it was before it was guarded against being taken for a formula. */
const plainText = (text: string): string => text.replace(/^'(?=[=+\-@\t\r])/, "");

function instantIn(text: string, field: string): Date {
  const at = new Date(text);
  if (!/^\d{4}-\d\d-\d\dT/.test(text) || Number.isNaN(at.getTime()))
    throw new InputFault("malformed", field, text);
  return at;
}

function idIn(text: string): string {
  if (!/^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/.test(text))
    throw new InputFault("malformed", "visit_id", text);
  return text;
}

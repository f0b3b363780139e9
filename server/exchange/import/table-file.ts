import { gramsFrom, InputFault, type Quantity } from "#core";
import type { FirmScope } from "../../db/connection";
import { dateIn, instantOf, minuteIn, numberIn, readingIn } from "./cells";
import { countVisits } from "./count";
import { faultAt, rowFault } from "./fault";
import type { Importing } from "./importing";
import type { Mapping, Target } from "./mapping";
import { ownVisits } from "./own-csv";
import { type TableForm, tableRows } from "./table";
import {
  authorAndNote,
  basinNamed,
  bracketOf,
  type ImportedVisit,
  keyOf,
  LONGEST_NOTE,
  type ReadIn,
  reader,
  rowIsWhole,
  type Setting,
  settingOf,
  type VisitIn,
} from "./visit-in";
import { writeVisits } from "./write-visits";

/** A spreadsheet on its way in: each row a visit, or our own CSV, of which several rows make one. */

const BATCH = 400;
const NOON = 12 * 60;

/** Checks every row and, unless it is a dry run, writes them. Faults are handed to `importing`. */
export async function importTable(
  scope: FirmScope,
  importing: Importing,
  path: string,
  form: TableForm,
  mapping: Mapping | "own",
): Promise<void> {
  const setting = await settingOf(scope);
  const seen = new Set<string>();
  let batch: VisitIn[] = [];
  // The next rows are read while the database takes the last ones.
  let writing: Promise<void> = Promise.resolve();
  const put = async (ready: VisitIn[]) => {
    if (importing.report.dry)
      await countVisits(
        scope,
        importing,
        ready.map((visit) => visit.id),
      );
    else if (importing.faultCount === 0) await writeVisits(scope, importing, ready, setting);
  };
  const write = async (bytes: number) => {
    importing.reached(bytes);
    await importing.breathe();
    await writing;
    writing = put(batch);
    // What fails is thrown where it is waited for, above or at the end.
    writing.catch(() => undefined);
    batch = [];
  };
  const visits = mapping === "own" ? ownVisits : mappedVisits;
  try {
    for await (const { visit, row, bytes } of visits(path, form, mapping as Mapping, setting, importing)) {
      if (seen.has(visit.id)) {
        importing.fault(rowFault(row, "date", "inconsistent", visit.at.toISOString(), "an earlier row"));
        continue;
      }
      seen.add(visit.id);
      batch.push(visit);
      if (batch.length >= BATCH) await write(bytes);
    }
  } catch (fault) {
    if (!(fault instanceof InputFault)) throw fault;
    importing.fault(faultAt(Number(/^row (\d+)/.exec(fault.field)?.[1] ?? 0) || null, "", fault));
  }
  await write(Number.POSITIVE_INFINITY);
  await writing;
}

async function* mappedVisits(
  path: string,
  form: TableForm,
  mapping: Mapping,
  setting: Setting,
  importing: Importing,
): AsyncGenerator<ImportedVisit> {
  const { heading } = form;
  const places = Object.entries(mapping.columns).map(([place, target]) => ({ place: Number(place), target }));
  const fixed = setting.basins.find((basin) => basin.id === mapping.basinId);
  if (!places.some(({ target }) => target === "date")) throw new InputFault("missing", "date", undefined);
  if (!fixed && !places.some(({ target }) => target === "basin"))
    throw new InputFault("missing", "basin", undefined);
  for await (const line of tableRows(path, form)) {
    if (!rowIsWhole(line, heading, importing)) continue;
    const { row, cells, bytes } = line;
    const { take, sound } = reader(importing, row);
    const cellOf = (target: Target) => {
      const at = places.find((one) => one.target === target)?.place;
      return {
        text: at === undefined ? "" : (cells[at] ?? "").trim(),
        column: at === undefined ? target : (heading[at] ?? target),
      };
    };
    const date = cellOf("date");
    const when = take(date.column, () => dateIn(date.text, mapping.dates));
    const clock = cellOf("time");
    const minute = clock.text ? take(clock.column, () => minuteIn(clock.text)) : (when?.minute ?? null);
    const basin =
      fixed ??
      take(cellOf("basin").column, () => basinNamed(setting, cellOf("basin").text, cellOf("site").text));
    const at = when ? instantOf(when.day, minute ?? NOON, setting.timeZone) : null;
    const readings: ReadIn[] = [];
    const doses: VisitIn["doses"] = [];
    for (const { place, target } of places) {
      const text = (cells[place] ?? "").trim();
      const column = heading[place] ?? String(place + 1);
      const [kind, name = ""] = target.split(/\.(.*)/s);
      if (text === "" || !at) continue;
      if (kind === "reading") {
        const quantity = name as Quantity;
        const cell = take(column, () => readingIn(text, quantity, mapping));
        if (cell) readings.push({ quantity, ...bracketOf(cell), at, methodId: "imported" });
      }
      if (kind === "dose") {
        const amount = take(column, () => doseIn(text, name, mapping, setting));
        if (amount) doses.push({ productId: name, grams: amount, at, code: `imported.${place}` });
      }
    }
    if (!sound() || !basin || !at) continue;
    if (readings.length + doses.length === 0) {
      importing.fault(rowFault(row, "", "missing", "readings"));
      continue;
    }
    const { memberId, note } = authorAndNote(setting, importing, cellOf("member").text, cellOf("note").text);
    if (note.length > LONGEST_NOTE) {
      importing.fault(
        rowFault(row, cellOf("note").column, "too-long", `${note.length} characters`, LONGEST_NOTE),
      );
      continue;
    }
    yield {
      row,
      bytes,
      visit: { id: keyOf(importing.firmId, basin, at), basin, memberId, at, note, readings, doses },
    };
  }
}

function doseIn(text: string, productId: string, mapping: Mapping, { products }: Setting): number {
  if (!products.some((product) => product.id === productId))
    throw new InputFault("unknown", "product", productId);
  const amount = numberIn(text, mapping.decimal, "dose");
  if (amount < 0) throw new InputFault("too-low", "dose", amount, 0);
  return gramsFrom(amount, mapping.doses);
}

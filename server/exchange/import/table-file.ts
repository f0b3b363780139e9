import { v7 as uuid, v5 as uuidFrom } from "uuid";
import {
  findings,
  gramsFrom,
  holdingWaterOf,
  InputFault,
  type Measurement,
  QUANTITIES,
  QUANTITY_NAMES,
  type Quantity,
  type RangeSet,
  type Readings,
  withOverrides,
} from "#core";
import { allBasins, type Basin } from "../../db/basins";
import type { FirmScope } from "../../db/connection";
import { firmOf, membersOf } from "../../db/firms";
import { productsOf } from "../../db/products";
import { rangeSetVersion } from "../../db/range-sets";
import { CSV_COLUMNS } from "../book-csv";
import { writeRows } from "../rows";
import { OF_VISIT, type Row, VISIT } from "../shape";
import { dateIn, instantOf, minuteIn, numberIn, readingIn } from "./cells";
import { countVisits } from "./count";
import { faultAt, rowFault } from "./fault";
import type { Importing } from "./importing";
import type { Mapping, Target } from "./mapping";
import { type TableForm, type TableRow, tableRows } from "./table";

/** A spreadsheet on its way in: each row a visit, or our own CSV, of which several rows make one. */

const BATCH = 400;
const MINUTE = 60_000;
/** A visit whose end nobody wrote down is taken to have lasted so long. */
const LASTED = 30 * MINUTE;
const NOON = 12 * 60;
/** Keys of visits are made of what they are, so that the same row comes in once. */
const SPACE = "6f1d3c58-7f0b-5c1e-9d3a-0d0f2e6b8a41";
const LONGEST_NOTE = 4000;

interface ReadIn extends Pick<Measurement, "value" | "low" | "high" | "bound"> {
  quantity: Quantity;
  at: Date;
  methodId: string;
}

interface VisitIn {
  id: string;
  basin: Basin;
  memberId: string;
  at: Date;
  note: string;
  readings: ReadIn[];
  doses: { productId: string; grams: number; at: Date; code: string }[];
}

/** What the firm has that rows are matched with. */
interface Setting {
  basins: Basin[];
  members: { id: string; name: string }[];
  products: { id: string; name: string }[];
  sets: Map<string, RangeSet>;
  timeZone: string;
}

async function settingOf(scope: FirmScope): Promise<Setting> {
  const basins = await allBasins(scope);
  const sets = new Map<string, RangeSet>();
  for (const { rangeSetId } of basins)
    if (!sets.has(rangeSetId)) sets.set(rangeSetId, await rangeSetVersion(scope, rangeSetId));
  return {
    basins,
    members: await membersOf(scope),
    products: await productsOf(scope),
    sets,
    timeZone: (await firmOf(scope)).timeZone,
  };
}

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

interface Come {
  visit: VisitIn;
  row: number;
  bytes: number;
}

/** Faults of one row are all told, not only the first. */
function reader(importing: Importing, row: number) {
  let sound = true;
  return {
    sound: () => sound,
    take<T>(column: string, work: () => T): T | undefined {
      try {
        return work();
      } catch (fault) {
        if (!(fault instanceof InputFault)) throw fault;
        sound = false;
        importing.fault(faultAt(row, column, fault));
        return undefined;
      }
    },
  };
}

async function* mappedVisits(
  path: string,
  form: TableForm,
  mapping: Mapping,
  setting: Setting,
  importing: Importing,
): AsyncGenerator<Come> {
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

/** A row cut short, as at the end of a file that was not copied whole, or with a character that is no text. */
function rowIsWhole({ row, cells }: TableRow, heading: string[], importing: Importing): boolean {
  if (cells.length !== heading.length) {
    importing.fault(rowFault(row, "", "inconsistent", `${cells.length} columns`, heading.length));
    return false;
  }
  const bad = cells.findIndex((cell) => /[\0\ufffd]/.test(cell));
  if (bad >= 0) importing.fault(rowFault(row, heading[bad] ?? "", "malformed", cells[bad]));
  return bad < 0;
}

const bracketOf = ({ value, bound }: Pick<Measurement, "value" | "bound">) => ({
  value,
  bound,
  low: bound === "at-most" ? null : value,
  high: bound === "at-least" ? null : value,
});

const keyOf = (firmId: string, basin: Basin, at: Date): string =>
  uuidFrom(`${firmId} ${basin.id} ${at.toISOString()}`, SPACE);

const same = (a: string, b: string): boolean => a.trim().toLowerCase() === b.trim().toLowerCase();

/** A basin by its name, alone where no other has it, else with its site. */
function basinNamed({ basins }: Setting, name: string, site: string): Basin {
  const named = basins.filter(
    (basin) =>
      (same(basin.name, name) && (site === "" || same(basin.site.name, site))) ||
      same(`${basin.site.name}, ${basin.name}`, name),
  );
  const [first, second] = named;
  if (!first)
    throw new InputFault(
      "unknown",
      "basin",
      site ? `${name}, ${site}` : name,
      basins.slice(0, 12).map((one) => one.name),
    );
  if (second)
    throw new InputFault(
      "inconsistent",
      "basin",
      name,
      named.map((one) => one.site.name),
    );
  return first;
}

function doseIn(text: string, productId: string, mapping: Mapping, { products }: Setting): number {
  if (!products.some((product) => product.id === productId))
    throw new InputFault("unknown", "product", productId);
  const amount = numberIn(text, mapping.decimal, "dose");
  if (amount < 0) throw new InputFault("too-low", "dose", amount, 0);
  return gramsFrom(amount, mapping.doses);
}

/** Whoever is not known here stands in the note, and the visit under who imports it. */
function authorAndNote({ members }: Setting, importing: Importing, name: string, note: string) {
  const known = members.find((member) => same(member.name, name));
  return {
    memberId: known?.id ?? importing.memberId,
    note: `${note}${name && !known ? `${note ? " " : ""}[${name}]` : ""}`,
  };
}

/** Our own CSV: rows of one visit follow one another. */
async function* ownVisits(
  path: string,
  form: TableForm,
  _: Mapping,
  setting: Setting,
  importing: Importing,
): AsyncGenerator<Come> {
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
      if (value < low) throw new InputFault("too-low", quantity, value, low);
      if (value > high) throw new InputFault("too-high", quantity, value, high);
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

/** Visits whose key is here already stay as they are. */
async function writeVisits(
  scope: FirmScope,
  importing: Importing,
  visits: VisitIn[],
  setting: Setting,
): Promise<void> {
  const { firmId } = importing;
  const fresh = await writeRows(scope, VISIT, firmId, visits.map(visitRow));
  importing.counted(fresh.size, visits.length - fresh.size);
  const added = visits.filter((visit) => fresh.has(visit.id));
  const parts = added.map((visit) => ({ id: visit.id, ...partsOf(visit, setting) }));
  for (const name of ["readings", "findings", "doses"] as const) {
    const rows = parts.flatMap((part) => part[name]);
    await writeRows(
      scope,
      OF_VISIT[name],
      firmId,
      rows,
      parts.flatMap((part) => part[name].map(() => ({ visit_id: part.id }))),
    );
  }
}

const visitRow = ({ id, basin, memberId, at, note }: VisitIn): Row => ({
  id,
  basinId: basin.id,
  memberId,
  kitId: basin.kitId,
  rangeSetId: basin.rangeSetId,
  rangeOverrides: basin.rangeOverrides,
  litres: basin.litres,
  startedAt: at,
  finishedAt: new Date(at.getTime() + LASTED),
  note,
  look: null,
  sampling: null,
  weather: null,
  notices: null,
});

/** Rows of a visit's readings and doses, and what they break of the basin's ranges. */
function partsOf(visit: VisitIn, { sets }: Setting): Record<"readings" | "findings" | "doses", Row[]> {
  const { basin, memberId } = visit;
  const newest = new Map(visit.readings.map((reading) => [reading.quantity, reading]));
  const readings = Object.fromEntries(
    [...newest.values()].map(({ quantity, value, low, high, bound }) => [
      quantity,
      { value, low, high, bound, unit: QUANTITIES[quantity].unit },
    ]),
  ) as Readings;
  const set = sets.get(basin.rangeSetId);
  const found = set
    ? findings(readings, withOverrides(set, basin.rangeOverrides), basin.surface, holdingWaterOf(readings))
    : [];
  return {
    readings: [...newest.values()].map(({ quantity, value, low, high, bound, at, methodId }) => ({
      id: uuidFrom(`${visit.id} ${quantity}`, SPACE),
      memberId,
      kitId: basin.kitId,
      quantity,
      value,
      low,
      high,
      bound,
      methodId,
      observation: { kind: "number", value },
      doubts: [],
      takenAt: at,
      recordedAt: new Date(),
      round: 0,
      used: true,
      supersedes: null,
      supersededAt: null,
      why: "",
    })),
    findings: found.map((finding, position) => ({
      id: uuid(),
      position,
      code: finding.code,
      detail: finding,
    })),
    doses: visit.doses.map(({ productId, grams, at, code }) => ({
      id: uuidFrom(`${visit.id} ${code}`, SPACE),
      memberId,
      productId,
      code,
      plannedGrams: grams,
      givenGrams: grams,
      givenAt: at,
      supersedes: null,
      supersededAt: null,
    })),
  };
}

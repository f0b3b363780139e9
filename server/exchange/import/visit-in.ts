import { v5 as uuidFrom } from "uuid";
import { type Basin, InputFault, type Measurement, type Quantity, type RangeSet } from "#core";
import { allBasins } from "../../db/basins";
import type { FirmScope } from "../../db/connection";
import { firmOf, membersOf } from "../../db/firms";
import { productsOf } from "../../db/products";
import { rangeSetVersion } from "../../db/range-sets";
import { faultAt, rowFault } from "./fault";
import type { Importing } from "./importing";
import type { TableRow } from "./table";

/** A visit out of a table, before it is rows of the database, and what it is matched with on the way. */

export const LONGEST_NOTE = 4000;
/** Keys of visits are made of what they are, so that the same row comes in once. */
export const SPACE = "6f1d3c58-7f0b-5c1e-9d3a-0d0f2e6b8a41";

export interface ReadIn extends Pick<Measurement, "value" | "low" | "high" | "bound"> {
  quantity: Quantity;
  at: Date;
  methodId: string;
}

export interface VisitIn {
  id: string;
  basin: Basin;
  memberId: string;
  at: Date;
  note: string;
  readings: ReadIn[];
  doses: { productId: string; grams: number; at: Date; code: string }[];
}

/** What the firm has that rows are matched with. */
export interface Setting {
  basins: Basin[];
  members: { id: string; name: string }[];
  products: { id: string; name: string }[];
  sets: Map<string, RangeSet>;
  timeZone: string;
}

export async function settingOf(scope: FirmScope): Promise<Setting> {
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

export interface ImportedVisit {
  visit: VisitIn;
  row: number;
  bytes: number;
}

/** Faults of one row are all told, not only the first. */
export function reader(importing: Importing, row: number) {
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

/** A row cut short, as at the end of a file that was not copied whole, or with a character that is no text. */
export function rowIsWhole({ row, cells }: TableRow, heading: string[], importing: Importing): boolean {
  if (cells.length !== heading.length) {
    importing.fault(rowFault(row, "", "inconsistent", `${cells.length} columns`, heading.length));
    return false;
  }
  const bad = cells.findIndex((cell) => /[\0\ufffd]/.test(cell));
  if (bad >= 0) importing.fault(rowFault(row, heading[bad] ?? "", "malformed", cells[bad]));
  return bad < 0;
}

export const bracketOf = ({ value, bound }: Pick<Measurement, "value" | "bound">) => ({
  value,
  bound,
  low: bound === "at-most" ? null : value,
  high: bound === "at-least" ? null : value,
});

export const keyOf = (firmId: string, basin: Basin, at: Date): string =>
  uuidFrom(`${firmId} ${basin.id} ${at.toISOString()}`, SPACE);

export const same = (a: string, b: string): boolean => a.trim().toLowerCase() === b.trim().toLowerCase();

/** A basin by its name, alone where no other has it, else with its site. */
export function basinNamed({ basins }: Setting, name: string, site: string): Basin {
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

/** Whoever is not known here stands in the note, and the visit under who imports it. */
export function authorAndNote({ members }: Setting, importing: Importing, name: string, note: string) {
  const known = members.find((member) => same(member.name, name));
  return {
    memberId: known?.id ?? importing.memberId,
    note: `${note}${name && !known ? `${note ? " " : ""}[${name}]` : ""}`,
  };
}

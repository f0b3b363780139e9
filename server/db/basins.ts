import { SANITISERS, type Sanitiser, SURFACES, type Surface } from "#core";
import type { FirmScope } from "./connection";

export interface Basin {
  id: string;
  name: string;
  kind: BasinKind;
  surface: Surface;
  litres: number;
  indoors: boolean;
  sanitiser: Sanitiser;
  callDays: number[];
  note: string;
  kitId: string;
  rangeSetId: string;
  site: {
    id: string;
    name: string;
    street: string;
    district: string;
    contact: string;
    fillAlkalinity: number | null;
    fillHardness: number | null;
  };
}

export const BASIN_KINDS = ["pool", "spa", "plunge", "teaching", "exercise", "splash-pad"] as const;
export type BasinKind = (typeof BASIN_KINDS)[number];

const oneOf = <T extends string>(known: readonly T[], value: string): T => {
  const found = known.find((name) => name === value);
  if (!found) throw new Error(`unknown value in the database: ${value}`);
  return found;
};

const select = (scope: FirmScope) =>
  scope
    .selectFrom("basin")
    .innerJoin("site", "site.id", "basin.site_id")
    .select([
      "basin.id",
      "basin.name",
      "basin.kind",
      "basin.surface",
      "basin.litres",
      "basin.indoors",
      "basin.sanitiser",
      "basin.call_days",
      "basin.note",
      "basin.kit_id",
      "basin.range_set_id",
      "site.id as site_id",
      "site.name as site_name",
      "site.street",
      "site.district",
      "site.contact",
      "site.fill_alkalinity",
      "site.fill_hardness",
    ]);

type Row = Awaited<ReturnType<ReturnType<typeof select>["execute"]>>[number];

const basinFrom = (row: Row): Basin => ({
  id: row.id,
  name: row.name,
  kind: oneOf(BASIN_KINDS, row.kind),
  surface: oneOf(SURFACES, row.surface),
  litres: row.litres,
  indoors: row.indoors,
  sanitiser: oneOf(SANITISERS, row.sanitiser),
  callDays: row.call_days,
  note: row.note,
  kitId: row.kit_id,
  rangeSetId: row.range_set_id,
  site: {
    id: row.site_id,
    name: row.site_name,
    street: row.street,
    district: row.district,
    contact: row.contact,
    fillAlkalinity: row.fill_alkalinity,
    fillHardness: row.fill_hardness,
  },
});

/** Every basin of the firm by site. */
export async function allBasins(scope: FirmScope): Promise<Basin[]> {
  return (await select(scope).orderBy("site.name").orderBy("basin.name").execute()).map(basinFrom);
}

/** One basin, or undefined when this firm has none under that id. */
export async function basinById(scope: FirmScope, id: string): Promise<Basin | undefined> {
  const row = await select(scope).where("basin.id", "=", id).executeTakeFirst();
  return row && basinFrom(row);
}

/** The basins called at on an ISO weekday (1 Monday … 7 Sunday), in the order of the round. */
export async function basinsOnDay(scope: FirmScope, weekday: number): Promise<Basin[]> {
  const rows = await select(scope)
    .where((where) => where(where.val(weekday), "=", where.fn.any("basin.call_days")))
    .orderBy("basin.position")
    .execute();
  return rows.map(basinFrom);
}

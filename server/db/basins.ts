import {
  type ProductId,
  type RangeOverrides,
  SANITISERS,
  type Sanitiser,
  SURFACES,
  type Surface,
} from "#core";
import type { FirmScope } from "./connection";
import { isProductId } from "./products";

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
  /** Limits of its own, before its set's. */
  rangeOverrides: RangeOverrides | null;
  /** Compounds that are not used here. */
  barred: ProductId[];
  /** The largest share of its water that is replaced at a time, 0…1. */
  mostReplaced: number;
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
      "basin.range_overrides",
      "basin.barred",
      "basin.most_replaced",
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
  rangeOverrides: row.range_overrides as RangeOverrides | null,
  barred: row.barred.filter(isProductId),
  mostReplaced: row.most_replaced,
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

export interface BasinJudgement {
  rangeSetId: string;
  rangeOverrides: RangeOverrides;
  barred: ProductId[];
  mostReplaced: number;
}

/** How a basin is judged and planned for from now on; visits under way keep what they began with. */
export async function setJudgement(scope: FirmScope, id: string, sent: BasinJudgement): Promise<void> {
  await scope
    .updateTable("basin")
    .set({
      range_set_id: sent.rangeSetId,
      range_overrides:
        Object.keys(sent.rangeOverrides).length > 0 ? JSON.stringify(sent.rangeOverrides) : null,
      barred: sent.barred,
      most_replaced: sent.mostReplaced,
    })
    .where("id", "=", id)
    .execute();
}

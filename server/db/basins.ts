import { sql } from "kysely";
import {
  BASIN_KINDS,
  type Basin,
  type BasinKind,
  type CadenceChange,
  type Equipment,
  isProductId,
  type MovedCalls,
  NO_EQUIPMENT,
  type ProductId,
  type RangeOverrides,
  SANITISERS,
  type Sanitiser,
  SURFACES,
  type Surface,
} from "#core";
import type { FirmScope } from "./connection";

const oneOf = <T extends string>(known: readonly T[], value: string): T => {
  const found = known.find((name) => name === value);
  if (!found) throw new Error(`unknown value in the database: ${value}`);
  return found;
};

const WEEKS_FROM = sql<string>`basin.weeks_from::text`;
/** Days that are not its plan's, of late and ahead: whatever asks for its next call asks by them too. */
const MOVED = sql<MovedCalls>`(
  select json_build_object(
    'gone', coalesce(json_agg(moved.day::text) filter (where moved.gone_at is not null), '[]'),
    'come', coalesce(json_agg(moved.day::text) filter (where moved.gone_at is null and moved.skipped_at is null), '[]'))
  from round_call as moved
  where moved.basin_id = basin.id and moved.day > current_date - 40)`;

const COLUMNS = [
  "basin.id",
  "basin.name",
  "basin.kind",
  "basin.surface",
  "basin.litres",
  "basin.indoors",
  "basin.is_public",
  "basin.sanitiser",
  "basin.call_days",
  "basin.every_weeks",
  WEEKS_FROM.as("weeks_from"),
  "basin.season_from",
  "basin.season_to",
  "basin.caller_id",
  "basin.cadence",
  "basin.equipment",
  "basin.note",
  "basin.kit_id",
  "basin.range_set_id",
  "basin.range_overrides",
  "basin.barred",
  "basin.most_replaced",
  "basin.call_minutes",
  MOVED.as("moved"),
  "site.id as site_id",
  "site.name as site_name",
  "site.street",
  "site.district",
  "site.contact",
  "site.fill_alkalinity",
  "site.fill_hardness",
  "site.language as site_language",
] as const;

/** As plain SQL, of a basin joined with its site. */
export const basinColumns = sql.join(
  COLUMNS.map((column) => {
    if (typeof column !== "string")
      return column.alias === "moved" ? sql`${MOVED} as moved` : sql`${WEEKS_FROM} as weeks_from`;
    const [name = "", as] = column.split(" as ");
    return as ? sql`${sql.ref(name)} as ${sql.ref(as)}` : sql.ref(name);
  }),
);

const select = (scope: FirmScope) =>
  scope.selectFrom("basin").innerJoin("site", "site.id", "basin.site_id").select(COLUMNS);

export type BasinRow = Awaited<ReturnType<ReturnType<typeof select>["execute"]>>[number];

export const basinFrom = (row: BasinRow): Basin => ({
  id: row.id,
  name: row.name,
  kind: oneOf(BASIN_KINDS, row.kind),
  surface: oneOf(SURFACES, row.surface),
  litres: row.litres,
  indoors: row.indoors,
  isPublic: row.is_public,
  sanitiser: oneOf(SANITISERS, row.sanitiser),
  calls: {
    callDays: row.call_days,
    everyWeeks: row.every_weeks,
    weeksFrom: row.weeks_from,
    season: row.season_from && row.season_to ? { from: row.season_from, to: row.season_to } : null,
    moved: row.moved,
  },
  callerId: row.caller_id,
  cadence: row.cadence as CadenceChange | null,
  equipment: { ...NO_EQUIPMENT, ...(row.equipment as Partial<Equipment> | null) },
  note: row.note,
  kitId: row.kit_id,
  rangeSetId: row.range_set_id,
  rangeOverrides: row.range_overrides as RangeOverrides | null,
  barred: row.barred.filter(isProductId),
  mostReplaced: row.most_replaced,
  callMinutes: row.call_minutes,
  site: {
    id: row.site_id,
    name: row.site_name,
    street: row.street,
    district: row.district,
    contact: row.contact,
    fillAlkalinity: row.fill_alkalinity,
    fillHardness: row.fill_hardness,
    language: row.site_language,
  },
});

/** Every basin of the firm by site. */
export async function allBasins(scope: FirmScope): Promise<Basin[]> {
  return (await select(scope).orderBy("site.name").orderBy("basin.name").execute()).map(basinFrom);
}

/** Every basin of the firm by site, as lists and choices name it. */
export const basinNames = (scope: FirmScope): Promise<{ id: string; name: string; site: string }[]> =>
  scope
    .selectFrom("basin")
    .innerJoin("site", "site.id", "basin.site_id")
    .select(["basin.id", "basin.name", "site.name as site"])
    .orderBy("site.name")
    .orderBy("basin.name")
    .execute();

/** One basin, or undefined when this firm has none under that id. */
export async function basinById(scope: FirmScope, id: string): Promise<Basin | undefined> {
  const row = await select(scope).where("basin.id", "=", id).executeTakeFirst();
  return row && basinFrom(row);
}

/** Every basin in the order of the round. */
export async function basinsInOrder(scope: FirmScope): Promise<Basin[]> {
  return (await select(scope).orderBy("basin.position").orderBy("basin.name").execute()).map(basinFrom);
}

export interface BasinFacts {
  name: string;
  kind: BasinKind;
  surface: Surface;
  indoors: boolean;
  isPublic: boolean | null;
  sanitiser: Sanitiser;
  kitId: string;
  callDays: number[];
  everyWeeks: number;
  weeksFrom: string;
  season: { from: string; to: string } | null;
  callerId: string | null;
  equipment: Equipment;
  cadence: CadenceChange | null;
  note: string;
  fillAlkalinity: number | null;
  fillHardness: number | null;
  /** What the customer of its site reads. */
  customerLanguage: string | null;
}

/** The facts of a basin as its form has them. */
export const factsOf = ({ calls, site, ...basin }: Basin): BasinFacts => ({
  name: basin.name,
  kind: basin.kind,
  surface: basin.surface,
  indoors: basin.indoors,
  isPublic: basin.isPublic,
  sanitiser: basin.sanitiser,
  kitId: basin.kitId,
  callDays: [...calls.callDays],
  everyWeeks: calls.everyWeeks,
  weeksFrom: calls.weeksFrom,
  season: calls.season,
  callerId: basin.callerId,
  equipment: basin.equipment,
  cadence: basin.cadence,
  note: basin.note,
  fillAlkalinity: site.fillAlkalinity,
  fillHardness: site.fillHardness,
  customerLanguage: site.language,
});

/** Writes the facts of a basin and the fill water of its site; visits made keep what they began with. */
export async function setFacts(scope: FirmScope, { id, site }: Basin, facts: BasinFacts): Promise<void> {
  await scope
    .updateTable("basin")
    .set({
      name: facts.name,
      kind: facts.kind,
      surface: facts.surface,
      indoors: facts.indoors,
      is_public: facts.isPublic,
      sanitiser: facts.sanitiser,
      kit_id: facts.kitId,
      call_days: facts.callDays,
      every_weeks: facts.everyWeeks,
      weeks_from: facts.weeksFrom,
      season_from: facts.season?.from ?? null,
      season_to: facts.season?.to ?? null,
      caller_id: facts.callerId,
      equipment: JSON.stringify(facts.equipment),
      cadence: facts.cadence ? JSON.stringify(facts.cadence) : null,
      note: facts.note,
    })
    .where("id", "=", id)
    .execute();
  await scope
    .updateTable("site")
    .set({
      fill_alkalinity: facts.fillAlkalinity,
      fill_hardness: facts.fillHardness,
      language: facts.customerLanguage,
    })
    .where("id", "=", site.id)
    .execute();
}

/** Holds a basin until the transaction ends: two who change it follow one another. */
export async function lockBasin(scope: FirmScope, id: string): Promise<void> {
  await scope.selectFrom("basin").select("id").where("id", "=", id).forUpdate().execute();
}

export interface BasinJudgement {
  rangeSetId: string;
  rangeOverrides: RangeOverrides;
  barred: ProductId[];
  mostReplaced: number;
  /** Minutes of a call here; null for the firm's; left out to leave it as it is. */
  callMinutes?: number | null | undefined;
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
      ...(sent.callMinutes === undefined ? {} : { call_minutes: sent.callMinutes }),
    })
    .where("id", "=", id)
    .execute();
}

export interface BasinInput {
  /** The volume is meant, far as it is from the others. */
  sure?: boolean;
  id: string;
  /** A site that is here already, or a new one under a key that the client made. */
  siteId: string;
  newSite: { name: string; street: string; district: string; contact: string } | null;
  name: string;
  kind: BasinKind;
  surface: Surface;
  litres: number;
  indoors: boolean;
  /** Whether others than one household bathe there. */
  isPublic: boolean;
  kitId: string;
  rangeSetId: string;
}

/** Adds a basin, and its site where that is new. */
export async function addBasin(scope: FirmScope, firmId: string, sent: BasinInput): Promise<void> {
  if (sent.newSite)
    await scope
      .insertInto("site")
      .values({ id: sent.siteId, firm_id: firmId, ...sent.newSite })
      .onConflict((conflict) => conflict.doNothing())
      .execute();
  const last = await scope
    .selectFrom("basin")
    .select((row) => row.fn.max("position").as("position"))
    .executeTakeFirst();
  await scope
    .insertInto("basin")
    .values({
      id: sent.id,
      firm_id: firmId,
      site_id: sent.siteId,
      name: sent.name,
      kind: sent.kind,
      surface: sent.surface,
      litres: sent.litres,
      indoors: sent.indoors,
      is_public: sent.isPublic,
      kit_id: sent.kitId,
      range_set_id: sent.rangeSetId,
      position: (last?.position ?? -1) + 1,
    })
    .execute();
}

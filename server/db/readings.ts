import { type RawBuilder, sql } from "kysely";
import type { Doubt, Measurement, Observation, Quantity } from "#core";
import { QUANTITIES, QUANTITY_NAMES } from "#core";
import type { FirmScope } from "./connection";

/** A saved reading: what it came to, and how it was seen. */
export interface StoredReading extends Measurement {
  id: string;
  visitId: string;
  quantity: Quantity;
  /** The version of the kit whose method made it. */
  kitId: string;
  methodId: string;
  observation: Observation;
  /** What spoke against it when it was saved. */
  doubts: Doubt[];
  takenAt: Date;
  /** The best of its round for this quantity. */
  used: boolean;
  /** Plans begun in the visit before it was read: 0 on arrival, 1 after the first plan's doses. */
  round: number;
  /** Why it stands in place of another, when it was corrected after its visit. */
  why?: string | undefined;
}

const isQuantity = (name: string): name is Quantity => QUANTITY_NAMES.some((known) => known === name);

const COLUMNS = [
  "reading.id",
  "reading.visit_id",
  "reading.quantity",
  "reading.value",
  "reading.low",
  "reading.high",
  "reading.bound",
  "reading.kit_id",
  "reading.method_id",
  "reading.observation",
  "reading.doubts",
  "reading.taken_at",
  "reading.used",
  "reading.round",
] as const;

interface Row {
  id: string;
  visit_id: string;
  quantity: string;
  value: number;
  low: number | null;
  high: number | null;
  bound: string;
  kit_id: string;
  method_id: string;
  observation: unknown;
  doubts: unknown;
  taken_at: Date;
  used: boolean;
  round: number;
}

function readingFrom(row: Row): StoredReading[] {
  if (!isQuantity(row.quantity)) return [];
  return [
    {
      id: row.id,
      visitId: row.visit_id,
      quantity: row.quantity,
      value: row.value,
      unit: QUANTITIES[row.quantity].unit,
      low: row.low,
      high: row.high,
      bound: row.bound as Measurement["bound"],
      kitId: row.kit_id,
      methodId: row.method_id,
      observation: row.observation as Observation,
      doubts: row.doubts as Doubt[],
      takenAt: row.taken_at,
      used: row.used,
      round: row.round,
    },
  ];
}

const inOrder = (readings: StoredReading[]): StoredReading[] =>
  readings.sort((a, b) => QUANTITY_NAMES.indexOf(a.quantity) - QUANTITY_NAMES.indexOf(b.quantity));

/** The readings that stand, of these visits, in the order in which they are always told; used and not. */
export async function readingsOfVisits(scope: FirmScope, visitIds: string[]): Promise<StoredReading[]> {
  if (visitIds.length === 0) return [];
  const rows = await scope
    .selectFrom("reading")
    .select(COLUMNS)
    .where("visit_id", "in", visitIds)
    .where("superseded_at", "is", null)
    .execute();
  return inOrder(rows.flatMap(readingFrom));
}

/** The newest standing reading of each quantity at a basin, from finished visits before `before`. */
export async function lastReadings(
  scope: FirmScope,
  basinId: string,
  before: Date,
): Promise<StoredReading[]> {
  const columns = COLUMNS.map((column) => sql.ref(`newest.${column.split(".")[1]}`));
  const rows = await newest<Row>(scope, sql.join(columns), [basinId], before);
  return rows.flatMap(readingFrom);
}

export interface LastValue {
  basinId: string;
  quantity: Quantity;
  value: number;
  takenAt: Date;
}

/** As `lastReadings`, of many basins at once and no more than what they came to. */
export async function lastValues(scope: FirmScope, basinIds: string[], before: Date): Promise<LastValue[]> {
  const columns = sql`newest.basin_id as "basinId", newest.quantity, newest.value, newest.taken_at as "takenAt"`;
  const rows = await newest<LastValue & { quantity: string }>(scope, columns, basinIds, before);
  return rows.flatMap((row) => (isQuantity(row.quantity) ? [{ ...row, quantity: row.quantity }] : []));
}

/**
 * Each quantity of each basin is one look into an index; whether a visit counts is asked of it row by row,
 * so that no plan can begin with the firm's visits, whatever firm it was made for.
 */
async function newest<T>(
  scope: FirmScope,
  columns: RawBuilder<unknown>,
  basinIds: string[],
  before: Date,
): Promise<T[]> {
  const { rows } = await sql<T>`
    select ${columns}
    from unnest(${sql.val(basinIds)}::uuid[]) as of(basin_id)
    cross join unnest(${sql.val(QUANTITY_NAMES)}::text[]) as wanted(quantity)
    cross join lateral (
      select * from (
        select reading.* from reading
        where reading.firm_id = current_firm() and reading.basin_id = of.basin_id
          and reading.quantity = wanted.quantity and reading.superseded_at is null and reading.used
        order by reading.taken_at desc offset 0
      ) as late
      where (select visit.finished_at is not null and visit.started_at < ${before} from visit
        where visit.firm_id = late.firm_id and visit.id = late.visit_id)
      limit 1
    ) as newest`.execute(scope);
  return rows;
}

/**
 * Saves a reading under a key that the client made. One that stood for the same quantity by the same
 * method is superseded, not overwritten; one by another method stands beside it, and `best` says which
 * of them is used.
 */
export async function saveReading(
  scope: FirmScope,
  firmId: string,
  memberId: string,
  reading: StoredReading,
  best: (standing: StoredReading[]) => number,
  now: Date = reading.takenAt,
): Promise<void> {
  const superseded = await scope
    .updateTable("reading")
    .set({ superseded_at: now })
    .where("visit_id", "=", reading.visitId)
    .where("quantity", "=", reading.quantity)
    .where("kit_id", "=", reading.kitId)
    .where("method_id", "=", reading.methodId)
    .where("round", "=", reading.round)
    .where("superseded_at", "is", null)
    .returning("id")
    .executeTakeFirst();
  await scope
    .insertInto("reading")
    .values({
      id: reading.id,
      firm_id: firmId,
      visit_id: reading.visitId,
      member_id: memberId,
      quantity: reading.quantity,
      value: reading.value,
      low: reading.low,
      high: reading.high,
      bound: reading.bound,
      kit_id: reading.kitId,
      method_id: reading.methodId,
      observation: JSON.stringify(reading.observation),
      doubts: JSON.stringify(reading.doubts),
      taken_at: reading.takenAt,
      supersedes: superseded?.id ?? null,
      used: false,
      round: reading.round,
      why: reading.why ?? "",
    })
    .execute();
  await markBest(scope, reading, best);
}

/** A reading that was corrected: what stood, whose it was, and until when. */
export interface SupersededReading {
  id: string;
  quantity: Quantity;
  round: number;
  methodId: string;
  value: number;
  /** Who made it. */
  by: string;
  supersededAt: Date;
  /** Who corrected it, and why. */
  correctedBy: string;
  why: string;
}

/** What readings of a visit stood for before they were corrected, the latest correction first. */
export async function trailOf(scope: FirmScope, visitId: string): Promise<SupersededReading[]> {
  const rows = await scope
    .selectFrom("reading as old")
    .innerJoin("member", "member.id", "old.member_id")
    .innerJoin("reading as new", (join) =>
      join.onRef("new.firm_id", "=", "old.firm_id").onRef("new.supersedes", "=", "old.id"),
    )
    .innerJoin("member as corrector", "corrector.id", "new.member_id")
    .select([
      "old.id",
      "old.quantity",
      "old.round",
      "old.method_id as methodId",
      "old.value",
      "member.name as by",
      "old.superseded_at as supersededAt",
      "corrector.name as correctedBy",
      "new.why",
    ])
    .where("old.visit_id", "=", visitId)
    .where("old.superseded_at", "is not", null)
    .orderBy("old.superseded_at", "desc")
    .execute();
  return rows.flatMap(({ quantity, supersededAt, ...row }) =>
    isQuantity(quantity) && supersededAt ? [{ ...row, quantity, supersededAt }] : [],
  );
}

async function markBest(
  scope: FirmScope,
  { visitId, quantity, round }: StoredReading,
  best: (standing: StoredReading[]) => number,
): Promise<void> {
  const standing = (await readingsOfVisits(scope, [visitId]))
    .filter((reading) => reading.quantity === quantity && reading.round === round)
    .sort((a, b) => a.takenAt.getTime() - b.takenAt.getTime());
  const chosen = standing[best(standing)];
  const ofQuantity = scope
    .updateTable("reading")
    .where("visit_id", "=", visitId)
    .where("quantity", "=", quantity)
    .where("round", "=", round)
    .where("superseded_at", "is", null);
  await ofQuantity.set({ used: false }).where("used", "=", true).execute();
  if (chosen) await ofQuantity.set({ used: true }).where("id", "=", chosen.id).execute();
}

/** Whether a hardness endpoint at this basin ever needed titrant ahead of its indicator. */
export async function metalsSeenAt(scope: FirmScope, basinId: string): Promise<boolean> {
  const { rows } = await sql<{ seen: boolean }>`
    select exists (
      select from reading where basin_id = ${basinId} and quantity = 'calciumHardness'
        and superseded_at is null and used and (reading.observation ->> 'ahead')::numeric > 0
    ) as seen`.execute(scope);
  return rows[0]?.seen ?? false;
}

/** Only what changes slowly can give a bottle away. An index holds just these. */
export const SLOW_QUANTITIES = [
  "totalAlkalinity",
  "calciumHardness",
  "cyanuricAcid",
] as const satisfies readonly Quantity[];

/**
 * For each slow quantity and each basin: the newest reading of the last 14 days, and what the 60 days
 * before it came to on average. Basins without both are left out.
 */
export async function changesLately(
  scope: FirmScope,
  now: Date,
): Promise<{ quantity: Quantity; before: number; now: number }[]> {
  const { rows } = await sql<{ quantity: string; before: number; now: number }>`
    with lately as (
      select basin_id, quantity, value, taken_at from reading
      where quantity in (${sql.join(SLOW_QUANTITIES.map((quantity) => sql.lit(quantity)))})
        and taken_at > ${now}::timestamptz - interval '74 days' and taken_at <= ${now}
        and superseded_at is null and used and bound = 'within'
    )
    select quantity, avg(value) filter (where taken_at <= ${now}::timestamptz - interval '14 days') as before,
      (array_agg(value order by taken_at desc)
        filter (where taken_at > ${now}::timestamptz - interval '14 days'))[1] as now
    from lately group by basin_id, quantity`.execute(scope);
  return rows.flatMap((row) =>
    isQuantity(row.quantity) && row.before !== null && row.now !== null
      ? [{ quantity: row.quantity, before: row.before, now: row.now }]
      : [],
  );
}

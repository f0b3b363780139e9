import { sql } from "kysely";
import { type Bound, isPlantKind, isQuantity, type PlantKind, type Quantity } from "#core";
import type { FirmScope } from "./connection";

/** A basin over time: what was read, what was given, what it cost. */

export interface SeriesPoint {
  quantity: Quantity;
  at: Date;
  value: number;
  low: number | null;
  high: number | null;
  bound: Bound;
  visitId: string;
}

/** Every standing reading of a basin since `from`, the oldest first. */
export async function readingSeries(scope: FirmScope, basinId: string, from: Date): Promise<SeriesPoint[]> {
  const rows = await scope
    .selectFrom("visit")
    .innerJoin("reading", (join) =>
      join.onRef("reading.firm_id", "=", "visit.firm_id").onRef("reading.visit_id", "=", "visit.id"),
    )
    .select([
      "reading.quantity",
      "reading.taken_at as at",
      "reading.value",
      "reading.low",
      "reading.high",
      "reading.bound",
      "reading.visit_id as visitId",
    ])
    .where("visit.basin_id", "=", basinId)
    .where("visit.started_at", ">=", from)
    .where("reading.superseded_at", "is", null)
    .where("reading.used", "=", true)
    .orderBy("reading.taken_at")
    .execute();
  return rows.flatMap(({ quantity, bound, ...row }) =>
    isQuantity(quantity) ? [{ ...row, quantity, bound: bound as Bound }] : [],
  );
}

export interface PlantPoint {
  kind: PlantKind;
  at: Date;
  value: number;
  /** The first of another meter. */
  changed: boolean;
}

/** What the plant beside a basin showed at its visits since `from`, the oldest first. */
export async function plantSeries(scope: FirmScope, basinId: string, from: Date): Promise<PlantPoint[]> {
  const { rows } = await sql<PlantPoint & { kind: string }>`
    select seen.kind, seen.at, seen.value, seen.changed
    from visit cross join lateral (
      select * from plant_reading where plant_reading.firm_id = visit.firm_id
        and plant_reading.visit_id = visit.id and plant_reading.superseded_at is null offset 0
    ) as seen
    where visit.firm_id = current_firm() and visit.basin_id = ${basinId} and visit.started_at >= ${from}
    order by seen.at`.execute(scope);
  return rows.filter(({ kind }) => isPlantKind(kind));
}

export interface DosePoint {
  at: Date;
  product: string;
  compound: string;
  grams: number;
  visitId: string;
}

/**
 * The doses that stand of a basin's visits since a moment, found through the index of each visit. `offset 0` keeps
 * them from being joined the other way round, with every dose of the firm in front.
 */
const dosesSince = (basinId: string, from: Date) => sql`visit
  cross join lateral (
    select * from dose where dose.firm_id = visit.firm_id and dose.visit_id = visit.id
      and dose.superseded_at is null and dose.given_grams > 0 offset 0
  ) as dose
  join product on product.firm_id = dose.firm_id and product.id = dose.product_id
  where visit.firm_id = current_firm() and visit.basin_id = ${basinId} and visit.started_at >= ${from}`;

/** What went into a basin since `from`, the oldest first. */
export async function doseSeries(scope: FirmScope, basinId: string, from: Date): Promise<DosePoint[]> {
  const { rows } = await sql<DosePoint>`
    select dose.given_at as at, product.name as product, product.compound, dose.given_grams as grams,
      dose.visit_id as "visitId"
    from ${dosesSince(basinId, from)}
    order by dose.given_at`.execute(scope);
  return rows;
}

export interface MonthCost {
  /** 2026-05, in the firm's time zone. */
  month: string;
  cost: number;
  doses: number;
}

/** What a kilogram of a dose cost: the price of its day, or today's where that day's is not known. */
export const priceOfDose = sql<number | null>`coalesce((
  select price_per_kg from product_price
  where product_price.firm_id = dose.firm_id and product_price.product_id = dose.product_id
    and product_price.known_from <= dose.given_at
  order by product_price.known_from desc limit 1
), product.price_per_kg)`;

const costOfDose = sql`(dose.given_grams / 1000 * ${priceOfDose})`;

/** Money for what went in at a visit; doses without a price count for nothing. */
export async function costOfVisit(scope: FirmScope, visitId: string): Promise<number> {
  const { rows } = await sql<{ cost: number }>`
    select coalesce(sum(${costOfDose}), 0) as cost from dose
    join product on product.firm_id = dose.firm_id and product.id = dose.product_id
    where dose.visit_id = ${visitId} and dose.superseded_at is null and dose.given_grams > 0`.execute(scope);
  return rows[0]?.cost ?? 0;
}

/** Money for what went into each basin since a moment; a basin into which nothing went is not in it. */
export async function costsSince(scope: FirmScope, since: Date): Promise<Map<string, number>> {
  const { rows } = await sql<{ id: string; cost: number }>`
    select visit.basin_id as id, coalesce(sum(${costOfDose}), 0) as cost from dose
    join visit on visit.firm_id = dose.firm_id and visit.id = dose.visit_id
    join product on product.firm_id = dose.firm_id and product.id = dose.product_id
    where dose.superseded_at is null and dose.given_at > ${since} and dose.given_grams > 0
    group by visit.basin_id`.execute(scope);
  return new Map(rows.map(({ id, cost }) => [id, Number(cost)]));
}

/** Money for what went in, by month, at the prices of the day; products without a price count as doses only. */
export async function costByMonth(
  scope: FirmScope,
  basinId: string,
  from: Date,
  timeZone: string,
): Promise<MonthCost[]> {
  const { rows } = await sql<MonthCost>`
    select to_char(dose.given_at at time zone ${timeZone}, 'YYYY-MM') as month,
      coalesce(sum(${costOfDose}), 0) as cost, count(*) as doses
    from ${dosesSince(basinId, from)}
    group by 1 order by 1`.execute(scope);
  return rows;
}

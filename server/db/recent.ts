import { sql } from "kysely";
import { type Bathing, type GivenDose, isProductId, LABELLED_IDS } from "#core";
import type { FirmScope } from "./connection";

/**
 * What is newest at many basins at once, each found through the index of its own visits. `offset 0` keeps
 * a part from being joined the other way round: a plan may be kept that was made for another firm.
 */

export interface LastVisit {
  id: string;
  basinId: string;
  startedAt: Date;
  finishedAt: Date;
  /** The last one at which the water was tested; null where none was. */
  testedId: string | null;
  /**
   * Whether the water might be used as it was left, by the last test and by what has closed it since; null where
   * nobody worked it out.
   */
  bathing: Bathing | null;
}

/** The last finished visit of each of these basins up to a day, as it is in a time zone. */
export async function lastVisitsOf(
  scope: FirmScope,
  basinIds: string[],
  day: string,
  timeZone: string,
): Promise<LastVisit[]> {
  const { rows } = await sql<LastVisit>`
    select newest.id, newest.basin_id as "basinId", newest.started_at as "startedAt",
      newest.finished_at as "finishedAt", tested.id as "testedId", coalesce((
        select closed.bathing from visit as closed
        where newest.untested is not null and closed.firm_id = current_firm() and closed.basin_id = wanted.id
          and closed.finished_at is not null and closed.untested is not null
          and closed.started_at > coalesce(tested.started_at, '-infinity') and closed.started_at <= newest.started_at
          and closed.bathing ->> 'state' = 'closed'
        order by closed.started_at desc limit 1), tested.bathing) as bathing
    from unnest(${sql.val(basinIds)}::uuid[]) as wanted(id)
    cross join lateral (
      select visit.id, visit.basin_id, visit.started_at, visit.finished_at, visit.untested
      from visit where visit.firm_id = current_firm() and visit.basin_id = wanted.id and visit.finished_at is not null
        and visit.started_at < (${day}::date + 1)::timestamp at time zone ${timeZone}
      order by visit.started_at desc limit 1
    ) as newest
    left join lateral (
      select visit.id, visit.started_at, visit.bathing
      from visit where visit.firm_id = current_firm() and visit.basin_id = wanted.id and visit.finished_at is not null
        and visit.started_at <= newest.started_at and visit.untested is null
      order by visit.started_at desc limit 1
    ) as tested on true`.execute(scope);
  return rows;
}

/** Which of these basins were called at before, but not since the day that stands beside each. */
export async function notSeenSince(
  scope: FirmScope,
  since: { basinId: string; day: string }[],
  timeZone: string,
): Promise<Set<string>> {
  const { rows } = await sql<{ id: string }>`
    select wanted.id
    from unnest(${since.map(({ basinId }) => basinId)}::uuid[], ${since.map(({ day }) => day)}::date[])
      as wanted(id, day)
    cross join lateral (
      select visit.started_at from visit
      where visit.firm_id = current_firm() and visit.basin_id = wanted.id and visit.finished_at is not null
      order by visit.started_at desc limit 1
    ) as newest
    where newest.started_at < wanted.day::timestamp at time zone ${timeZone}`.execute(scope);
  return new Set(rows.map(({ id }) => id));
}

export interface LateDose {
  basinId: string;
  productId: string;
  grams: number;
  givenAt: Date;
  visitId: string;
}

interface LabelledRow {
  basinId: string;
  compound: string;
  givenAt: Date;
}

/** What went into these basins by its label since `from`, the newest first. */
export async function labelledDoses(
  scope: FirmScope,
  basinIds: string[],
  from: Date,
): Promise<(Omit<GivenDose, "hoursAgo"> & { basinId: string; givenAt: Date })[]> {
  if (basinIds.length === 0) return [];
  const { rows } = await sql<Omit<GivenDose, "hoursAgo" | "product"> & LabelledRow>`
    select visit.basin_id as "basinId", visit.litres, product.compound, product.strength,
      dose.given_grams as grams, dose.given_at as "givenAt"
    from product
    cross join lateral (
      select * from dose where dose.firm_id = product.firm_id and dose.product_id = product.id
        and dose.superseded_at is null and dose.given_grams > 0 and dose.given_at > ${from} offset 0
    ) as dose
    join visit on visit.firm_id = dose.firm_id and visit.id = dose.visit_id
    where product.compound = any(${sql.val(LABELLED_IDS)}::text[])
      and visit.basin_id = any(${sql.val(basinIds)}::uuid[])
    order by dose.given_at desc`.execute(scope);
  return rows.flatMap(({ compound, ...row }) =>
    isProductId(compound) ? [{ ...row, product: compound }] : [],
  );
}

/** What went into these basins since `from`, the newest first. */
export async function lateDoses(scope: FirmScope, basinIds: string[], from: Date): Promise<LateDose[]> {
  const { rows } = await sql<LateDose>`
    select late.basin_id as "basinId", dose.product_id as "productId", dose.given_grams as grams,
      dose.given_at as "givenAt", dose.visit_id as "visitId"
    from unnest(${sql.val(basinIds)}::uuid[]) as wanted(id)
    cross join lateral (
      select visit.id, visit.basin_id from visit
      where visit.firm_id = current_firm() and visit.basin_id = wanted.id and visit.started_at > ${from}
    ) as late
    cross join lateral (
      select product_id, given_grams, given_at, visit_id from dose
      where dose.visit_id = late.id and dose.superseded_at is null and dose.given_grams > 0 offset 0
    ) as dose
    order by dose.given_at desc`.execute(scope);
  return rows;
}

import { sql } from "kysely";
import { QUANTITY_NAMES, type Quantity } from "#core";
import type { FirmScope } from "./connection";

/** What is newest at many basins at once, each found through the index of its own visits. */

export interface LastVisit {
  id: string;
  basinId: string;
  startedAt: Date;
  finishedAt: Date;
}

/** The last finished visit of each of these basins. */
export async function lastVisitsOf(scope: FirmScope, basinIds: string[]): Promise<LastVisit[]> {
  const { rows } = await sql<LastVisit>`
    select newest.* from unnest(${sql.val(basinIds)}::uuid[]) as wanted(id)
    cross join lateral (
      select visit.id, visit.basin_id as "basinId", visit.started_at as "startedAt", visit.finished_at as "finishedAt"
      from visit where visit.firm_id = current_firm() and visit.basin_id = wanted.id and visit.finished_at is not null
      order by visit.started_at desc limit 1
    ) as newest`.execute(scope);
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

/** Visits that are read back at first, and for basins where something is missing then: a monthly test stands within these. */
const VISITS_BACK = [3, 40] as const;

export interface LateReading {
  basinId: string;
  quantity: Quantity;
  value: number;
  takenAt: Date;
}

/**
 * The newest reading of each quantity in the last visits of these basins.
 * @param wanted quantities for which a basin's visits are read farther back
 */
export async function lateReadings(
  scope: FirmScope,
  basinIds: string[],
  wanted: (basinId: string) => readonly Quantity[],
): Promise<LateReading[]> {
  const [few, many] = VISITS_BACK;
  const first = newest(await readBack(scope, basinIds, 0, few));
  const lacking = basinIds.filter((id) =>
    wanted(id).some((quantity) => !first.some((one) => one.basinId === id && one.quantity === quantity)),
  );
  return lacking.length === 0
    ? first
    : newest([...first, ...(await readBack(scope, lacking, few, many - few))]);
}

/** Rows are sifted here: the database would sort them all, width and all, to drop nearly as many. */
function newest(readings: LateReading[]): LateReading[] {
  const kept = new Map<string, LateReading>();
  for (const one of readings) {
    const known = kept.get(one.basinId + one.quantity);
    if (!known || known.takenAt < one.takenAt) kept.set(one.basinId + one.quantity, one);
  }
  return [...kept.values()];
}

async function readBack(
  scope: FirmScope,
  basinIds: string[],
  skip: number,
  limit: number,
): Promise<LateReading[]> {
  const { rows } = await sql<{ basinId: string; quantity: string; value: number; takenAt: Date }>`
    select late.basin_id as "basinId", reading.quantity, reading.value, reading.taken_at as "takenAt"
    from unnest(${sql.val(basinIds)}::uuid[]) as wanted(id)
    cross join lateral (
      select visit.id, visit.basin_id from visit
      where visit.firm_id = current_firm() and visit.basin_id = wanted.id and visit.finished_at is not null
      order by visit.started_at desc offset ${skip} limit ${limit}
    ) as late
    join reading on reading.firm_id = current_firm() and reading.visit_id = late.id
      and reading.superseded_at is null and reading.used`.execute(scope);
  return rows.flatMap((row) => {
    const quantity = QUANTITY_NAMES.find((name) => name === row.quantity);
    return quantity ? [{ ...row, quantity }] : [];
  });
}

export interface LateDose {
  basinId: string;
  productId: string;
  grams: number;
  givenAt: Date;
  visitId: string;
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
    join dose on dose.firm_id = current_firm() and dose.visit_id = late.id
      and dose.superseded_at is null and dose.given_grams > 0
    order by dose.given_at desc`.execute(scope);
  return rows;
}

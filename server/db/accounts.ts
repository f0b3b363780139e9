import { sql } from "kysely";
import { type AccountDose, type AccountVisit, type CustomerPrices, USUAL_PRICES } from "#core";
import type { FirmScope } from "./connection";
import { anyOf } from "./prepared";
import { priceOfDose } from "./series";

/** What a month's accounts are made of: its visits, what went in, what customers pay. */

/** Finished visits that began in a month of the firm's calendar, the oldest first. @param month "2026-05" */
export async function accountVisits(
  scope: FirmScope,
  month: string,
  timeZone: string,
): Promise<AccountVisit[]> {
  const { rows } = await sql<AccountVisit>`
    select visit.id, to_char(visit.started_at at time zone ${timeZone}, 'YYYY-MM-DD') as day,
      site.id as "siteId", site.name as site, basin.name as basin
    from visit
    join basin on basin.firm_id = visit.firm_id and basin.id = visit.basin_id
    join site on site.firm_id = basin.firm_id and site.id = basin.site_id
    where visit.firm_id = current_firm() and visit.finished_at is not null
      and visit.started_at >= ((${month} || '-01')::date)::timestamp at time zone ${timeZone}
      and visit.started_at < ((${month} || '-01')::date + interval '1 month') at time zone ${timeZone}
    order by visit.started_at, visit.id`.execute(scope);
  return rows;
}

/** What went in at these visits, with what a kilogram cost on its day. */
export async function accountDoses(scope: FirmScope, visitIds: string[]): Promise<AccountDose[]> {
  if (visitIds.length === 0) return [];
  const { rows } = await sql<AccountDose>`
    select dose.visit_id as "visitId", product.id as "productId", product.name as product,
      dose.given_grams as grams, ${priceOfDose} as cost
    from dose
    join product on product.firm_id = dose.firm_id and product.id = dose.product_id
    where dose.firm_id = current_firm() and dose.visit_id = ${anyOf(visitIds)} and dose.superseded_at is null
      and dose.given_grams > 0
    order by dose.given_at, dose.id`.execute(scope);
  return rows;
}

/** What customers pay where that is not what everybody does, by site. */
export async function customerPrices(scope: FirmScope): Promise<Map<string, CustomerPrices>> {
  const rows = await scope
    .selectFrom("site")
    .select(["id", "prices"])
    .where("prices", "is not", null)
    .execute();
  return new Map(rows.map(({ id, prices }) => [id, prices as unknown as CustomerPrices]));
}

/** A site with what its customer pays; nothing where it is not this firm's. */
export async function sitePrices(
  scope: FirmScope,
  siteId: string,
): Promise<{ name: string; prices: CustomerPrices } | undefined> {
  const row = await scope
    .selectFrom("site")
    .select(["name", "prices"])
    .where("id", "=", siteId)
    .executeTakeFirst();
  return row && { name: row.name, prices: (row.prices as CustomerPrices | null) ?? USUAL_PRICES };
}

export async function setSitePrices(scope: FirmScope, siteId: string, prices: CustomerPrices): Promise<void> {
  const isUsual = prices.perVisit === null && Object.keys(prices.products).length === 0;
  await scope
    .updateTable("site")
    .set({ prices: isUsual ? null : JSON.stringify(prices) })
    .where("id", "=", siteId)
    .execute();
}
